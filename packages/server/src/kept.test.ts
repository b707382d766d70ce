import { eq } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { designs, keptPieces } from './db/schema.js'
import type { KeptPiece } from './repos/pieceRepo.js'
import { toBeDropped } from './repos/revisionRepo.js'
import { document, json, serve, type Served } from './testing/served.js'

let served: Served
beforeEach(async () => {
  served = await serve()
})
afterEach(() => served.stop())

type Named = { id: string; name: string }
const get = <T>(path: string) => json<T>(served.call('GET', path))
const save = (id: string, seen: number, name: string) =>
  served.call('PUT', `/api/designs/${id}`, document(name), { 'If-Match': `"${seen}"` })

test('a kept model whose row is damaged is named, beside the others', async () => {
  const { project } = await served.newDesign()
  for (const name of ['good', 'bad']) {
    const circuit = { parts: [], wires: [], junctions: [], labels: [], models: { [name]: { kind: 'npn', values: {} } } }
    const piece = { kind: 'model', of: 'npn', name, piece: circuit }
    expect((await served.call('PUT', '/api/pieces', { project, piece })).status).toBe(200)
  }
  await served.connection.db.update(keptPieces).set({ document: '{"half' }).where(eq(keptPieces.name, 'bad'))
  const kept = await get<KeptPiece[]>(`/api/pieces?project=${project}`)
  expect(kept.map((k) => [k.name, k.piece === null])).toEqual([
    ['bad', true],
    ['good', false],
  ])
})

describe('what a design was', () => {
  test('is listed and read, the latest first; a save that lost its race leaves nothing', async () => {
    const { design } = await served.newDesign()
    expect(await get(`/api/designs/${design}/revisions`)).toEqual([])
    await save(design, 1, 'Two')
    await save(design, 2, 'Three')
    expect((await save(design, 1, 'Late')).status).toBe(412)
    const list = await get<{ revision: number; name: string }[]>(`/api/designs/${design}/revisions`)
    expect(list.map(({ revision, name }) => [revision, name])).toEqual([
      [2, 'Two'],
      [1, 'Test design'],
    ])
    expect(await get(`/api/designs/${design}/revisions/1`)).toMatchObject({ revision: 1, document: document() })
    for (const path of ['3', '0', 'x', '-1', '1e3']) {
      expect((await served.call('GET', `/api/designs/${design}/revisions/${path}`)).status).toBe(404)
    }
    expect((await served.call('GET', '/api/designs/none/revisions')).status).toBe(404)
    expect((await served.call('POST', `/api/designs/${design}/revisions`)).status).toBe(405)
  })

  test('is there where the row of today is damaged', async () => {
    const { design } = await served.newDesign()
    await save(design, 1, 'Two')
    await served.connection.db.update(designs).set({ document: '{"half' }).where(eq(designs.id, design))
    const damaged = await served.call('GET', `/api/designs/${design}`)
    expect(damaged.status).toBe(500)
    expect(await damaged.json()).toMatchObject({ title: 'This design cannot be read', revision: 2 })
    expect(await get(`/api/designs/${design}/revisions/1`)).toMatchObject({ document: { name: 'Test design' } })
    // Another state is saved over it like over any other.
    await save(design, 2, 'Back')
    expect(await get(`/api/designs/${design}`)).toMatchObject({ revision: 3, document: { name: 'Back' } })
  })

  test('is kept whole for an hour, then thinned, and dropped after thirty days', () => {
    const [minute, hour, day] = [60_000, 3_600_000, 86_400_000]
    const now = 100 * day
    const saves = (from: number, count: number, each: number) =>
      Array.from({ length: count }, (_, k) => ({ revision: 0, name: '', savedAt: now - from - k * each }))
    // Beginning with the edge of a stretch, each of them touches one stretch more than it is long.
    const all = [
      ...saves(0, 100, minute / 2),
      ...saves(2 * hour, 60, minute),
      ...saves(2 * day, 48, hour / 2),
      ...saves(10 * day, 60, hour),
      ...saves(31 * day, 5, day),
    ]
      .reverse()
      .map((r, k) => ({ ...r, revision: k + 1 }))
    const dropped = new Set(toBeDropped(all, now))
    const left = (from: number, to: number) =>
      all.filter((r) => !dropped.has(r.revision) && now - r.savedAt >= from && now - r.savedAt < to).length
    expect([
      left(0, hour),
      left(hour, day),
      left(day, 7 * day),
      left(7 * day, 30 * day),
      left(30 * day, 99 * day),
    ]).toEqual([100, 7, 25, 4, 0])
    // Thinning once more drops nothing.
    expect(
      toBeDropped(
        all.filter((r) => !dropped.has(r.revision)),
        now,
      ),
    ).toEqual([])
  })

  test('of many saves stays a handful', async () => {
    const { design } = await served.newDesign()
    for (let k = 1; k <= 60; k++) await save(design, k, `Name ${k}`)
    expect(await get(`/api/designs/${design}/revisions`)).toHaveLength(60)
  })
})

