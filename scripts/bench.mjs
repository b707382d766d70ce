/** `npm run bench [-- engine|design|interface]`: speed, printed as times and ratios. Nothing fails by it. */
import { bundle, ensureBuilt, ensureChromium, ensureInstalled, root, run } from './lib.mjs'

ensureInstalled()
ensureChromium()
ensureBuilt()
run(process.execPath, [await bundle('bench/main.ts', 'bench.mjs'), root, ...process.argv.slice(2)])
