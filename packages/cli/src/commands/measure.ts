import { acMeasures, polesAndZeros, stepMeasures } from '@voskel/core'
import { celsius } from '../arguments.js'
import { emitJson, linearised, loadCircuit, within } from '../io.js'
import type { Register } from './Command.js'

export const registerMeasure: Register = (program) => {
  program
    .command('measure')
    .description(
      'numbers read off the frequency and step response of output over input, in Hz, dB, degrees, s, V; ' +
        'rolloffDbPerDecade is the slope towards DC (below) and infinity (above), rising positive',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .option('--input <source>', 'driving source (V1, or the only one)')
    .option('--output <quantity>', 'node, a-b, i(R1) or z(V1)', 'out')
    .option('--temperature <degrees>', 'temperature of devices, °C', celsius, 27)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: { input?: string; output: string; temperature: number; out?: string }) => {
      const { source, circuit } = loadCircuit(file)
      const result = within(source, () => {
        const { transfer } = polesAndZeros(linearised({ source, circuit }, options.temperature), options)
        return { ac: acMeasures(transfer), step: stepMeasures(transfer) }
      })
      emitJson(result, options.out)
    })
}
