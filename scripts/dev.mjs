/** `npm run dev`: the interface from its sources at http://127.0.0.1:4311, with the demo's data. */
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { ensureBuilt, ensureInstalled, root, serve, tool } from './lib.mjs'

ensureInstalled()
ensureBuilt()
const server = serve({
  VOSKEL_PORT: '4310',
  VOSKEL_DATA_DIR: process.env.VOSKEL_DATA_DIR ?? join(root, 'demo-data'),
  VOSKEL_DEMO: join(root, 'demo'),
})
const vite = spawn(tool('vite'), ['--host', '127.0.0.1'], { cwd: join(root, 'packages/web'), stdio: 'inherit' })
vite.on('exit', () => server.kill('SIGTERM'))
