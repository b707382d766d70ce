import { exactTransient, formulate, interpolate, type Mna, transient, uniformTimes, writeCsv } from '@voskel/core'
import { Option } from 'commander'
import { celsius, quantity, splitOutputs, usage, whole } from '../arguments.js'
import { emit, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

interface TranOptions {
  stop: number
  output?: string
  points: number
  reltol: number
  start: 'op' | 'zero'
  temperature: number
  out?: string
}

export const registerTran: Register = (program) => {
  program
    .command('tran')
    .description('response over time as CSV time,out,in on evenly spaced points, from error-controlled steps')
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption('--stop <time>', 'length of the run, s', quantity('s'))
    .option('--output <list>', 'nodes, a-b, i(R1), separated by commas (out,in)')
    .option('--points <n>', 'number of points', whole(2, 10_000_000), 1001)
    .option('--reltol <x>', 'accuracy relative to each peak', quantity(''), 1e-4)
    .addOption(
      new Option('--start <state>', 'operating point, or nothing stored').choices(['op', 'zero']).default('op'),
    )
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: TranOptions) => {
      const { source, circuit } = loadCircuit(file)
      const csv = within(source, () => {
        const mna = formulate(circuit, { temperature: options.temperature + 273.15 })
        for (const warning of mna.circuit.warnings) warn(source, warning)
        const outputs = options.output === undefined ? usualOutputs(mna) : splitOutputs(options.output)
        // A linear circuit's natural modes say the same exactly; a wanted tolerance below theirs is not worth steps.
        const exact = exactTransient(mna, { stop: options.stop, points: options.points, outputs, start: options.start })
        if (exact) return table(outputs, uniformTimes(options.stop, options.points), (k) => exact[k]!)
        const run = transient(mna, { stop: options.stop, outputs, reltol: options.reltol, start: options.start })
        const time = uniformTimes(options.stop, options.points)
        return table(outputs, time, (k) => interpolate(run, k, time))
      })
      emit(csv, options.out)
    })
}

function table(outputs: readonly string[], time: Float64Array, values: (k: number) => Float64Array): string {
  const columns: Record<string, Float64Array> = { time }
  outputs.forEach((name, k) => (columns[name.includes(',') ? `"${name}"` : name] = values(k)))
  return writeCsv(columns)
}

/** `out` and `in`, as far as the circuit has them. */
function usualOutputs(mna: Mna): string[] {
  const found = ['out', 'in'].filter((n) => mna.circuit.nodes.some((node) => node.toLowerCase() === n))
  if (found.length === 0)
    throw usage('The circuit has neither a net "out" nor a net "in".', 'Name the outputs with --output.')
  return found
}
