import { doubtsOf, formulate, operatingPoint, operatingReport, ZERO_CELSIUS } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, loadCircuit, warn, within } from '../io.js'
import { studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

export const registerOp: Register = (program) => {
  program
    .command('op')
    .description(
      'operating point: net voltages (V), currents into each part’s first pin (A), and what each device does',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: StudyOptions & { out?: string }) => {
      const loaded = loadCircuit(file)
      const { source, circuit } = loaded
      const report = within(source, () => {
        const mna = formulate(circuit, { temperature: studied(loaded, options).temperature + ZERO_CELSIUS })
        const point = operatingPoint(mna)
        for (const warning of [...mna.circuit.warnings, ...doubtsOf(mna, point)]) warn(source, warning)
        return operatingReport(mna, point)
      })
      emitJson(report, options.out)
    })
}
