import { acMeasures, polesAndZeros, stepMeasures } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, linearised, loadCircuit, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

export const registerMeasure: Register = (program) => {
  program
    .command('measure')
    .description(
      'numbers read off the frequency and step response of output over input, in Hz, dB, degrees, s, V; ' +
        'rolloffDbPerDecade is the slope towards DC (below) and infinity (above), rising positive',
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
        const { transfer } = polesAndZeros(linearised(loaded, study.temperature), study)
        return { ac: acMeasures(transfer), step: stepMeasures(transfer) }
      })
      emitJson(result, options.out)
    })
}
