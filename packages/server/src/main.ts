import { randomUUID } from 'node:crypto'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { readable } from '@voskel/core'
import { pino } from 'pino'
import { createApp } from './app.js'
import { connect } from './db/connect.js'
import { lockStart } from './db/startLock.js'
import { DatabaseError } from './db/copies.js'
import { loadDemo } from './demo.js'
import { answerMalformed, told } from './problem.js'
import { designRepo } from './repos/designRepo.js'
import { projectRepo } from './repos/projectRepo.js'
import { type Settings, SettingsError, settingsOf } from './settings.js'

const USUAL_PORT = 4310

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

/** Ends with a sentence; nothing else is to be said. */
function give(up: string, status: number): never {
  process.stderr.write(`voskel: ${up}\n`)
  process.exit(status)
}

// What it writes is for its keeper alone.
process.umask(0o077)
let settings: Settings
try {
  settings = settingsOf(process.env)
} catch (error) {
  if (error instanceof SettingsError) give(error.message, 2)
  throw error
}
const { host, token, demo } = settings
const port = settings.port ?? USUAL_PORT
const log = pino({ level: settings.logLevel })
const started = await lockStart(settings.databaseFile)
const { db, isInPlace, mended, close } = await connect(
  settings.databaseUrl,
  here('../migrations'),
  settings.databaseFile,
).catch((error: unknown) => {
  if (error instanceof DatabaseError) give(error.message, 2)
  give(
    `The database ${settings.databaseFile ?? settings.databaseUrl.replace(/\?.*/, '')} cannot be opened: ${told(error)
      .map((e) => e.message)
      .join('; ')}.`,
    2,
  )
})
for (const { table, column, row } of mended)
  process.stderr.write(
    `voskel: The ${column} of "${readable(row)}" in ${table} held bytes that are no text; each reads as a question mark now. Earlier states are kept.\n`,
  )
const newId = () => randomUUID()
if (demo) await loadDemo(demo, projectRepo(db, Date.now, newId), designRepo(db, Date.now, newId))
await started()

const app = createApp({
  db,
  isInPlace,
  log,
  now: Date.now,
  newId,
  webRoot: settings.webRoot ?? here('../../web/dist'),
  token,
})
const server = createServer(app)
answerMalformed(server)
server.on('error', (error: NodeJS.ErrnoException) => {
  // Where the default port is taken, any free one will do; a port that was asked for is not exchanged silently.
  if (error.code === 'EADDRINUSE' && settings.port === null && !server.listening) {
    server.listen(0, host)
    return
  }
  give(`It cannot listen on ${host}:${port}: ${error.message}.`, 1)
})
server.on('listening', () => {
  const { port: taken } = server.address() as AddressInfo
  process.stdout.write(
    `Voskel is ready: http://${host.includes(':') ? `[${host}]` : host}:${taken}\nStop it with Ctrl+C.\n`,
  )
})
server.listen(port, host)

/** What lies in the write-ahead log is kept there where it cannot be moved; the next start moves it. */
async function end(): Promise<void> {
  try {
    await close()
    process.exit(0)
  } catch (error) {
    const why = told(error).map((e) => e.message)
    give(`It stopped, but its write-ahead log could not be moved into the database: ${why.join('; ')}.`, 1)
  }
}

let stopping = false
function stop(): void {
  if (stopping) return
  stopping = true
  // Requests under way are answered; idle connections are not waited for.
  server.close(() => {
    void end()
  })
  server.closeIdleConnections()
  setTimeout(() => void end(), 3000).unref()
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
