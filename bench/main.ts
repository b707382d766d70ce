import { designFigures } from './design.js'
import { acFigures, engineFigures } from './engine.js'
import { interfaceFigures } from './interface.js'
import { print } from './report.js'

const root = process.argv[2]!
print('AC analysis', acFigures())
print('Engine, against general-purpose libraries (Python)', engineFigures(root))
print('Design', designFigures(root))
print('Interface (Chromium)', await interfaceFigures(root))
