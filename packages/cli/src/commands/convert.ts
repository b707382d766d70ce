import { designOfCircuit, writeNetlist } from '@voskel/core'
import { Option } from 'commander'
import { emit, emitJson, loadCircuit, warn, within } from '../io.js'
import type { Register } from './Command.js'

export const registerConvert: Register = (program) => {
  program
    .command('convert')
    .description('the same circuit as netlist or as design JSON')
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .addOption(new Option('--format <form>', 'the form to write').choices(['netlist', 'json']).makeOptionMandatory())
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { format: string; out?: string }) => {
      const { source, circuit, analyses, design } = loadCircuit(file)
      if (options.format === 'netlist') {
        const { text, losses } = within(source, () =>
          writeNetlist({ ...circuit, title: design?.name ?? circuit.title }, analyses),
        )
        for (const loss of losses) warn(source, loss)
        emit(text, options.out)
      } else emitJson(design ?? designOfCircuit(circuit, analyses), options.out)
    })
}
