import { askedSpec, parseSpec, readDesign, realize, verify, VoskelError } from '@voskel/core'
import { circuitOf, emitJson, isSpec, linearised, readSource, within } from '../io.js'
import { NOT_MET, type Register } from './Command.js'

export const registerVerify: Register = (program) => {
  program
    .command('verify')
    .description(
      'the ledger: every requirement with limit, achieved, margin, where, and whether it is met; exit 1 if one is not',
    )
    .argument('<DESIGN>', 'design JSON, or - for standard input')
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { out?: string }) => {
      const source = readSource(file)
      const verdicts = within(source, () => {
        if (!source.json) {
          throw new VoskelError('ARGUMENT', {
            problem: 'A netlist says nothing of what is required.',
            fix: 'Give a design file with its specification.',
          })
        }
        if (isSpec(source.json.value)) {
          const spec = parseSpec(source.json.value)
          return verify(spec, realize(spec).circuit)
        }
        const design = readDesign(source.json.value)
        if (!design.specification && !design.requirements) {
          throw new VoskelError(
            'DESIGN_INVALID',
            { problem: 'it holds neither a specification nor requirements, so nothing is required' },
            { path: '' },
          )
        }
        const circuit = circuitOf(source, design)
        // Said for its warnings: on which models the verdicts rest.
        linearised({ source, circuit }, design.study?.temperature ?? 27)
        return verify(askedSpec(design), circuit, design.requirements, design.study)
      })
      emitJson(verdicts, options.out)
      if (verdicts.some((v) => !v.met)) process.exitCode = NOT_MET
    })
}
