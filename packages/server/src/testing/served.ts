import { type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { type Design, designOfSpec, parseSpec } from '@voskel/core'
import { type Logger, pino } from 'pino'
import { createApp } from '../app.js'
import { answerMalformed } from '../problem.js'
import { type Connection, connect } from '../db/connect.js'

export const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))
export const MIGRATIONS = here('../../migrations')

/** A response's body, as what the test expects it to be. */
export const json = async <T>(response: Response | Promise<Response>) => (await (await response).json()) as T

/** A design as a page would save it. */
export const document = (name = 'Test design', order = 3): Design =>
  designOfSpec(
    name,
    parseSpec({ response: 'lowpass', approximation: 'butterworth', order, passband: { edges: [1000] } }),
    'exact',
  )

/** The application at a port of its own, over a database in memory unless another one is given. */
export interface Served {
  readonly connection: Connection
  readonly base: string
  call(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<Response>
  /** A new project with one design in it. */
  newDesign(): Promise<{ project: string; design: string }>
  stop(): Promise<void>
}

export async function serve({
  connection,
  token = null,
  log = pino({ level: 'silent' }),
  webRoot = null,
  prefix = 'id',
}: {
  connection?: Connection
  token?: string | null
  log?: Logger
  webRoot?: string | null
  prefix?: string
} = {}): Promise<Served> {
  const open = connection ?? (await connect(':memory:', MIGRATIONS))
  let clock = 1000
  let counter = 0
  const app = createApp({
    db: open.db,
    isInPlace: open.isInPlace,
    log,
    now: () => clock++,
    newId: () => `${prefix}-${++counter}`,
    webRoot,
    token,
  })
  const server: Server = app.listen(0, '127.0.0.1')
  answerMalformed(server)
  await new Promise((done) => server.once('listening', done))
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const call: Served['call'] = (method, path, body, headers = {}) =>
    fetch(base + path, {
      method,
      redirect: 'manual',
      headers: { ...(body !== undefined && { 'Content-Type': 'application/json' }), ...headers },
      ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
  return {
    connection: open,
    base,
    call,
    async newDesign() {
      const project = await json<{ id: string }>(call('POST', '/api/projects', { name: 'P' }))
      const design = await json<{ id: string }>(call('POST', `/api/projects/${project.id}/designs`, document()))
      return { project: project.id, design: design.id }
    },
    async stop() {
      await new Promise((done) => {
        server.close(done)
        server.closeAllConnections()
      })
      await open.close()
    },
  }
}
