import type { Design } from '@voskel/core'
import type { ApiResult } from '../api/client'
import type { Kept, Keeping } from './keeping'
import type { Stored } from './saver'
import { settled } from './settle'

/** What is kept on this device of a design that is not open, and why it is not sent. */
export interface Unsent {
  readonly kept: Kept
  /** `waiting`: the server does not answer. `differs`: the server's was changed too. `gone`: it has no such design. */
  readonly why: 'waiting' | 'differs' | 'gone'
}

export interface OutboxPorts {
  save(design: string, seen: number, document: Design): Promise<ApiResult<{ revision: number }>>
  read(design: string): Promise<ApiResult<Stored>>
  readonly keeping: Keeping
  /** The tabs that are open, this one included, and the design that is open in this one. */
  openTabs(): Promise<ReadonlySet<string>>
  readonly tab: string
  openDesign(): string | null
  announce(design: string, revision: number): void
  changed(unsent: readonly Unsent[]): void
}

const RETRY_AFTER = 5000

/**
 * Sends what is kept of designs that are not open: edits that were made while the server was away, by this tab or one
 * that is closed now. What it cannot send stays kept.
 */
export class Outbox {
  private sweeping: Promise<void> | null = null
  private timer: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly ports: OutboxPorts) {}

  /** Looks through everything that is kept, and again later while something waits. */
  sweep(): Promise<void> {
    this.sweeping ??= this.work().finally(() => (this.sweeping = null))
    return this.sweeping
  }

  /**
   * What other tabs, closed now, and this one before have left of a design that is being opened, oldest first; and whether
   * tabs that are open keep something of it, too. A tab that has just been closed counts as open for a moment.
   */
  async leftOf(design: string): Promise<{ left: Kept[]; inOpenTabs: boolean }> {
    const all = (await this.ports.keeping.all()).filter((kept) => kept.design === design)
    if (all.length === 0) return { left: [], inOpenTabs: false }
    const open = await this.ports.openTabs()
    const isLeft = ({ tab }: Kept) => tab === this.ports.tab || !open.has(tab)
    return { left: all.filter(isLeft), inOpenTabs: !all.every(isLeft) }
  }

  /** What nobody looks after: of tabs that are closed, and of this tab's designs that are not open. */
  private async left(): Promise<Kept[]> {
    const all = await this.ports.keeping.all()
    if (all.length === 0) return []
    const open = await this.ports.openTabs()
    return all.filter(({ tab, design }) =>
      tab === this.ports.tab ? design !== this.ports.openDesign() : !open.has(tab),
    )
  }

  private async work(): Promise<void> {
    clearTimeout(this.timer)
    const unsent: Unsent[] = []
    for (const kept of await this.left()) {
      if (!kept.document || kept.design === this.ports.openDesign()) continue
      const why = await this.send(kept, kept.document)
      if (why) unsent.push({ kept, why })
    }
    this.ports.changed(unsent)
    if (unsent.some(({ why }) => why === 'waiting')) this.timer = setTimeout(() => void this.sweep(), RETRY_AFTER)
  }

  /** Why it could not be sent; null where the server has it now. */
  private async send(kept: Kept, document: Design): Promise<Unsent['why'] | null> {
    const { ports } = this
    const theirs = await ports.read(kept.design)
    if (!theirs.ok) return theirs.failure.status === 404 ? 'gone' : 'waiting'
    const next = settled({ ...kept, document }, theirs.value)
    if (next.kind === 'differs') return 'differs'
    if (next.kind === 'send') {
      const answer = await ports.save(kept.design, theirs.value.revision, next.document)
      if (!answer.ok) return 'waiting'
      ports.announce(kept.design, answer.value.revision)
    }
    await this.forget(kept)
    return null
  }

  /** Lets go what the server has; a draft that is being typed stays. */
  private async forget(kept: Kept): Promise<void> {
    if (kept.draft) await this.ports.keeping.put({ ...kept, document: null, base: null, sent: [] })
    else await this.ports.keeping.remove(kept)
  }
}
