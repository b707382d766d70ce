import { logarithmicGrid, scattering, writeTouchstone } from '@voskel/core'
import { celsius, quantity, usage, whole } from '../arguments.js'
import { emit, linearised, loadCircuit, within } from '../io.js'
import { INPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface ScatteringOptions extends StudyOptions {
  ports: string
  from: number
  to: number
  pointsPerDecade: number
  out?: string
}

export const registerScattering: Register = (program) => {
  program
    .command('scattering')
    .description(
      'scattering parameters of what lies between the source’s resistor and the load’s, each port referred to its own, as ' +
        'Touchstone (RI, Hz; 1.1, or 2.0 where the references differ)',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption('--ports <RS,RL>', 'the resistors of source and load')
    .requiredOption('--from <frequency>', 'lowest frequency, Hz', quantity('Hz'))
    .requiredOption('--to <frequency>', 'highest frequency, Hz', quantity('Hz'))
    .option('--points-per-decade <n>', 'logarithmic grid', whole(1, 100_000), 20)
    .option(...INPUT)
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: ScatteringOptions) => {
      const { from, to } = options
      if (!(to > from)) throw usage(`--to (${to} Hz) must be above --from (${from} Hz).`, 'Exchange the two.')
      const ports = options.ports.split(',').map((name) => name.trim())
      if (ports.length !== 2 || ports.includes(''))
        throw usage(
          `--ports (${options.ports}) names ${ports.filter(Boolean).length} resistors.`,
          'Give two, as RS,RL.',
        )
      const loaded = loadCircuit(file)
      const { input, temperature } = studied(loaded, options)
      const text = within(loaded.source, () => {
        const frequency = logarithmicGrid(from, to, options.pointsPerDecade)
        const found = scattering(linearised(loaded, temperature), [ports[0]!, ports[1]!], frequency, input)
        return writeTouchstone(frequency, found, `S21 from ${ports[0]} to ${ports[1]}`)
      })
      emit(text, options.out)
    })
}
