import { logarithmicGrid, naturalFrequenciesOf, NoiseAnalysis, writeCsv } from '@voskel/core'
import { celsius, quantity, usage, whole } from '../arguments.js'
import { emit, linearised, loadCircuit, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface NoiseOptions extends StudyOptions {
  from: number
  to: number
  pointsPerDecade: number
  out?: string
}

export const registerNoise: Register = (program) => {
  program
    .command('noise')
    .description('noise densities as CSV frequency,output_v_per_rthz,input_v_per_rthz; the total on standard error')
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption('--from <frequency>', 'lowest frequency, Hz', quantity('Hz'))
    .requiredOption('--to <frequency>', 'highest frequency, Hz', quantity('Hz'))
    .option('--points-per-decade <n>', 'logarithmic grid', whole(1, 100_000), 20)
    .option(INPUT[0], 'source that the noise is referred to (as the design says; V1, or the only one)')
    .option(OUTPUT[0], 'node, a-b or i(R1) (as the design says; out)')
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: NoiseOptions) => {
      const { from, to } = options
      if (!(to > from)) throw usage(`--to (${to} Hz) must be above --from (${from} Hz).`, 'Exchange the two.')
      const loaded = loadCircuit(file)
      const { input, output, temperature } = studied(loaded, options)
      const { csv, total } = within(loaded.source, () => {
        const mna = linearised(loaded, temperature)
        const noise = new NoiseAnalysis(mna, { input, output, range: [from, to] })
        const frequency = logarithmicGrid(from, to, options.pointsPerDecade)
        const points = Array.from(frequency, (f) => noise.at(f))
        const poles = naturalFrequenciesOf(mna, 'small')
        const marks = poles.map((p) => Math.hypot(p.re, p.im) / (2 * Math.PI))
        const columns = {
          frequency,
          output_v_per_rthz: points.map((p) => Math.sqrt(p.output)),
          input_v_per_rthz: points.map((p) => Math.sqrt(p.output / p.gainSquared)),
        }
        return { csv: writeCsv(columns), total: Math.sqrt(noise.power(from, to, marks)) }
      })
      emit(csv, options.out)
      process.stderr.write(`total output V rms: ${total}\n`)
    })
}
