import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { loadDemo } from './demo.js'
import { designRepo, type StoredDesign } from './repos/designRepo.js'
import type { KeptPiece } from './repos/pieceRepo.js'
import { projectRepo, type ProjectSummary } from './repos/projectRepo.js'
import { connect } from './db/connect.js'
import { LibsqlStandIn } from './testing/libsqlStandIn.js'
import { document, here, json, MIGRATIONS, serve, type Served } from './testing/served.js'

let served: Served

/** Where the designs lie: the same is asked of each. */
const stores = {
  'in memory': () => serve(),
  async 'at a libSQL server'() {
    const folder = mkdtempSync(join(tmpdir(), 'voskel-api-'))
    const store = new LibsqlStandIn(join(folder, 'store.db'))
    await store.start()
    const over = await serve({ connection: await connect(store.url, MIGRATIONS) })
    return {
      ...over,
      async stop() {
        await over.stop()
        await store.stop()
        rmSync(folder, { recursive: true })
      },
    }
  },
}
describe.each(Object.entries(stores))('%s', (_store, open) => {
  beforeEach(async () => void (served = await open()))
  afterEach(() => served.stop())

  const call: Served['call'] = (...request) => served.call(...request)
  const newDesign = () => served.newDesign()
  const listed = () => json<ProjectSummary[]>(call('GET', '/api/projects'))

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

    test('blocks and models are kept for a project or for all, the last of a name', async () => {
      const [{ project }, other] = [await newDesign(), await newDesign()]
      const model = (name: string, bf: number) => ({
        kind: 'model',
        of: 'npn',
        name,
        piece: { parts: [], wires: [], junctions: [], labels: [], models: { [name]: { kind: 'npn', values: { bf } } } },
      })
      const keep = (of: string | null, piece: object) => call('PUT', '/api/pieces', { project: of, piece })
      const kept = (of: string) => json<KeptPiece[]>(call('GET', `/api/pieces?project=${of}`))
      expect((await keep(project, model('q', 100))).status).toBe(200)
      await keep(project, model('Q', 200))
      await keep(null, model('p', 50))
      expect((await kept(project)).map((k) => [k.project, k.piece])).toEqual([
        [project, model('Q', 200)],
        [null, model('p', 50)],
      ])
      expect((await kept(other.project)).map((k) => k.name)).toEqual(['p'])
      // A copy of the project has its own.
      const { id: copy } = await json<{ id: string }>(call('POST', `/api/projects/${project}/duplicate`))
      const [own] = await kept(project)
      expect((await call('DELETE', `/api/pieces/${own!.id}`)).status).toBe(204)
      expect((await call('DELETE', `/api/pieces/${own!.id}`)).status).toBe(404)
      expect((await kept(project)).map((k) => k.name)).toEqual(['p'])
      expect((await kept(copy)).map((k) => k.name)).toEqual(['Q', 'p'])
      for (const wrong of [{ ...model('q', 1), of: 'resistor' }, { ...model('q', 1), piece: {} }, { kind: 'valve' }])
        expect((await keep(project, wrong)).status).toBe(422)
      expect((await keep('nowhere', model('q', 1))).status).toBe(404)
      expect((await call('GET', '/api/pieces')).status).toBe(422)
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

  test('a design moves to another project, and to none that is not there', async () => {
    const { project, design } = await newDesign()
    const other = (await json<{ id: string }>(call('POST', '/api/projects', { name: 'Other' }))).id
    const put = (id: string, to: unknown) => call('PUT', `/api/designs/${id}/project`, { project: to })
    expect((await put(design, other)).status).toBe(204)
    expect((await json<StoredDesign>(call('GET', `/api/designs/${design}`))).projectId).toBe(other)
    expect((await put(design, 'nowhere')).status).toBe(404)
    expect((await put('nowhere', other)).status).toBe(404)
    expect((await put(design, 7)).status).toBe(422)
    await call('DELETE', `/api/projects/${project}`)
    expect((await put(design, project)).status).toBe(404)
    expect((await json<StoredDesign>(call('GET', `/api/designs/${design}`))).projectId).toBe(other)
  })

  const withPart = (kind: string) => ({
    parts: [{ id: 'U1', kind, values: {} }],
    wires: [],
    junctions: [],
    labels: [],
  })

  describe('what the schema refuses is refused, and nothing is stored', () => {
    test.each([
      ['broken JSON', '{', 400],
      ['not a design', { hello: 1 }, 422],
      ['an unknown field', { ...document(), colour: 'red' }, 422],
      ['a newer version', { ...document(), version: 99 }, 422],
      [
        'a kind of part that there is none of',
        { ...document(), circuit: { origin: 'drawn', circuit: withPart('flux capacitor') } },
        422,
      ],
      ['a character that no text has', { ...document(), notes: 'a\0b' }, 422],
      ['half a character', '{"format":"voskel-design","version":1,"name":"\\ud800"}', 422],
      [
        'JSON nested without end',
        '{"format":"voskel-design","version":1,"name":' + '['.repeat(5000) + ']'.repeat(5000) + '}',
        422,
      ],
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

  test('the demo loads once', async () => {
    const parts = [served.connection.db, () => 1, () => 'x'] as const
    const [projects, designs] = [projectRepo(...parts), designRepo(...parts)]
    await loadDemo(here('../../../../demo'), projects, designs)
    await loadDemo(here('../../../../demo'), projects, designs)
    const list = await projects.list()
    expect(list).toHaveLength(1)
    expect(list[0]!.designs.length).toBeGreaterThanOrEqual(2)
  })
})
