import { randomUUID } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { pino } from 'pino'
import { createApp } from './app.js'
import { connect } from './db/connect.js'
import { loadDemo } from './demo.js'
import { isLoopback } from './guard.js'
import { designRepo } from './repos/designRepo.js'
import { projectRepo } from './repos/projectRepo.js'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))
const env = process.env
const host = env.VOSKEL_HOST ?? '127.0.0.1'
const port = Number(env.VOSKEL_PORT ?? 4310)
const dataDir = resolve(env.VOSKEL_DATA_DIR ?? 'data')
const token = env.VOSKEL_TOKEN ?? null
const log = pino({ level: env.VOSKEL_LOG ?? 'warn' })

if (!isLoopback(host) && token === null) {
  process.stderr.write(`voskel: to listen on ${host} it wants an access token in VOSKEL_TOKEN.\n`)
  process.exit(2)
}
mkdirSync(dataDir, { recursive: true })
const { db, close } = await connect(
  env.VOSKEL_DATABASE_URL ?? `file:${join(dataDir, 'voskel.db')}`,
  here('../migrations'),
)
const newId = () => randomUUID()
if (env.VOSKEL_DEMO) await loadDemo(env.VOSKEL_DEMO, projectRepo(db, Date.now, newId), designRepo(db, Date.now, newId))

const app = createApp({ db, log, now: Date.now, newId, webRoot: env.VOSKEL_WEB_ROOT ?? here('../../web/dist'), token })
const server = createServer(app)
server.on('error', (error: NodeJS.ErrnoException) => {
  // Where the default port is taken, any free one will do; a port that was asked for is not exchanged silently.
  if (error.code === 'EADDRINUSE' && env.VOSKEL_PORT === undefined && !server.listening) {
    server.listen(0, host)
    return
  }
  process.stderr.write(`voskel: cannot listen on ${host}:${port}: ${error.message}\n`)
  process.exit(1)
})
server.on('listening', () => {
  const { port: taken } = server.address() as AddressInfo
  process.stdout.write(
    `Voskel is ready: http://${host.includes(':') ? `[${host}]` : host}:${taken}\nStop it with Ctrl+C.\n`,
  )
})
server.listen(port, host)

let stopping = false
function stop(): void {
  if (stopping) return
  stopping = true
  // Requests under way are answered; idle connections are not waited for.
  server.close(() => {
    close()
    process.exit(0)
  })
  server.closeIdleConnections()
  setTimeout(() => process.exit(0), 3000).unref()
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
