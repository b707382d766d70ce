import { partialFractions, polesAndZeros } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, linearised, loadCircuit, warn, within } from '../io.js'
import { gainOf, pairs } from './approximate.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface PolesOptions extends StudyOptions {
  residues?: boolean
  out?: string
}

export const registerPoles: Register = (program) => {
  program
    .command('poles')
    .description('poles, zeros and gain of output over input, rad/s; what cancels in this transfer stands in "hidden"')
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option(...INPUT)
    .option(...OUTPUT)
    .option(
      '--residues',
      'also the residue at every pole and the direct part, of H(s) = direct + sum residue/(s - pole)',
    )
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: PolesOptions) => {
      const loaded = loadCircuit(file)
      const { source } = loaded
      const study = studied(loaded, options)
      const { transfer, hidden } = within(source, () => polesAndZeros(linearised(loaded, study.temperature), study))
      const fractions = options.residues ? partialFractions(transfer) : null
      if (options.residues && !fractions)
        warn(source, 'there are no simple residues: a multiple pole, or more zeros than poles.')
      emitJson(
        {
          poles: pairs(transfer.poles),
          zeros: pairs(transfer.zeros),
          ...gainOf(transfer),
          hidden: pairs(hidden),
          ...(options.residues && {
            residues: fractions && pairs(fractions.residues),
            direct: fractions?.direct ?? null,
          }),
        },
        options.out,
      )
    })
}
