import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type KeptCurves, packKept, type ProjectFile, unpackKept, withCompared } from '@voskel/core'
import { eq } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { connect } from './db/connect.js'
import { keptCurves } from './db/schema.js'
import type { KeptSummary } from './repos/keptRepo.js'
import { document, json, MIGRATIONS, serve, type Served } from './testing/served.js'

const run = (name = 'before'): KeptCurves => ({
  kind: 'run',
  name,
  curves: [
    {
      signal: 'v(out)',
      over: 'frequency',
      unit: 'V',
      numbers: { x: Float64Array.of(1, 2), db: Float64Array.of(-1, NaN) },
    },
  ],
})

let served: Served
beforeEach(async () => {
  served = await serve()
})
afterEach(() => served.stop())

const send = (project: string, body: Uint8Array, type = 'application/octet-stream') =>
  fetch(`${served.base}/api/curves?project=${project}`, {
    method: 'POST',
    headers: { 'Content-Type': type },
    body: body as Uint8Array<ArrayBuffer>,
  })
const kept = async (id: string) =>
  unpackKept(new Uint8Array(await (await served.call('GET', `/api/curves/${id}`)).arrayBuffer()))

describe('kept curves', () => {
  test('are kept, listed without their numbers, read to the last bit and let go', async () => {
    const { project } = await served.newDesign()
    const { id } = await json<{ id: string }>(send(project, packKept(run())))
    await send(project, packKept(run('after')))
    const list = await json<KeptSummary[]>(served.call('GET', `/api/curves?project=${project}`))
    expect(list.map((k) => k.facts?.name)).toEqual(['after', 'before'])
    expect(list[0]!.facts?.curves[0]).toMatchObject({ columns: ['x', 'db'], length: 2 })
    expect(await kept(id)).toEqual(run())
    expect((await served.call('DELETE', `/api/curves/${id}`)).status).toBe(204)
    expect((await served.call('GET', `/api/curves/${id}`)).status).toBe(404)
    expect((await served.call('DELETE', `/api/curves/${id}`)).status).toBe(404)
  })

  test('are not thrown away while a design shows them, one in the bin included', async () => {
    const { project, design } = await served.newDesign()
    const { id } = await json<{ id: string }>(send(project, packKept(run())))
    const shown = withCompared(document(), { id, kind: 'run', name: 'before' })
    await served.call('PUT', `/api/designs/${design}`, shown, { 'If-Match': '"1"' })
    const refused = await served.call('DELETE', `/api/curves/${id}`)
    expect([refused.status, await refused.json()]).toEqual([
      409,
      expect.objectContaining({ detail: `Let them go first in: ${document().name}.` }),
    ])
    await served.call('DELETE', `/api/designs/${design}`)
    expect((await served.call('DELETE', `/api/curves/${id}`)).status).toBe(409)
    expect(await kept(id)).toEqual(run())
  })

  test('that are none, of no project, or in another form are refused', async () => {
    const { project } = await served.newDesign()
    const broken = await send(project, packKept(run()).subarray(0, -8))
    expect([broken.status, await broken.json()]).toEqual([
      422,
      expect.objectContaining({ title: expect.stringContaining('no kept curves') as string }),
    ])
    expect((await send('nowhere', packKept(run()))).status).toBe(404)
    expect((await send(project, new TextEncoder().encode('{}'), 'application/json')).status).toBe(415)
    expect((await served.call('GET', '/api/curves')).status).toBe(422)
    expect((await served.call('PATCH', '/api/curves/x', {})).status).toBe(405)
    expect(await json(served.call('GET', `/api/curves?project=${project}`))).toEqual([])
  })

  test('whose facts are damaged are listed as such, beside the others', async () => {
    const { project } = await served.newDesign()
    await send(project, packKept(run('bad')))
    await send(project, packKept(run('good')))
    await served.connection.db.update(keptCurves).set({ facts: '{"half' }).where(eq(keptCurves.name, 'bad'))
    const list = await json<KeptSummary[]>(served.call('GET', `/api/curves?project=${project}`))
    expect(list.map((k) => k.facts?.name)).toEqual(['good', undefined])
  })

  test('go along with a project as a file, and come back where they are gone', async () => {
    const { project } = await served.newDesign()
    const { id } = await json<{ id: string }>(send(project, packKept(run())))
    const shown = withCompared(document('shows it'), { id, kind: 'run', name: 'before' })
    await served.call('POST', `/api/projects/${project}/designs`, shown)
    const file = await json<ProjectFile>(served.call('GET', `/api/projects/${project}/file`))
    expect(file.curves?.map((c) => c.id)).toEqual([id])
    await served.call('DELETE', `/api/curves/${id}`)
    expect((await served.call('POST', '/api/projects/file', file)).status).toBe(201)
    expect(await kept(id)).toEqual(run())
    // A second time they are there already, and stay as they are.
    expect((await served.call('POST', '/api/projects/file', file)).status).toBe(201)
    const wrong = { ...file, curves: [{ ...file.curves![0], numbers: [{ x: [1] }] }] }
    expect((await served.call('POST', '/api/projects/file', wrong)).status).toBe(422)
  })
})

test('kept curves are there after a restart', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'voskel-curves-'))
  try {
    const file = join(folder, 'voskel.db')
    let id = ''
    for (const round of [1, 2]) {
      const own = await serve({ connection: await connect(`file:${file}`, MIGRATIONS, file), prefix: `r${round}` })
      if (round === 1) {
        const { project } = await own.newDesign()
        const answer = await fetch(`${own.base}/api/curves?project=${project}`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/octet-stream' },
          body: packKept(run()),
        })
        id = ((await answer.json()) as { id: string }).id
      } else {
        const bytes = await (await own.call('GET', `/api/curves/${id}`)).arrayBuffer()
        expect(unpackKept(new Uint8Array(bytes))).toEqual(run())
      }
      await own.stop()
    }
  } finally {
    rmSync(folder, { recursive: true })
  }
})