test('a row of version 1 is read as a file of version 1 is', async () => {
  const { design } = await served.newDesign()
  const { specification, name } = document()
  const requirements = [{ kind: 'overshoot', limit: 10 }]
  const old = { format: 'voskel-design', version: 1, name, specification: { ...specification, requirements } }
  await served.connection.db
    .update(designs)
    .set({ document: JSON.stringify(old) })
    .where(eq(designs.id, design))
  const { document: read } = await get<{ document: object }>(`/api/designs/${design}`)
  expect(read).toEqual({ ...document(), requirements })
})

describe('the bin', () => {
  test('holds what was deleted until it is restored; designs of a deleted project are in it with their project', async () => {
    const { project, design } = await served.newDesign()
    const other = await served.newDesign()
    await served.call('DELETE', `/api/designs/${design}`)
    await served.call('DELETE', `/api/projects/${other.project}`)
    expect(await get('/api/health')).toMatchObject({ status: 'ok' })
    const bin = await get<{ projects: Named[]; designs: Named[] }>('/api/bin')
    expect(bin.projects.map((p) => p.id)).toEqual([other.project])
    expect(bin.designs).toMatchObject([{ id: design, name: 'Test design', project: 'P' }])
    await served.call('POST', `/api/designs/${design}/restore`)
    await served.call('POST', `/api/projects/${other.project}/restore`)
    expect(await get('/api/bin')).toEqual({ projects: [], designs: [] })
    const list = await get<(Named & { designs: Named[] })[]>('/api/projects')
    expect(list.map((p) => [p.id, p.designs.length])).toEqual([
      [project, 1],
      [other.project, 1],
    ])
  })
})

describe('a project as a file', () => {
  test('comes back as it was, under ids of its own', async () => {
    const { project, design } = await served.newDesign()
    await save(design, 1, 'Changed')
    const gone = await json<Named>(served.call('POST', `/api/projects/${project}/designs`, document('Gone')))
    await served.call('DELETE', `/api/designs/${gone.id}`)
    const file = await get<{ name: string; designs: object[] }>(`/api/projects/${project}/file`)
    expect(file).toMatchObject({ format: 'voskel-project', name: 'P', designs: [document('Changed')] })
    const answer = await served.call('POST', '/api/projects/file', file)
    expect(answer.status).toBe(201)
    const { id } = await json<Named>(answer)
    expect(id).not.toBe(project)
    expect(await get(`/api/projects/${id}/file`)).toEqual(file)
  })

  test.each([
    ['a design', document(), 'format'],
    ['no list of designs', { format: 'voskel-project', version: 1, name: 'P' }, 'designs'],
    ['a newer version', { format: 'voskel-project', version: 2, name: 'P', designs: [] }, 'version'],
    [
      'a design in it that cannot be read',
      { format: 'voskel-project', version: 1, name: 'P', designs: [document(), { ...document(), name: '' }] },
      'designs.1.name',
    ],
  ])('that is %s is refused at its place, and nothing is stored', async (_, body, path) => {
    const answer = await served.call('POST', '/api/projects/file', body)
    expect(answer.status).toBe(422)
    expect(await json(answer)).toMatchObject({ place: { path } })
    expect(await get('/api/projects')).toEqual([])
  })

  test('may be larger than a design', async () => {
    const designs = Array.from({ length: 400 }, () => ({ ...document(), notes: 'x'.repeat(18_000) }))
    const body = { format: 'voskel-project', version: 1, name: 'P', designs }
    expect((await served.call('POST', '/api/projects/file', body)).status).toBe(201)
  })
})
