import { type ApproximatedSpec, designOfSpec, parseSpec, type Design } from '@voskel/core'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { useDesignStore } from './design'

const spec = parseSpec({
  response: 'lowpass',
  approximation: 'butterworth',
  order: 3,
  passband: { edges: [1000] },
}) as ApproximatedSpec
const kept = new Map<string, string>()
let server: { document: Design; revision: number; down: boolean }

/** A server of one design, as far as the store knows servers. */
async function fetchStub(_url: string, init: RequestInit = {}) {
  if (server.down) throw new TypeError('failed to fetch')
  const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status })
  if ((init.method ?? 'GET') === 'GET') return answer(200, { id: 'd1', projectId: 'p1', updatedAt: 5, ...server })
  const seen = Number(/"(\d+)"/.exec(new Headers(init.headers).get('If-Match') ?? '')?.[1])
  if (init.method === 'PUT' && seen !== server.revision) return answer(412, { title: 'changed', detail: '' })
  server.document = JSON.parse(String(init.body)) as Design
  return answer(200, { id: 'd1', revision: ++server.revision, updatedAt: 6 })
}

beforeEach(() => {
  vi.useFakeTimers()
  kept.clear()
  server = { document: designOfSpec('One', spec, 'exact'), revision: 1, down: false }
  vi.stubGlobal('fetch', vi.fn(fetchStub))
  vi.stubGlobal('localStorage', {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
  })
  vi.stubGlobal('BroadcastChannel', undefined)
  setActivePinia(createPinia())
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

async function opened() {
  const store = useDesignStore()
  await store.open('d1')
  return store
}
const renamed = (store: ReturnType<typeof useDesignStore>, name: string) =>
  store.edit('name', { ...store.document!, name })

const edgesOf = (store: ReturnType<typeof useDesignStore>) =>
  (store.document!.specification as ApproximatedSpec).passband.edges

describe('edits', () => {
  test('are undone and redone in order; those of one group are one', async () => {
    const store = await opened()
    renamed(store, 'Two')
    for (const edge of [1100, 1200, 1300]) store.changeSpec('edge', { ...spec, passband: { edges: [edge] } }, 'edge')
    expect(edgesOf(store)).toEqual([1300])
    store.undo()
    expect(edgesOf(store)).toEqual([1000])
    store.undo()
    expect(store.document!.name).toBe('One')
    expect(store.canUndo).toBe(false)
    store.redo()
    store.redo()
    expect(edgesOf(store)).toEqual([1300])
    expect(store.canRedo).toBe(false)
  })

  test('a specification that cannot be used stays a draft; the document stays as it is', async () => {
    const store = await opened()
    store.changeSpec('edge', { ...spec, passband: { edges: [-1] } })
    expect(store.draftIssues[0]).toMatchObject({ path: 'passband.edges.0' })
    expect(edgesOf(store)).toEqual([1000])
    store.changeSpec('edge', { ...spec, passband: { edges: [900] } })
    expect(store.specDraft).toBeNull()
    expect(edgesOf(store)).toEqual([900])
  })
})

describe('the way to the server', () => {
  test('an edit is saved by itself a moment later, once for several', async () => {
    const store = await opened()
    renamed(store, 'Two')
    renamed(store, 'Three')
    expect(store.saveState).toBe('unsaved')
    await vi.advanceTimersByTimeAsync(1000)
    expect(store.saveState).toBe('saved')
    expect(server).toMatchObject({ revision: 2, document: { name: 'Three' } })
    expect(kept.size).toBe(0)
  })

  test('while the server is away the edit is kept on this device, and saved when it is back', async () => {
    const store = await opened()
    server.down = true
    renamed(store, 'Two')
    await vi.advanceTimersByTimeAsync(1000)
    expect(store.saveState).toBe('offline')
    expect([...kept.values()].join()).toContain('Two')
    server.down = false
    await vi.advanceTimersByTimeAsync(5000)
    expect(server.document.name).toBe('Two')
  })

  test('a lost race loses neither version', async () => {
    const store = await opened()
    server.revision = 7
    server.document = { ...server.document, name: 'Theirs' }
    renamed(store, 'Mine')
    await vi.advanceTimersByTimeAsync(1000)
    expect(store.saveState).toBe('conflict')
    expect(server.document.name).toBe('Theirs')
    expect(store.document!.name).toBe('Mine')
    await store.keepMine()
    await vi.advanceTimersByTimeAsync(1000)
    expect(server.document.name).toBe('Mine')
  })

  test('a save that arrived while the page was closing is no conflict', async () => {
    const store = await opened()
    renamed(store, 'Sent')
    // The answer never came: the page was gone.
    server.revision++
    server.document = { ...store.document! }
    setActivePinia(createPinia())
    const again = useDesignStore()
    await again.open('d1')
    expect(again.saveState).toBe('unsaved')
    await vi.advanceTimersByTimeAsync(1000)
    expect(again.saveState).toBe('saved')
    expect(server.document.name).toBe('Sent')
  })

  test('a save that arrives after the page was loaded anew is no conflict either', async () => {
    const store = await opened()
    renamed(store, 'Sent')
    server.revision++
    server.document = { ...store.document! }
    await vi.advanceTimersByTimeAsync(2000)
    expect(store.saveState).toBe('saved')
    expect(server).toMatchObject({ revision: 3, document: { name: 'Sent' } })
  })

  test('what was not saved when the page closed is there when it opens again', async () => {
    const store = await opened()
    server.down = true
    renamed(store, 'Half')
    await vi.advanceTimersByTimeAsync(1000)
    server.down = false
    setActivePinia(createPinia())
    const again = useDesignStore()
    await again.open('d1')
    expect(again.document!.name).toBe('Half')
    await vi.advanceTimersByTimeAsync(1000)
    expect(server.document.name).toBe('Half')
  })
})
