/** `npm run demo`: everything from a fresh clone to the demo in the browser. Its data live in demo-data/. */
import { join } from 'node:path'
import { ensureBuilt, ensureInstalled, root, serve } from './lib.mjs'

ensureInstalled()
ensureBuilt()
serve({ VOSKEL_DATA_DIR: process.env.VOSKEL_DATA_DIR ?? join(root, 'demo-data'), VOSKEL_DEMO: join(root, 'demo') })
