import { arranged, drawingJson, drawingOf, drawingSvg, partTexts } from '@voskel/core'
import { Option } from 'commander'
import { emit, emitJson, loadCircuit, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions } from '../study.js'
import type { Register } from './Command.js'

export const registerDraw: Register = (program) => {
  program
    .command('draw')
    .description("a circuit's drawing, laid out automatically where it has none, in grid units, or as a picture")
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .addOption(new Option('--format <form>', 'the form to write').choices(['json', 'svg']).default('json'))
    .option(...INPUT)
    .option(...OUTPUT)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: StudyOptions & { format: string; out?: string }) => {
      const loaded = loadCircuit(file)
      const { source, circuit } = loaded
      const textOf = partTexts(circuit)
      const hasPlaces = circuit.parts.some((p) => p.at)
      const drawing = within(source, () =>
        drawingOf(hasPlaces ? circuit : arranged(circuit, textOf, studied(loaded, options)), textOf),
      )
      if (options.format === 'svg') emit(drawingSvg(drawing, textOf), options.out)
      else emitJson(drawingJson(drawing, textOf), options.out)
    })
}
