import { polesAndZeros, recognise, roundingOf } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, linearised, loadCircuit, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

export const registerRecognise: Register = (program) => {
  program
    .command('recognise')
    .description(
      'what a circuit is, from its poles and zeros: kind of response, order, approximation (null where it is none, or of ' +
        'order 1, where all are the same), cutoffs in Hz, Q, gain in dB',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option(...INPUT)
    .option(...OUTPUT)
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: StudyOptions & { out?: string }) => {
      const loaded = loadCircuit(file)
      const study = studied(loaded, options)
      const result = within(loaded.source, () => {
        const equations = linearised(loaded, study.temperature)
        return recognise(polesAndZeros(equations, study).transfer, roundingOf(equations, study))
      })
      const { response, order, approximation, cutoffs, q, gainDb } = result
      emitJson({ response, order, approximation, cutoffs, q, gainDb }, options.out)
    })
}
