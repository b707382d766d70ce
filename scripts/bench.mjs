/** `npm run bench`: speed, printed as times and ratios. Nothing fails by it. */
import { join } from 'node:path'
import { ensureBuilt, ensureChromium, ensureInstalled, root, run, tool } from './lib.mjs'

ensureInstalled()
ensureChromium()
ensureBuilt()
const built = join(root, 'node_modules', '.voskel', 'bench.mjs')
run(tool('rolldown'), ['-c', 'bench/rolldown.config.mjs', '--log-level', 'warn'], {
  stdio: ['ignore', 'ignore', 'inherit'],
})
run(process.execPath, [built, root])
