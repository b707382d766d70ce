import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { designOfSpec, parseSpec } from '@voskel/core'
import { pino } from 'pino'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { createApp } from './app.js'
import { type Connection, connect } from './db/connect.js'
import { loadDemo } from './demo.js'
import { designRepo, type StoredDesign } from './repos/designRepo.js'
import { projectRepo, type ProjectSummary } from './repos/projectRepo.js'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))
let connection: Connection
let server: Server
let base: string
let token: string | null = null

async function start() {
  connection = await connect(':memory:', here('../migrations'))
  let clock = 1000
  let counter = 0
  const app = createApp({
    db: connection.db,
    log: pino({ level: 'silent' }),
    now: () => clock++,
    newId: () => `id-${++counter}`,
    webRoot: null,
    token,
  })
  server = app.listen(0, '127.0.0.1')
  await new Promise((done) => server.once('listening', done))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
}

beforeEach(start)
afterEach(async () => {
  await new Promise((done) => server.close(done))
  connection.close()
  token = null
})

const call = (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
  fetch(base + path, {
    method,
    headers: { ...(body !== undefined && { 'Content-Type': 'application/json' }), ...headers },
    ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  })
/** A response's body, as what the test expects it to be. */
const json = async <T>(response: Response | Promise<Response>) => (await (await response).json()) as T
const listed = () => json<ProjectSummary[]>(call('GET', '/api/projects'))

const document = (name = 'Test design', order = 3) =>
  designOfSpec(
    name,
    parseSpec({ response: 'lowpass', approximation: 'butterworth', order, passband: { edges: [1000] } }),
    'exact',
  )
async function newDesign() {
  const project = await json<{ id: string }>(call('POST', '/api/projects', { name: 'P' }))
  const design = await json<{ id: string }>(call('POST', `/api/projects/${project.id}/designs`, document()))
  return { project: project.id, design: design.id }
}

describe('projects and designs', () => {
  test('create, read, save, list', async () => {
    const { project, design } = await newDesign()
    const read = await call('GET', `/api/designs/${design}`)
    expect(read.headers.get('ETag')).toBe('"1"')
    expect((await json<StoredDesign>(read)).document).toEqual(document())
    const saved = await call('PUT', `/api/designs/${design}`, document('Renamed', 4), { 'If-Match': '"1"' })
    expect(saved.status).toBe(200)
    expect(saved.headers.get('ETag')).toBe('"2"')
    const list = await listed()
    expect(list).toMatchObject([{ id: project, name: 'P', designs: [{ id: design, name: 'Renamed', revision: 2 }] }])
  })

  test('a lost race is 412, and the winner’s version is still there', async () => {
    const { design } = await newDesign()
    await call('PUT', `/api/designs/${design}`, document('First'), { 'If-Match': '"1"' })
    const lost = await call('PUT', `/api/designs/${design}`, document('Second'), { 'If-Match': '"1"' })
    expect(lost.status).toBe(412)
    expect(lost.headers.get('Content-Type')).toContain('application/problem+json')
    expect(await lost.json()).toMatchObject({ status: 412, revision: 2 })
    expect((await json<StoredDesign>(call('GET', `/api/designs/${design}`))).document.name).toBe('First')
  })

  test('of many writers who saw the same version exactly one wins', async () => {
    const { design } = await newDesign()
    const writes = Array.from({ length: 8 }, (_, k) =>
      call('PUT', `/api/designs/${design}`, document(`W${k}`), { 'If-Match': '"1"' }),
    )
    const statuses = (await Promise.all(writes)).map((r) => r.status).sort()
    expect(statuses).toEqual([200, 412, 412, 412, 412, 412, 412, 412])
  })

  test('deleting can be undone, for designs and projects', async () => {
    const { project, design } = await newDesign()
    expect((await call('DELETE', `/api/designs/${design}`)).status).toBe(204)
    expect((await call('GET', `/api/designs/${design}`)).status).toBe(404)
    expect((await call('POST', `/api/designs/${design}/restore`)).status).toBe(204)
    expect((await call('GET', `/api/designs/${design}`)).status).toBe(200)
    await call('DELETE', `/api/projects/${project}`)
    expect(await listed()).toEqual([])
    await call('POST', `/api/projects/${project}/restore`)
    expect(await listed()).toHaveLength(1)
  })

  test('duplicates stand beside their originals', async () => {
    const { project, design } = await newDesign()
    expect((await call('POST', `/api/designs/${design}/duplicate`)).status).toBe(201)
    await call('POST', `/api/projects/${project}/duplicate`)
    const list = await listed()
    expect(list.map((p) => [p.name, p.designs.map((d) => d.name)])).toEqual([
      ['P', ['Test design', 'Test design (copy)']],
      ['P (copy)', ['Test design', 'Test design (copy)']],
    ])
  })
})

describe('what the schema refuses is refused, and nothing is stored', () => {
  test.each([
    ['broken JSON', '{', 400],
    ['not a design', { hello: 1 }, 422],
    ['an unknown field', { ...document(), colour: 'red' }, 422],
    ['a newer version', { ...document(), version: 2 }, 422],
    ['an impossible order', { ...document(), specification: { ...document().specification, order: 99 } }, 422],
    [
      'a stop band inside the passband',
      { ...document(), specification: { ...document().specification, stopband: { edges: [10], attenuation: 40 } } },
      422,
    ],
  ])('%s', async (_, body, status) => {
    const { project, design } = await newDesign()
    const put = await call('PUT', `/api/designs/${design}`, body, { 'If-Match': '"1"' })
    expect(put.status).toBe(status)
    expect((await json<{ detail: string }>(put)).detail).not.toBe('')
    expect((await call('POST', `/api/projects/${project}/designs`, body)).status).toBe(status)
    const list = await listed()
    expect(list[0]!.designs).toMatchObject([{ revision: 1 }])
  })

  test('saving without having read, oversized bodies, unknown addresses', async () => {
    const { design } = await newDesign()
    expect((await call('PUT', `/api/designs/${design}`, document())).status).toBe(428)
    expect((await call('PUT', `/api/designs/${design}`, document(), { 'If-Match': 'x' })).status).toBe(400)
    expect((await call('POST', '/api/projects', `"${'x'.repeat(6e6)}"`)).status).toBe(413)
    expect((await call('GET', '/api/nothing')).status).toBe(404)
    expect((await call('POST', '/api/projects', { name: ' ' })).status).toBe(422)
    expect((await call('PUT', '/api/designs/none', document(), { 'If-Match': '"1"' })).status).toBe(404)
  })
})

describe('who may come in', () => {
  test('foreign host names and foreign pages are turned away', async () => {
    const { status } = await new Promise<{ status: number }>((done) => {
      void import('node:http').then(({ get }) =>
        get(`${base}/api/health`, { headers: { Host: 'evil.example' } }, (res) => done({ status: res.statusCode! })),
      )
    })
    expect(status).toBe(403)
    expect((await call('POST', '/api/projects', { name: 'x' }, { 'Sec-Fetch-Site': 'cross-site' })).status).toBe(403)
    expect((await call('GET', '/api/health')).status).toBe(200)
  })

  test('with a token, only those who bring it', async () => {
    await new Promise((done) => server.close(done))
    connection.close()
    token = 'seal 42'
    await start()
    expect((await call('GET', '/api/health')).status).toBe(401)
    expect((await call('GET', '/api/health', undefined, { Authorization: 'Bearer seal 42' })).status).toBe(200)
    const open = await fetch(`${base}/api/health?token=seal%2042`, { redirect: 'manual' })
    expect(open.status).toBe(302)
    const cookie = open.headers.get('Set-Cookie')!.split(';')[0]!
    expect((await call('GET', '/api/health', undefined, { Cookie: cookie })).status).toBe(200)
  })
})

test('the demo loads once', async () => {
  const parts = [connection.db, () => 1, () => 'x'] as const
  const [projects, designs] = [projectRepo(...parts), designRepo(...parts)]
  await loadDemo(here('../../../demo'), projects, designs)
  await loadDemo(here('../../../demo'), projects, designs)
  const list = await projects.list()
  expect(list).toHaveLength(1)
  expect(list[0]!.designs.length).toBeGreaterThanOrEqual(2)
})
