import {
  demandLimits,
  designOfSpec,
  idealOf,
  realize,
  responseTitle,
  signalDemand,
  VALUE_CHOICES,
  type ValueChoice,
  writeNetlist,
} from '@voskel/core'
import { Option } from 'commander'
import { emit, emitJson, loadSpec, note, warn, within } from '../io.js'
import type { Register } from './Command.js'

export const registerDesign: Register = (program) => {
  program
    .command('design')
    .description('the circuit of a specification, with values; input source V1, output node out')
    .argument('<SPEC>', 'specification JSON, or - for standard input')
    .addOption(new Option('--format <form>', 'design JSON or netlist').choices(['json', 'netlist']).default('json'))
    .addOption(new Option('--values <series>', 'exact, or preferred values').choices(VALUE_CHOICES).default('exact'))
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { format: string; values: ValueChoice; out?: string }) => {
      const { source, spec } = loadSpec(file)
      const { ideal, realized } = within(source, () => {
        const ideal = idealOf(spec)
        return { ideal, realized: realize(spec, options.values, ideal) }
      })
      const demand = within(source, () => signalDemand(spec, realized.circuit, ideal.transfer))
      for (const remark of [...(realized.remarks ?? []), ...(demand?.remarks ?? [])]) note(source, remark)
      const limits = [...(realized.limits ?? []), ...(demand ? demandLimits(demand) : [])]
      const name = responseTitle(spec, ideal)
      if (options.format === 'netlist') {
        const { text, losses } = writeNetlist({ ...realized.circuit, title: name })
        for (const loss of losses) warn(source, loss)
        emit(text, options.out)
      } else
        emitJson(
          {
            ...designOfSpec(name, spec, options.values, realized.circuit),
            ...(realized.inverting && { inverting: true }),
            ...(limits.length > 0 && { limits }),
          },
          options.out,
        )
    })
}
