import { type Design, designOfSpec, parseSpec } from '@voskel/core'
import type { ApiResult, StoredDesign } from '../api/client'
import type { Device, News } from '../document/device'
import { type Entries, keepingIn } from '../document/keeping'

/** A design to be edited. */
export const ladder = (name = 'One', edge = 1000): Design =>
  designOfSpec(
    name,
    parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 3,
      passband: { edges: [edge] },
      realization: { family: 'lc-ladder' },
    }),
    'exact',
  )

const away = { ok: false as const, failure: { status: 0, title: 'The server does not answer', detail: '' } }
const problem = (status: number) => ({ ok: false as const, failure: { status, title: `status ${status}`, detail: '' } })

/** How a server answers a save: as it should, or as servers do when something is wrong. */
export type Mood =
  | 'well'
  /** Takes no notice, and does not answer. */
  | 'away'
  /** Saves, and its answer is lost. */
  | 'answer lost'
  /** Saves, and says that it failed. */
  | 'lies: failed'
  /** Saves nothing, and says that somebody else has. */
  | 'lies: changed'
  | 'refuses'

/** A server of designs, as far as savers know servers. */
export class ServerStandIn {
  mood: Mood = 'well'
  /** ms until it answers */
  slowness = 0
  /** Saves that are under way now, and how many were at the most. */
  flights = 0
  mostFlights = 0
  saves = 0
  readonly designs = new Map<string, { document: Design; revision: number }>()

  constructor(designs: Record<string, Design>) {
    for (const [id, document] of Object.entries(designs)) this.designs.set(id, { document, revision: 1 })
  }

  /** Somebody else saves. */
  elsewhere(id: string, change: (document: Design) => Design): number {
    const stored = this.designs.get(id)!
    this.designs.set(id, { document: change(stored.document), revision: stored.revision + 1 })
    return stored.revision + 1
  }

  read = async (id: string): Promise<ApiResult<StoredDesign>> => {
    await this.delay()
    if (this.mood === 'away') return away
    const stored = this.designs.get(id)
    if (!stored) return problem(404)
    return { ok: true, value: { id, projectId: 'p1', updatedAt: stored.revision, ...structuredClone(stored) } }
  }

  save = async (
    id: string,
    seen: number,
    document: Design,
  ): Promise<ApiResult<{ revision: number; updatedAt: number }>> => {
    this.saves++
    this.mostFlights = Math.max(this.mostFlights, ++this.flights)
    await this.delay()
    this.flights--
    const stored = this.designs.get(id)
    if (this.mood === 'away') return away
    if (this.mood === 'refuses') return problem(422)
    if (this.mood === 'lies: changed') return problem(412)
    if (!stored) return problem(404)
    if (stored.revision !== seen) return problem(412)
    this.designs.set(id, { document: structuredClone(document), revision: seen + 1 })
    if (this.mood === 'answer lost') return away
    if (this.mood === 'lies: failed') return problem(500)
    return { ok: true, value: { revision: seen + 1, updatedAt: seen + 1 } }
  }

  private async delay() {
    if (this.slowness > 0) await new Promise((done) => setTimeout(done, this.slowness))
  }
}

/** A browser's storage, which may be full. */
export class StorageStandIn implements Entries {
  isFull = false
  readonly kept = new Map<string, unknown>()
  readonly aside = new Map<string, unknown>()

  async set(key: string, value: unknown) {
    if (this.isFull) throw new DOMException('full', 'QuotaExceededError')
    this.kept.set(key, value)
  }
  async remove(key: string) {
    this.kept.delete(key)
  }
  async entries() {
    return [...this.kept]
  }
  async setAside(key: string, value: unknown) {
    if (this.isFull) throw new DOMException('full', 'QuotaExceededError')
    this.aside.set(key, value)
  }
  async entriesAside() {
    return [...this.aside]
  }
  async removeAside(key: string) {
    this.aside.delete(key)
  }
}

/** The tabs of one browser. */
export class BrowserStandIn {
  readonly storage = new StorageStandIn()
  readonly open = new Set<string>()
  private readonly listeners = new Map<string, (news: News) => void>()

  tab(tab: string): Device {
    this.open.add(tab)
    return {
      tab,
      keeping: keepingIn(this.storage),
      openTabs: async () => this.open,
      tell: (news) => this.listeners.forEach((listener, other) => other !== tab && listener(news)),
      hear: (listener) => void this.listeners.set(tab, listener),
    }
  }

  /** A tab's page goes away. */
  close(tab: string) {
    this.open.delete(tab)
    this.listeners.delete(tab)
  }
}
