import { formulate, sensitivity, smallSignal } from '@voskel/core'
import { celsius, quantities } from '../arguments.js'
import { emitJson, loadCircuit, within } from '../io.js'
import type { Register } from './Command.js'

interface SensitivityOptions {
  frequency: number[]
  input?: string
  output: string
  temperature: number
  out?: string
}

export const registerSensitivity: Register = (program) => {
  program
    .command('sensitivity')
    .description(
      'd ln|H|/d ln x and d arg H/d ln x (rad) of output over input for every R, L, C, K and controlled source',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption('--frequency <list>', 'frequencies, Hz, separated by commas', quantities('Hz'))
    .option('--input <source>', 'driving source (V1, or the only one)')
    .option('--output <quantity>', 'node, a-b, i(R1) or z(V1)', 'out')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: SensitivityOptions) => {
      const { source, circuit } = loadCircuit(file)
      const result = within(source, () =>
        sensitivity(
          smallSignal(formulate(circuit, { temperature: options.temperature + 273.15 })),
          options.frequency,
          options,
        ),
      )
      emitJson(result, options.out)
    })
}
