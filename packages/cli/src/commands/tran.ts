import {
  type Circuit,
  csvChunks,
  doubtsOf,
  exactTransient,
  formatQuantity,
  formulate,
  interpolate,
  type Mna,
  operatingPoint,
  polesAndZeros,
  proposedStop,
  readTable,
  type RunStart,
  smallSignal,
  startState,
  StepResponse,
  transient,
  uniformTimes,
  ZERO_CELSIUS,
} from '@voskel/core'
import { Option } from 'commander'
import { nowAt } from '../atWork.js'
import { celsius, quantity, quantityOrAuto, splitOutputs, usage, whole } from '../arguments.js'
import { emit, loadCircuit, readSource, type Source, warn, within } from '../io.js'
import { INPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface TranOptions extends StudyOptions {
  stop: number | 'auto'
  points: number
  reltol: number
  start?: RunStart
  table: string[]
  response?: 'step' | 'impulse'
  out?: string
}

export const registerTran: Register = (program) => {
  program
    .command('tran')
    .description('response over time as CSV time,out,in on evenly spaced points, from error-controlled steps')
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption(
      '--stop <time>',
      'length of the run, s; auto: until all has settled and shown itself',
      quantityOrAuto('s'),
    )
    .option('--output <list>', 'nodes, a-b, i(R1), p(R1), separated by commas (out,in)')
    .option('--points <n>', 'number of points', whole(2, 10_000_000), 1001)
    .option('--reltol <x>', 'accuracy of each output relative to its swing', quantity(''), 1e-4)
    .addOption(
      new Option(
        '--start <state>',
        'operating point, nothing stored, or settled: after any number of periods (as the design says; op)',
      ).choices(['op', 'zero', 'settled']),
    )
    .option(
      '--table <source=file[:column]>',
      'a waveform for a source from a CSV table: time in s, then values (may be repeated)',
      (text: string, before: string[]) => [...before, text],
      [],
    )
    .addOption(
      new Option(
        '--response <kind>',
        'output over input to a unit step or impulse, exactly, whatever the sources do',
      ).choices(['step', 'impulse']),
    )
    .option(INPUT[0], 'driving source of --response (as the design says; V1, or the only one)')
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: TranOptions) => {
      const loaded = loadCircuit(file)
      const { source } = loaded
      const circuit = options.table.reduce(withTable, loaded.circuit)
      const { input, temperature } = studied(loaded, options)
      const { study } = loaded.design ?? {}
      const start = options.start ?? study?.start ?? 'op'
      const columns = within(source, () => {
        const mna = formulate(circuit, { temperature: temperature + ZERO_CELSIUS })
        const doubts = start === 'op' && mna.devices.length > 0 ? doubtsOf(mna, operatingPoint(mna)) : []
        for (const warning of [...mna.circuit.warnings, ...doubts]) warn(source, warning)
        const asked = options.output ?? study?.output
        const outputs = asked === undefined ? usualOutputs(mna) : splitOutputs(asked)
        const stop = options.stop === 'auto' ? proposed(mna, outputs[0]!, source) : options.stop
        return options.response
          ? naturalResponse(mna, outputs[0]!, stop, { ...options, ...(input !== undefined && { input }) }, source)
          : overTime(mna, outputs, stop, { ...options, start })
      })
      emit(csvChunks(columns), options.out)
    })
}

type Columns = Record<string, Float64Array>

function overTime(
  mna: Mna,
  outputs: readonly string[],
  stop: number,
  options: TranOptions & { start: RunStart },
): Columns {
  const { points, reltol, start } = options
  const time = uniformTimes(stop, points)
  // A linear circuit's natural modes say the same exactly; a wanted tolerance below theirs is not worth steps.
  const exact = exactTransient(mna, { stop, points, outputs, start })
  const progress = (part: number) => {
    nowAt(`tran at ${formatQuantity(part * stop, 's', 3)} of ${formatQuantity(stop, 's', 3)}`)
    return false
  }
  const run = exact ? null : transient(mna, { stop, outputs, reltol, start: startState(mna, start), progress })
  const columns: Columns = { time }
  outputs.forEach((output, k) => (columns[output] = exact ? exact[k]! : interpolate(run!, k, time)))
  return columns
}

/** The linear circuit's response to a unit step or impulse. */
function naturalResponse(mna: Mna, output: string, stop: number, options: TranOptions, source: Source): Columns {
  const { transfer } = polesAndZeros(smallSignal(mna), { input: options.input, output })
  if (transfer.poles.some((p) => p.re >= 0))
    throw usage('The circuit is not stable: its response does not settle.', 'Run the transient without --response.')
  if (transfer.zeros.length > transfer.poles.length)
    throw usage('The output differentiates the input: its step response is an impulse.', 'Ask for another output.')
  const response = new StepResponse(transfer)
  const { points } = options
  const time = uniformTimes(stop, points)
  if (options.response === 'step') return { time, [output]: response.sampled(stop, points) }
  if (response.initial !== 0) warn(source, `the impulse response also holds a Dirac pulse of ${response.initial} at 0.`)
  return { time, [output]: response.impulse(stop, points) }
}

function proposed(mna: Mna, output: string, source: Source): number {
  const stop = proposedStop(mna, output)
  if (stop === null)
    throw usage('Nothing here says how long to run: no pole, and no source that moves.', 'Give --stop, such as 1m.')
  warn(source, `runs until ${stop} s.`)
  return stop
}

/** `V1=signal.csv` or `V1=signal.csv:column` */
function withTable(circuit: Circuit, text: string): Circuit {
  const found = /^([^=]+)=(.+?)(?::([^:/\\]+))?$/.exec(text)
  if (!found) throw usage(`--table ${text} is not understood.`, 'Write --table V1=signal.csv or V1=signal.csv:column.')
  const [, name, file, column] = found
  const table = readSource(file!)
  const points = within(table, () => {
    const read = readTable(table.text, { column })
    const back = read.findIndex(([t], k) => k > 0 && t < read[k - 1]![0])
    if (back >= 0) throw usage(`The times of ${file} go back at ${read[back]![0]} s.`, 'Sort the rows by time.')
    return read
  })
  const place = circuit.parts.findIndex((p) => p.id.toUpperCase() === name!.trim().toUpperCase())
  const part = circuit.parts[place]
  if (!part || !['voltage-source', 'current-source'].includes(part.kind))
    throw usage(`There is no source "${name}" in this circuit.`, 'Name a V or I source before the "=".')
  return {
    ...circuit,
    parts: circuit.parts.with(place, { ...part, waveform: { kind: 'piecewise-linear', points } }),
  }
}

/** `out` and `in`, as far as the circuit has them. */
function usualOutputs(mna: Mna): string[] {
  const found = ['out', 'in'].filter((n) => mna.circuit.nodes.some((node) => node.toLowerCase() === n))
  if (found.length === 0)
    throw usage('The circuit has neither a net "out" nor a net "in".', 'Name the outputs with --output.')
  return found
}
