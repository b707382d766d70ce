import { acFigures } from './ac.js'
import { interfaceFigures } from './interface.js'
import { print } from './report.js'

const root = process.argv[2]!
print('AC analysis', acFigures())
print('Interface (Chromium)', await interfaceFigures(root))
