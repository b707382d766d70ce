import { type ApproximatedSpec, type FilterSpecInput, realize, parseSpec, withCircuitEdit } from '@voskel/core'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { api } from '../api/client'
import { standOn } from '../document/device'
import { BrowserStandIn, ladder, ServerStandIn } from '../testing/standIns'
import { useDesignStore } from './design'
import { useUnsentStore } from './unsent'

let server: ServerStandIn
let browser: BrowserStandIn

beforeEach(() => {
  vi.useFakeTimers()
  server = new ServerStandIn({ d1: ladder(), d2: ladder('Other') })
  browser = new BrowserStandIn()
  vi.spyOn(api, 'readDesign').mockImplementation((id) => server.read(id))
  vi.spyOn(api, 'saveDesign').mockImplementation((id, seen, document) => server.save(id, seen, document))
  vi.spyOn(api, 'createDesign').mockImplementation(async (_project, document) => {
    server.designs.set('copy', { document, revision: 1 })
    return { ok: true, value: { id: 'copy', revision: 1 } }
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.restoreAllMocks()
})

/** A page in a tab, as it is after a design was opened in it. */
async function page(tab: string, design = 'd1') {
  standOn(browser.tab(tab))
  setActivePinia(createPinia())
  const store = useDesignStore()
  await store.open(design)
  return store
}
type Store = Awaited<ReturnType<typeof page>>

const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)
const rename = (store: Store, name: string) => store.edit('name', { ...store.document!, name })
const stored = (id = 'd1') => server.designs.get(id)!.document
const spec = ladder().specification as ApproximatedSpec
const withEdge = (edge: number): FilterSpecInput => ({ ...spec, passband: { edges: [edge] } })
const edgeOf = (store: Store) => (store.document!.specification as ApproximatedSpec).passband.edges[0]

describe('opening', () => {
  test('is no change: nothing is saved', async () => {
    const store = await page('a')
    await pass(60_000)
    expect([server.saves, store.saveState, browser.storage.kept.size]).toEqual([0, 'saved', 0])
  })

  test('of what is not there says so; of another meanwhile, the later one counts', async () => {
    const store = await page('a', 'd9')
    expect(store.failure!.status).toBe(404)
    await Promise.all([store.open('d1'), store.open('d2')])
    expect(store.document!.name).toBe('Other')
  })

  test('of one that cannot be read an earlier state takes its place, over the revision that is damaged', async () => {
    const failure = { status: 500, title: 'This design cannot be read', detail: '', revision: 1 }
    vi.mocked(api.readDesign).mockImplementationOnce(async () => ({ ok: false, failure }))
    const store = await page('a')
    expect([store.document, store.failure]).toEqual([null, failure])
    await store.replaceDamaged(ladder('Earlier'))
    expect([store.document!.name, store.failure, stored().name]).toEqual(['Earlier', null, 'Earlier'])
    // Where it was saved from elsewhere meanwhile, that is told and nothing is written over.
    vi.mocked(api.readDesign).mockImplementationOnce(async () => ({ ok: false, failure }))
    await store.open('d1')
    await store.replaceDamaged(ladder('Too late'))
    expect([store.failure!.status, stored().name]).toEqual([412, 'Earlier'])
  })
})

describe('edits', () => {
  test('are undone and redone; those of one group are one', async () => {
    const store = await page('a')
    rename(store, 'Two')
    for (const edge of [1100, 1200, 1300]) store.changeSpec('edge', withEdge(edge), 'edge')
    store.undo()
    expect(edgeOf(store)).toBe(1000)
    store.undo()
    expect([store.document!.name, store.canUndo]).toEqual(['One', false])
    store.redo()
    store.redo()
    expect([edgeOf(store), store.canRedo]).toEqual([1300, false])
  })

  test('a specification that cannot be used stays a draft, which undo takes back first', async () => {
    const store = await page('a')
    store.changeSpec('edge', withEdge(900))
    store.changeSpec('edge', withEdge(-1))
    expect(store.draftIssues[0]).toMatchObject({ path: 'passband.edges.0' })
    expect(edgeOf(store)).toBe(900)
    store.undo()
    expect([store.specDraft, edgeOf(store)]).toEqual([null, 900])
    store.undo()
    expect(edgeOf(store)).toBe(1000)
  })

  test('of the specification leave what was typed on the circuit, and what is required', async () => {
    const store = await page('a')
    store.edit(
      'C1',
      withCircuitEdit(store.document!, { edit: 'set-value', args: { part: 'C1', field: 'capacitance', value: 1e-9 } }),
    )
    store.changeSpec('parts', { ...store.typedSpec!, requirements: [{ kind: 'parts', limit: 5 }] })
    store.changeSpec('edge', { ...store.typedSpec!, ...withEdge(2000), requirements: store.typedSpec!.requirements })
    expect(store.document).toMatchObject({
      circuit: { patches: { C1: { values: { capacitance: 1e-9 } } } },
      requirements: [{ kind: 'parts', limit: 5 }],
    })
  })

  test('are saved with the circuit that was shown of them, also where it comes after the save', async () => {
    const base = realize(parseSpec({ ...spec, realization: { family: 'lc-ladder', source: 50, load: 50 } })).circuit
    const store = await page('a')
    store.shown(store.document!, base)
    await pass(5000)
    expect(server.saves).toBe(0)
    rename(store, 'Two')
    await pass(1000)
    expect(stored().circuit).not.toHaveProperty('witness')
    store.shown(store.document!, base)
    await pass(1000)
    expect(stored().circuit).toMatchObject({ witness: base })
    await pass(60_000)
    expect(server.saves).toBe(2)
  })
})

describe('what was typed and not saved', () => {
  test('while a page closed is there when it opens again, and undo tells it from what the server has', async () => {
    const store = await page('a')
    server.mood = 'away'
    rename(store, 'Half')
    await pass(1000)
    browser.close('a')
    server.mood = 'well'
    const again = await page('b')
    expect(again.document!.name).toBe('Half')
    await pass(1000)
    expect(stored().name).toBe('Half')
    expect(browser.storage.kept.size).toBe(0)
    again.undo()
    expect(again.document!.name).toBe('One')
  })

  test('in two tabs without a server is there, of both, when both are gone', async () => {
    const [a, b] = [await page('a'), await page('b')]
    server.mood = 'away'
    rename(a, 'Of a')
    b.changeSpec('edge', withEdge(5000))
    await pass(1000)
    browser.close('a')
    browser.close('b')
    server.mood = 'well'
    const again = await page('c')
    await pass(2000)
    expect([again.document!.name, edgeOf(again)]).toEqual(['Of a', 5000])
    expect([stored().name, browser.storage.kept.size]).toEqual(['Of a', 0])
  })

  test('in two tabs at the same place is offered: one counts, the other is not lost', async () => {
    const [a, b] = [await page('a'), await page('b')]
    server.mood = 'away'
    rename(a, 'Of a')
    await pass(10)
    rename(b, 'Of b')
    await pass(1000)
    browser.close('a')
    browser.close('b')
    server.mood = 'well'
    const again = await page('c')
    expect([again.document!.name, again.offers.map((o) => o.document!.name)]).toEqual(['Of a', ['Of b']])
    await pass(1000)
    expect(stored().name).toBe('Of a')
    // It is offered until somebody decides.
    expect((await page('d')).offers).toHaveLength(1)
    const last = await page('e')
    await last.takeOffer(last.offers[0]!)
    expect([last.document!.name, last.offers]).toEqual(['Of b', []])
    await pass(1000)
    expect([stored().name, browser.storage.kept.size]).toEqual(['Of b', 0])
  })

  test('of a tab that is still being closed is found a moment later', async () => {
    const a = await page('a')
    server.mood = 'away'
    rename(a, 'Of a')
    await pass(1000)
    server.mood = 'well'
    const b = await page('b')
    expect(b.document!.name).toBe('One')
    browser.close('a')
    await pass(3000)
    expect([b.document!.name, stored().name]).toEqual(['Of a', 'Of a'])
  })

  test('of another tab can become a design of its own, or be let go', async () => {
    for (const way of ['copyOffer', 'dropOffer'] as const) {
      const a = await page('a')
      server.mood = 'away'
      rename(a, 'Of a')
      await pass(1000)
      browser.close('a')
      server.mood = 'well'
      server.elsewhere('d1', (d) => ({ ...d, name: way }))
      const b = await page('b')
      expect(b.document!.name).toBe(way)
      await b[way](b.offers[0]!)
      expect([b.offers, browser.storage.kept.size]).toEqual([[], 0])
    }
    expect(stored('copy').name).toBe('Of a (kept)')
  })

  test('before another design was opened is sent as soon as that can be, and marked until then', async () => {
    const store = await page('a')
    const unsent = useUnsentStore()
    server.mood = 'away'
    rename(store, 'Two')
    await pass(1000)
    server.mood = 'well'
    server.designs.delete('d1')
    await store.open('d2')
    await pass(10_000)
    expect(unsent.reasons.get('d1')).toBe('gone')
    server.designs.set('d1', { document: ladder(), revision: 1 })
    await unsent.sweep()
    expect([stored().name, unsent.unsent, browser.storage.kept.size]).toEqual(['Two', [], 0])
  })

  test('is there without a server too', async () => {
    const store = await page('a')
    server.mood = 'away'
    rename(store, 'Half')
    await pass(1000)
    browser.close('a')
    const again = await page('b')
    expect([again.document!.name, again.failure]).toEqual(['Half', null])
    await pass(1000)
    expect(again.saveState).toBe('offline')
    server.mood = 'well'
    await pass(10_000)
    expect(stored().name).toBe('Half')
  })

  test('a draft survives another window’s save, the page’s end, and a foreign entry in its place', async () => {
    const store = await page('a')
    rename(store, 'Two')
    await pass(1000)
    store.changeSpec('edge', withEdge(-1))
    const other = await page('b')
    rename(other, 'Three')
    await pass(2000)
    expect([store.document!.name, store.specDraft]).toMatchObject(['Three', { passband: { edges: [-1] } }])
    store.undo()
    store.undo()
    expect(store.document!.name).toBe('Two')
    store.changeSpec('edge', withEdge(-2))
    await pass(1000)
    browser.close('a')
    const again = await page('c')
    expect(again.specDraft).toMatchObject({ passband: { edges: [-2] } })
    browser.storage.kept.set('d1/a', '{"theme":"dark"}')
    const odd = await page('d')
    expect(odd.typedSpec).toMatchObject({ response: 'lowpass' })
  })
})

describe('a conflict', () => {
  async function conflicting() {
    const store = await page('a')
    rename(store, 'Mine')
    server.elsewhere('d1', (d) => ({ ...d, name: 'Theirs' }))
    await pass(1000)
    expect(store.saveState).toBe('conflict')
    return store
  }

  test('ended with the newer version leaves mine to undo', async () => {
    const store = await conflicting()
    await store.takeTheirs()
    expect([store.document!.name, store.saveState]).toEqual(['Theirs', 'saved'])
    store.undo()
    await pass(1000)
    expect(stored().name).toBe('Mine')
  })

  test('ended with both makes mine a design of its own', async () => {
    const store = await conflicting()
    expect(await store.keepBoth()).toBe('copy')
    expect([stored().name, stored('copy').name]).toEqual(['Theirs', 'Mine (mine)'])
  })

  test('ended with mine saves it over the other', async () => {
    const store = await conflicting()
    await store.keepMine()
    expect([stored().name, store.saveState]).toEqual(['Mine', 'saved'])
  })
})
