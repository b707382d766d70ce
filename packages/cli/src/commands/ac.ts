import {
  acResponse,
  adaptiveSweep,
  csvChunks,
  formulate,
  linearGrid,
  logarithmicGrid,
  magnitudesDb,
  maybeTransfer,
  naturalFrequenciesOf,
  phasesDeg,
  proposedRange,
  smallSignal,
  type TransferFunction,
} from '@voskel/core'
import { celsius, quantities, quantityOrAuto, usage, whole } from '../arguments.js'
import { emit, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

const MOST_POINTS = 10_000_000

interface AcOptions {
  from?: number | 'auto'
  to?: number | 'auto'
  frequencies?: number[]
  pointsPerDecade?: number
  points?: number
  linear?: boolean
  input?: string
  output: string
  temperature: number
  out?: string
}

export const registerAc: Register = (program) => {
  program
    .command('ac')
    .description(
      'frequency response: output over the input source, as CSV frequency,re,im,magnitude_db,phase_deg,group_delay_s',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option(
      '--from <frequency>',
      'lowest frequency, Hz; auto: from the poles and zeros',
      quantityOrAuto('Hz', 'nonnegative'),
    )
    .option('--to <frequency>', 'highest frequency, Hz; auto: from the poles and zeros', quantityOrAuto('Hz'))
    .option('--frequencies <list>', 'instead, these frequencies, Hz, separated by commas', quantities('Hz'))
    .option('--points-per-decade <n>', 'logarithmic grid of round(n·log10(to/from)) + 1 points', whole(1, 1_000_000))
    .option('--points <n>', 'number of points, with --linear', whole(2, MOST_POINTS))
    .option('--linear', 'evenly spaced grid')
    .option('--input <source>', 'driving source (V1, or the only one)')
    .option('--output <quantity>', 'node, a-b, i(R1), z(V1), p(R1), or a quotient such as out/i(V1)', 'out')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: AcOptions) => {
      const { source, circuit } = loadCircuit(file)
      const { sweep, transfer } = within(source, () => {
        const mna = smallSignal(formulate(circuit, { temperature: options.temperature + 273.15 }))
        for (const warning of mna.circuit.warnings) warn(source, warning)
        const { input, output } = options
        // Quotients and powers are looked for around the roots of the circuit itself.
        const simple = !/^p\(|\//i.test(output)
        const transfer = simple ? maybeTransfer(mna, { input, output }) : null
        const grid = gridOf(options, transfer)
        const low = grid.from > 0 ? grid.from : grid.to / 1e6
        const ac = acResponse(mna, { input, output, range: [2 * Math.PI * low, 2 * Math.PI * grid.to] })
        const roots = transfer ? [...transfer.poles, ...transfer.zeros] : naturalFrequenciesOf(mna)
        return { transfer, sweep: grid.points ? ac.sweep(grid.points) : adaptiveSweep(ac, grid.from, grid.to, roots) }
      })
      const columns = {
        frequency: sweep.frequency,
        re: sweep.re,
        im: sweep.im,
        // A power has 10 dB a decade.
        magnitude_db: /^p\(/i.test(options.output) ? magnitudesDb(sweep).map((db) => db / 2) : magnitudesDb(sweep),
        phase_deg: phasesDeg(sweep, transfer ?? undefined),
        group_delay_s: sweep.delay,
      }
      emit(csvChunks(columns), options.out)
    })
}

interface Grid {
  readonly from: number
  readonly to: number
  /** Absent for the adaptive grid. */
  readonly points?: Float64Array
}

/** @throws VoskelError `ARGUMENT` */
function gridOf(options: AcOptions, transfer: TransferFunction | null): Grid {
  const { frequencies, pointsPerDecade, points, linear } = options
  if (frequencies) {
    if (options.from !== undefined || options.to !== undefined || pointsPerDecade || points || linear)
      throw usage('--frequencies is a grid of its own.', 'Leave out --from, --to, --points and --linear.')
    const sorted = Float64Array.from(frequencies).sort()
    return { from: sorted[0]!, to: sorted.at(-1)!, points: sorted }
  }
  const { from, to } = rangeOf(options, transfer)
  if (!(to > from))
    throw usage(`--to (${to} Hz) must be above --from (${from} Hz).`, 'Exchange the two, or give a higher --to.')
  if (from === 0 && !linear)
    throw usage('A logarithmic grid cannot begin at 0 Hz.', 'Give --from above 0 Hz, or --linear --points N.')
  if (pointsPerDecade !== undefined && (points !== undefined || linear))
    throw usage('--points-per-decade does not go with --points or --linear.', 'Give one grid.')
  if (linear !== (points !== undefined || undefined))
    throw usage('--points and --linear go together.', 'Give both, or --points-per-decade N.')
  if (pointsPerDecade !== undefined && pointsPerDecade * Math.log10(to / from) > MOST_POINTS)
    throw usage(`This grid has more than ${MOST_POINTS} points.`, 'Give fewer points a decade.')
  if (pointsPerDecade !== undefined) return { from, to, points: logarithmicGrid(from, to, pointsPerDecade) }
  return { from, to, ...(linear && { points: linearGrid(from, to, points!) }) }
}

/** `auto` is what the poles and zeros propose. */
function rangeOf({ from, to }: AcOptions, transfer: TransferFunction | null): { from: number; to: number } {
  const missing = from === undefined ? '--from' : to === undefined ? '--to' : null
  if (from === undefined || to === undefined)
    throw usage(`The option ${missing} is missing.`, 'Give --from and --to (a frequency, or auto), or --frequencies.')
  if (from !== 'auto' && to !== 'auto') return { from, to }
  if (!transfer)
    throw usage('The poles of this output cannot be had, so that no range follows.', 'Give --from and --to in Hz.')
  const proposed = proposedRange(transfer)
  return { from: from === 'auto' ? proposed.from : from, to: to === 'auto' ? proposed.to : to }
}
