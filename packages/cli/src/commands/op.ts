import { doubtsOf, formulate, operatingPoint, operatingReport } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

export const registerOp: Register = (program) => {
  program
    .command('op')
    .description(
      'operating point: net voltages (V), currents into each part’s first pin (A), and what each device does',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { temperature: number; out?: string }) => {
      const { source, circuit } = loadCircuit(file)
      const report = within(source, () => {
        const mna = formulate(circuit, { temperature: options.temperature + 273.15 })
        const point = operatingPoint(mna)
        for (const warning of [...mna.circuit.warnings, ...doubtsOf(mna, point)]) warn(source, warning)
        return operatingReport(mna, point)
      })
      emitJson(report, options.out)
    })
}
