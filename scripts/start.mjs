/** `npm start`: Voskel with one's own data, kept in data/ or where VOSKEL_DATA_DIR says. */
import { ensureBuilt, ensureInstalled, serve } from './lib.mjs'

ensureInstalled()
ensureBuilt()
serve({})
