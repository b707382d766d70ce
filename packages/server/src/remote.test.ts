import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createClient } from '@libsql/client'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { connect } from './db/connect.js'
import type { StoredDesign } from './repos/designRepo.js'
import { LibsqlStandIn } from './testing/libsqlStandIn.js'
import { document, json, MIGRATIONS, serve, type Served } from './testing/served.js'

/* Two Voskel servers on one store that a third one keeps. */
let folder: string
let store: LibsqlStandIn
let servers: Served[]

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'voskel-remote-'))
  store = new LibsqlStandIn(join(folder, 'store.db'))
  await store.start()
  servers = []
  for (let k = 0; k < 2; k++) {
    const connection = await connect(store.url, MIGRATIONS)
    servers.push(await serve({ connection, prefix: `server-${k}` }))
  }
})
afterEach(async () => {
  for (const server of servers) await server.stop()
  await store.stop()
  rmSync(folder, { recursive: true })
})

const read = (server: Served, design: string) => json<StoredDesign>(server.call('GET', `/api/designs/${design}`))

test('what one keeps the other reads, and nothing lies in a file of theirs', async () => {
  const [one, other] = servers
  const { design } = await one!.newDesign()
  expect((await read(other!, design)).document).toEqual(document())
  expect(one!.connection.isInPlace()).toBe(true)
})

test('of conditional writes that race through both servers exactly one wins', async () => {
  const { design } = await servers[0]!.newDesign()
  for (let round = 1; round <= 5; round++) {
    const writes = Array.from({ length: 8 }, (_, k) =>
      servers[k % 2]!.call('PUT', `/api/designs/${design}`, document(`R${round} W${k}`), { 'If-Match': `"${round}"` }),
    )
    const statuses = (await Promise.all(writes)).map((r) => r.status)
    expect(statuses.filter((s) => s === 200)).toHaveLength(1)
    expect(statuses.filter((s) => s === 412)).toHaveLength(7)
    const winner = statuses.indexOf(200)
    expect(await read(servers[1]!, design)).toMatchObject({
      revision: round + 1,
      document: { name: `R${round} W${winner}` },
    })
  }
})

test('a server that is killed while it writes leaves nothing half done, and the other goes on', async () => {
  const { design } = await servers[0]!.newDesign()
  const dying = createClient({ url: store.url })
  const transaction = await dying.transaction('write')
  await transaction.execute({ sql: 'update designs set name = ?, revision = 99', args: ['half'] })
  // Nobody commits, and nobody says that it is over.
  const saved = await servers[1]!.call('PUT', `/api/designs/${design}`, document('whole'), { 'If-Match': '"1"' })
  expect(saved.status).toBe(200)
  expect(await read(servers[0]!, design)).toMatchObject({ revision: 2, document: { name: 'whole' } })
  dying.close()
})

test('while the store is away nothing is said to be kept; when it is back, everything that was is there', async () => {
  const [one, other] = servers
  const kept = await Promise.all([one!.newDesign(), other!.newDesign()])
  await store.stop()
  const away = await one!.call('PUT', `/api/designs/${kept[0]!.design}`, document('x'), { 'If-Match': '"1"' })
  expect(away.status).toBe(503)
  expect(Number(away.headers.get('Retry-After'))).toBeGreaterThan(0)
  expect((await other!.call('GET', '/api/projects')).status).toBe(503)
  expect((await other!.call('GET', '/api/health')).status).toBe(503)
  await store.start()
  for (const { design } of kept) expect(await read(other!, design)).toMatchObject({ revision: 1 })
  const again = await one!.call('PUT', `/api/designs/${kept[0]!.design}`, document('x'), { 'If-Match': '"1"' })
  expect(again.status).toBe(200)
})

test('writes in a stream while the store comes and goes: what was acknowledged is there', async () => {
  const { design } = await servers[0]!.newDesign()
  const acknowledged = new Map<number, string>()
  let revision = 1
  const writing = (async () => {
    for (let k = 0; k < 60; k++) {
      const name = `write ${k}`
      const server = servers[k % 2]!
      const answer = await server.call('PUT', `/api/designs/${design}`, document(name), { 'If-Match': `"${revision}"` })
      if (answer.status === 200) acknowledged.set(++revision, name)
      else {
        expect([412, 503]).toContain(answer.status)
        await new Promise((done) => setTimeout(done, 5))
        const now = await server.call('GET', `/api/designs/${design}`)
        // A write whose answer was lost may have arrived.
        if (now.status === 200) ({ revision } = await json<StoredDesign>(now))
      }
    }
  })()
  for (let k = 0; k < 3; k++) {
    await new Promise((done) => setTimeout(done, 40))
    await store.stop()
    await new Promise((done) => setTimeout(done, 20))
    await store.start()
  }
  await writing
  expect(acknowledged.size).toBeGreaterThan(0)
  const last = await read(servers[0]!, design)
  const [latest, name] = [...acknowledged].at(-1)!
  expect(last.revision).toBeGreaterThanOrEqual(latest)
  if (last.revision === latest) expect(last.document.name).toBe(name)
})
