import {
  AcAnalysis,
  adaptiveSweep,
  formulate,
  linearGrid,
  logarithmicGrid,
  magnitudesDb,
  maybeTransfer,
  phasesDeg,
  writeCsv,
  smallSignal,
} from '@voskel/core'
import { celsius, quantity, usage, whole } from '../arguments.js'
import { emit, InputError, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

const MOST_POINTS = 10_000_000

interface AcOptions {
  from: number
  to: number
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
    .requiredOption('--from <frequency>', 'lowest frequency, Hz', quantity('Hz', 'nonnegative'))
    .requiredOption('--to <frequency>', 'highest frequency, Hz', quantity('Hz'))
    .option('--points-per-decade <n>', 'logarithmic grid of round(n·log10(to/from)) + 1 points', whole(1, 1_000_000))
    .option('--points <n>', 'number of points, with --linear', whole(2, MOST_POINTS))
    .option('--linear', 'evenly spaced grid')
    .option('--input <source>', 'driving source (V1, or the only one)')
    .option('--output <quantity>', 'node, a-b, i(R1) or z(V1)', 'out')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: AcOptions) => {
      checkGrid(options)
      const { source, circuit } = loadCircuit(file)
      const { sweep, transfer } = within(source, () => {
        const mna = smallSignal(formulate(circuit, { temperature: options.temperature + 273.15 }))
        for (const warning of mna.circuit.warnings) warn(source, warning)
        const { from, to, input, output } = options
        const low = from > 0 ? from : to / 1e6
        const ac = new AcAnalysis(mna, { input, output, range: [2 * Math.PI * low, 2 * Math.PI * to] })
        const transfer = maybeTransfer(mna, { input, output })
        const roots = transfer ? [...transfer.poles, ...transfer.zeros] : []
        return {
          transfer,
          sweep:
            options.linear || options.pointsPerDecade ? ac.sweep(grid(options)) : adaptiveSweep(ac, from, to, roots),
        }
      })
      const columns = {
        frequency: sweep.frequency,
        re: sweep.re,
        im: sweep.im,
        magnitude_db: magnitudesDb(sweep),
        phase_deg: phasesDeg(sweep, transfer ?? undefined),
        group_delay_s: sweep.delay,
      }
      emit(writeCsv(columns), options.out)
    })
}

function grid({ from, to, points, pointsPerDecade }: AcOptions): Float64Array {
  return pointsPerDecade === undefined ? linearGrid(from, to, points!) : logarithmicGrid(from, to, pointsPerDecade)
}

function checkGrid({ from, to, pointsPerDecade, points, linear }: AcOptions): void {
  const refuse = (problem: string, fix: string) => {
    throw new InputError(usage(problem, fix), null)
  }
  if (!(to > from))
    refuse(`--to (${to} Hz) must be above --from (${from} Hz).`, 'Exchange the two, or give a higher --to.')
  if (from === 0 && !linear)
    refuse('A logarithmic grid cannot begin at 0 Hz.', 'Give --from above 0 Hz, or --linear --points N.')
  if (pointsPerDecade !== undefined && (points !== undefined || linear)) {
    refuse('--points-per-decade does not go with --points or --linear.', 'Give one grid.')
  }
  if (linear !== (points !== undefined || undefined))
    refuse('--points and --linear go together.', 'Give both, or --points-per-decade N.')
  if (pointsPerDecade !== undefined && pointsPerDecade * Math.log10(to / from) > MOST_POINTS) {
    refuse(`This grid has more than ${MOST_POINTS} points.`, 'Give fewer points a decade.')
  }
}
