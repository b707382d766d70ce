import { activeFigures } from './active.js'
import { dataFigures } from './data.js'
import { designFigures } from './design.js'
import { drawingFigures } from './drawing.js'
import { acFigures, engineFigures, growthFigures } from './engine.js'
import { editorFigures } from './editor.js'
import { fitFigures } from './fit.js'
import { interfaceFigures } from './interface.js'
import { type Figure, print } from './report.js'

const [, , root = '', only] = process.argv

/** What is measured, by the words that ask for one part alone: `npm run bench -- interface`. */
const parts: Record<string, () => Promise<[title: string, figures: Figure[]][]>> = {
  engine: async () => [
    ['AC analysis', acFigures()],
    ['How cost grows', growthFigures()],
    ['Engine, against general-purpose libraries (Python)', engineFigures(root)],
  ],
  design: async () => [['Design', designFigures(root)]],
  active: async () => [['Active circuits', activeFigures()]],
  fit: async () => [
    ['Measured data', fitFigures(root)],
    ['Measured data (Chromium)', await dataFigures(root)],
  ],
  drawing: async () => [['Drawing a netlist', drawingFigures()]],
  interface: async () => [['Interface (Chromium)', await interfaceFigures(root)]],
  editor: async () => [['The sheet (Chromium)', await editorFigures(root)]],
}

for (const [name, measured] of Object.entries(parts)) {
  if (only !== undefined && only !== name) continue
  for (const [title, figures] of await measured()) print(title, figures)
}
