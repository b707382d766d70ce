import {
  AcAnalysis,
  adaptiveSweep,
  csvChunks,
  followedPhase,
  linearGrid,
  logarithmicGrid,
  magnitudesDb,
  maybeTransfer,
  naturalFrequenciesOf,
  phasesDeg,
  proposedRange,
  spacedGrid,
  type TransferFunction,
} from '@voskel/core'
import { celsius, quantities, quantityOrAuto, usage, whole } from '../arguments.js'
import { emit, linearised, loadCircuit, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

const MOST_POINTS = 10_000_000

interface AcOptions extends StudyOptions {
  from?: number | 'auto'
  to?: number | 'auto'
  frequencies?: number[]
  pointsPerDecade?: number
  points?: number
  linear?: boolean
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
    .option('--points <n>', 'number of points, logarithmically spaced, or evenly with --linear', whole(2, MOST_POINTS))
    .option('--linear', 'spaces --points evenly')
    .option(...INPUT)
    .option(
      OUTPUT[0],
      'node, a-b, i(R1), z(V1), z(node), z(a,b), p(R1), or such joined by + - * /, as out/i(V1) (as the design says; out)',
    )
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: AcOptions) => {
      const grid = askedGrid(options)
      const loaded = loadCircuit(file)
      const { input, output, temperature } = studied(loaded, options)
      const { sweep, phases, isPower } = within(loaded.source, () => {
        const mna = linearised(loaded, temperature)
        const auto = options.from === 'auto' || options.to === 'auto'
        // What has no roots of its own is looked for around those of the circuit itself.
        const transfer = maybeTransfer(mna, { input, output, effort: auto ? 'any' : 'small' })
        const [from, to] = endsOf(grid, transfer)
        const low = from > 0 ? from : to / 1e6
        const ac = new AcAnalysis(mna, { input, output, range: [2 * Math.PI * low, 2 * Math.PI * to] })
        const points = grid.points(from, to)
        const roots = () => (transfer ? [...transfer.poles, ...transfer.zeros] : naturalFrequenciesOf(mna, 'small'))
        const sweep = points ? ac.sweep(points) : adaptiveSweep(ac, from, to, roots())
        const phases = phasesDeg(sweep, transfer ?? followedPhase(ac, low))
        return { phases, sweep, isPower: ac.isPower }
      })
      const columns = {
        frequency: sweep.frequency,
        re: sweep.re,
        im: sweep.im,
        // A power has 10 dB a decade.
        magnitude_db: isPower ? magnitudesDb(sweep).map((db) => db / 2) : magnitudesDb(sweep),
        phase_deg: phases,
        group_delay_s: sweep.delay,
      }
      emit(csvChunks(columns), options.out)
    })
}

/** A grid as it is asked for. */
interface Grid {
  readonly from: number | 'auto'
  readonly to: number | 'auto'
  /** The points between two ends; null for the adaptive grid. */
  points(from: number, to: number): Float64Array | null
}

/** Judges the options before any work is done. @throws VoskelError `ARGUMENT` */
function askedGrid({ from, to, frequencies, pointsPerDecade, points, linear }: AcOptions): Grid {
  if (frequencies) {
    if (from !== undefined || to !== undefined || pointsPerDecade || points || linear)
      throw usage('--frequencies is a grid of its own.', 'Leave out --from, --to, --points and --linear.')
    const sorted = Float64Array.from(frequencies).sort()
    return { from: sorted[0]!, to: sorted.at(-1)!, points: () => sorted }
  }
  const missing = from === undefined ? '--from' : '--to'
  if (from === undefined || to === undefined)
    throw usage(`The option ${missing} is missing.`, 'Give --from and --to (a frequency, or auto), or --frequencies.')
  if (pointsPerDecade !== undefined && (points !== undefined || linear))
    throw usage('--points-per-decade does not go with --points or --linear.', 'Give one grid.')
  if (linear && points === undefined) throw usage('--linear needs a number of points.', 'Add --points N.')
  if (from === 0 && !linear)
    throw usage('A logarithmic grid cannot begin at 0 Hz.', 'Give --from above 0 Hz, or --linear --points N.')
  const grid = (low: number, high: number): Float64Array | null => {
    if (pointsPerDecade === undefined && points === undefined) return null
    if (linear) return linearGrid(low, high, points!)
    if (points !== undefined) return spacedGrid(low, high, points)
    if (pointsPerDecade! * Math.log10(high / low) > MOST_POINTS)
      throw usage(`This grid has more than ${MOST_POINTS} points.`, 'Give fewer points a decade.')
    return logarithmicGrid(low, high, pointsPerDecade!)
  }
  const asked = { from, to, points: grid }
  if (from !== 'auto' && to !== 'auto') ordered(from, to)
  return asked
}

/** Puts the ends in, where `auto` is what the poles and zeros propose. @throws VoskelError `ARGUMENT` */
function endsOf({ from, to }: Grid, transfer: TransferFunction | null): readonly [from: number, to: number] {
  if (from !== 'auto' && to !== 'auto') return [from, to]
  if (!transfer)
    throw usage('The poles of this output cannot be had, so that no range follows.', 'Give --from and --to in Hz.')
  const proposed = proposedRange(transfer)
  return ordered(from === 'auto' ? proposed.from : from, to === 'auto' ? proposed.to : to)
}

function ordered(from: number, to: number): readonly [from: number, to: number] {
  if (!(to > from)) throw usage(`--to (${to} Hz) must be above --from (${from} Hz).`, 'Exchange the two.')
  return [from, to]
}
