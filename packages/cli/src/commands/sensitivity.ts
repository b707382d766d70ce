import {
  acMeasures,
  type Circuit,
  formulate,
  measureSensitivities,
  type Mna,
  poleSensitivities,
  polesAndZeros,
  sensitiveParameters,
  sensitiveParts,
  sensitivity,
  smallSignal,
  stepMeasures,
} from '@voskel/core'
import { celsius, quantities } from '../arguments.js'
import { emitJson, linearised, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

interface SensitivityOptions {
  frequency: number[]
  input?: string
  output: string
  poles?: boolean
  measures?: boolean
  temperature: number
  out?: string
}

export const registerSensitivity: Register = (program) => {
  program
    .command('sensitivity')
    .description(
      'd ln|H|/d ln x and d arg H/d ln x (rad) of output over input for every R, L, C, K and controlled source, and for ' +
        'every parameter that is a plain number',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption('--frequency <list>', 'frequencies, Hz, separated by commas', quantities('Hz'))
    .option('--input <source>', 'driving source (V1, or the only one)')
    .option('--output <quantity>', 'node, a-b, i(R1) or z(V1)', 'out')
    .option('--poles', 'also d ln w0/d ln x and d ln Q/d ln x of every pole')
    .option('--measures', 'also x·dm/dx of every number that "measure" prints')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: SensitivityOptions) => {
      const { source, circuit } = loadCircuit(file)
      const result = within(source, () => {
        const mna = linearised({ source, circuit }, options.temperature)
        const { frequency, components } = sensitivity(mna, options.frequency, options)
        const parameters = sensitiveParameters(circuit, mna)
        return {
          frequency,
          components,
          ...(parameters.length > 0 && {
            parameters: sensitivity(mna, options.frequency, options, parameters).components,
          }),
          ...(options.poles && { poles: ofPoles(circuit, mna, options) }),
          ...(options.measures && { measures: ofMeasures(mna, options, (text) => warn(source, text)) }),
        }
      })
      emitJson(result, options.out)
    })
}

/** One line a pole with Im ≥ 0; its conjugate moves with it. */
function ofPoles(circuit: Circuit, mna: Mna, options: SensitivityOptions) {
  const { transfer, hidden } = polesAndZeros(mna, options)
  const upper = transfer.poles.filter((p) => p.im >= 0)
  const to = [...sensitiveParts(mna), ...sensitiveParameters(circuit, mna)]
  return poleSensitivities(mna, upper, [...transfer.poles, ...hidden], to).map((found, k) => ({
    pole: [upper[k]!.re, upper[k]!.im],
    ...(found && { w0: found.w0, q: found.q, components: found.components }),
  }))
}

/** Every measure that is one number, by part; null where it has no slope, which is said where the reason is not plain. */
function ofMeasures(mna: Mna, options: SensitivityOptions, say: (text: string) => void) {
  const slopes = measureSensitivities(mna.circuit, (circuit) => {
    const { transfer } = polesAndZeros(smallSignal(formulate(circuit, { temperature: mna.temperature })), options)
    const ac = acMeasures(transfer)
    const found: Record<string, number | null> = {}
    for (const [id, value] of Object.entries({ ...ac, ...stepMeasures(transfer) })) {
      if (value === null || typeof value === 'number') found[id] = value
    }
    ac.cutoffs.forEach((f, k) => (found[`cutoff${k + 1}`] = f))
    return found
  })
  return Object.fromEntries(
    Object.entries(slopes).map(([part, bySlope]) => {
      const values = Object.entries(bySlope).map(([id, slope]) => {
        if (slope.value === null && slope.reason !== 'not there') {
          say(`${part}: "${id}" ${slope.reason} at this value and has no slope.`)
        } else if (slope.value !== null && slope.side !== 'both') {
          say(`${part}: "${id}" jumps close to this value; its slope is that ${slope.side} it.`)
        }
        return [id, slope.value]
      })
      return [part, Object.fromEntries(values)]
    }),
  )
}
