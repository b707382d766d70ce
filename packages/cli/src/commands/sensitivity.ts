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
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface SensitivityOptions extends StudyOptions {
  frequency: number[]
  poles?: boolean
  measures?: boolean
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
    .option(...INPUT)
    .option(...OUTPUT)
    .option('--poles', 'also d ln w0/d ln x and d ln Q/d ln x of every pole')
    .option('--measures', 'also x·dm/dx of every number that "measure" prints')
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: SensitivityOptions) => {
      const loaded = loadCircuit(file)
      const { source, circuit } = loaded
      const study = studied(loaded, options)
      const result = within(source, () => {
        const mna = linearised(loaded, study.temperature)
        const { frequency, components } = sensitivity(mna, options.frequency, study)
        const parameters = sensitiveParameters(circuit, mna)
        return {
          frequency,
          components,
          ...(parameters.length > 0 && {
            parameters: sensitivity(mna, options.frequency, study, parameters).components,
          }),
          ...(options.poles && { poles: ofPoles(circuit, mna, study) }),
          ...(options.measures && { measures: ofMeasures(mna, study, (text) => warn(source, text)) }),
        }
      })
      emitJson(result, options.out)
    })
}

/** One line a pole with Im ≥ 0; its conjugate moves with it. */
function ofPoles(circuit: Circuit, mna: Mna, study: StudyOptions) {
  const { transfer, hidden } = polesAndZeros(mna, study)
  const upper = transfer.poles.filter((p) => p.im >= 0)
  const to = [...sensitiveParts(mna), ...sensitiveParameters(circuit, mna)]
  return poleSensitivities(mna, upper, [...transfer.poles, ...hidden], to).map((found, k) => ({
    pole: [upper[k]!.re, upper[k]!.im],
    ...(found && { w0: found.w0, q: found.q, components: found.components }),
  }))
}

/** Every measure that is one number, by part; null where it has no slope, which is said where the reason is not plain. */
function ofMeasures(mna: Mna, study: StudyOptions, say: (text: string) => void) {
  const slopes = measureSensitivities(mna.circuit, (circuit) => {
    const { transfer } = polesAndZeros(smallSignal(formulate(circuit, { temperature: mna.temperature })), study)
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
