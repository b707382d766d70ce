/** `npm run backup [-- FILE]`, `npm run restore -- FILE`: copies of the database (VOSKEL_DATA_DIR says which). */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { ensureBuilt, ensureInstalled, root } from './lib.mjs'

ensureInstalled()
ensureBuilt()
const { status } = spawnSync(
  process.execPath,
  [join(root, 'packages/server/dist/copies.js'), ...process.argv.slice(2)],
  {
    stdio: 'inherit',
  },
)
process.exitCode = status ?? 1
