/** `npm run build`: command line, server and interface, where their sources have changed. */
import { ensureBuilt, ensureInstalled } from './lib.mjs'

ensureInstalled()
ensureBuilt()
