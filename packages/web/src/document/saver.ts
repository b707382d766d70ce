import type { Design, FilterSpecInput } from '@voskel/core'
import type { ApiFailure, ApiResult, StoredDesign } from '../api/client'
import type { Keeping } from './keeping'
import { settled } from './settle'

/**
 * `saved`: the server has it. `unsaved`: it will be saved in a moment. `offline`: the server does not answer; tried
 * again by itself. `refused`: the server will not take it. `conflict`: somebody else has changed the same thing.
 */
export type SaveState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'refused' | 'conflict'

/** A document as the server has it. */
export type Stored = Pick<StoredDesign, 'revision' | 'updatedAt' | 'document'>

/** What a saver needs of the world around it. */
export interface SaverPorts {
  save(
    design: string,
    seen: number,
    document: Design,
    leaving?: boolean,
  ): Promise<ApiResult<{ revision: number; updatedAt: number }>>
  read(design: string): Promise<ApiResult<Stored>>
  readonly keeping: Keeping
  readonly tab: string
  now(): number
  /** The document with what was computed of it, as it is to be sent. */
  stamped(document: Design): Design
  /** Another document takes the place of this one: from a merge, or another window. */
  take(document: Design, why: string): void
  /** Tells other windows that a revision was saved. */
  announce(design: string, revision: number): void
  /** Something that is shown has changed. */
  changed(): void
}

/** ms without an edit after which one is saved */
const SAVE_AFTER = 500
/** ms after which it is saved although edits go on, as while something is dragged */
const LONGEST_WAIT = 4000
const RETRY_AFTER = 3000
/** Documents whose arrival is not known that are remembered: one of them may be the server's. */
const MOST_SENT = 12
/** Least ms between two writings to the device. */
const KEEP_EVERY = 200

/**
 * The way of one design to the server: what is edited is kept on the device at once, saved a moment later, one save at a
 * time, and tried again until the server has it. Nothing that was edited is given up unless its author says so.
 */
export class Saver {
  state: SaveState = 'saved'
  failure: ApiFailure | null = null
  savedAt: number
  /** False where the device does not keep what is unsaved. */
  isKept = true
  private document: Design
  private draft: FilterSpecInput | null = null
  private revision: number
  private base: Design
  private sent: readonly Design[] = []
  private flight: Promise<void> | null = null
  private timer: ReturnType<typeof setTimeout> | undefined
  private waitingSince: number | null = null
  private keepTimer: ReturnType<typeof setTimeout> | undefined
  private keepChain: Promise<void> = Promise.resolve()
  private ended = false

  constructor(
    private readonly design: string,
    stored: Stored,
    private readonly ports: SaverPorts,
  ) {
    this.document = stored.document
    this.base = stored.document
    this.revision = stored.revision
    this.savedAt = stored.updatedAt
  }

  /** The revision that is being edited. */
  get seen(): number {
    return this.revision
  }

  /** There is something that the server does not have. */
  get isUnsaved(): boolean {
    return this.state !== 'saved'
  }

  edited(document: Design): void {
    if (document === this.document) return
    this.document = document
    this.keepSoon()
    if (this.state === 'conflict') return
    if (!this.flight) this.becomeUnsaved()
  }

  /** The specification that is being typed and cannot be used yet; null where there is none. */
  drafted(draft: FilterSpecInput | null): void {
    if (draft === this.draft) return
    this.draft = draft
    // It is typed by hand, and nowhere else yet.
    this.keepNow()
  }

  /** The document is to be sent once more: what was computed of it has come. */
  again(): void {
    if (this.state === 'saved') this.becomeUnsaved()
  }

  /** Another window has saved a revision: followed, unless something of this one's is not saved yet. */
  async heard(revision: number): Promise<void> {
    if (revision <= this.revision || this.state !== 'saved') return
    const before = this.document
    const answer = await this.ports.read(this.design)
    // What was edited meanwhile meets the other version when it is saved.
    if (this.ended || !answer.ok || this.state !== 'saved' || this.document !== before) return
    this.follow(answer.value, 'changed in another window')
  }

  /** Saves at once what still waits. */
  async flush(): Promise<void> {
    if (this.flight) await this.flight
    if (this.isUnsaved) await this.save()
  }

  /** The page goes away: what can still be done is done at once. */
  leave(): void {
    this.keepNow()
    if (this.isUnsaved && !this.flight) void this.save(true)
  }

  /** Ends a conflict with the server's version; undo brings this one back. */
  async takeTheirs(): Promise<void> {
    const theirs = await this.latest()
    if (theirs) this.follow(theirs, 'the other version taken')
  }

  /** Ends a conflict with this version: it is saved over the server's. */
  async keepMine(): Promise<void> {
    const theirs = await this.latest()
    if (!theirs) return
    this.revision = theirs.revision
    this.base = theirs.document
    this.becomeUnsaved()
    await this.save()
  }

  /** Stops; what is unsaved stays kept on the device. */
  async end(): Promise<void> {
    await this.flush()
    this.ended = true
    clearTimeout(this.timer)
    this.keepNow()
    await this.keepChain
  }

  /** Whether all that is unsaved lies on the device now. */
  async settleKept(): Promise<boolean> {
    this.keepNow()
    await this.keepChain
    return this.isKept
  }

  private async latest(): Promise<Stored | null> {
    const answer = await this.ports.read(this.design)
    if (answer.ok) return answer.value
    this.failure = answer.failure
    this.ports.changed()
    return null
  }

  private follow(stored: Stored, why: string): void {
    this.document = stored.document
    this.arrived(stored)
    this.ports.take(stored.document, why)
  }

  private becomeUnsaved(): void {
    // While the server is away it is told so until it has answered.
    if (this.state !== 'offline') this.state = 'unsaved'
    const now = this.ports.now()
    this.waitingSince ??= now
    this.schedule(Math.min(SAVE_AFTER, Math.max(0, this.waitingSince + LONGEST_WAIT - now)))
    this.ports.changed()
  }

  private schedule(ms: number): void {
    clearTimeout(this.timer)
    if (!this.ended) this.timer = setTimeout(() => void this.save(), ms)
  }

  private save(leaving = false): Promise<void> {
    if (this.flight) return this.flight
    if (this.state === 'saved' || this.state === 'conflict') return Promise.resolve()
    const flight = this.send(leaving).finally(() => {
      this.flight = null
      this.ports.changed()
    })
    this.flight = flight
    return flight
  }

  private async send(leaving: boolean): Promise<void> {
    clearTimeout(this.timer)
    const document = this.document
    if (this.state !== 'offline') this.state = 'saving'
    this.waitingSince = null
    if (this.sent.at(-1) !== document) this.sent = [...this.sent.slice(1 - MOST_SENT), document]
    this.ports.changed()
    const answer = await this.ports.save(this.design, this.revision, this.ports.stamped(document), leaving)
    if (answer.ok) {
      this.arrived({ document, ...answer.value })
      this.ports.announce(this.design, this.revision)
      return
    }
    this.failure = answer.failure
    if (answer.failure.status === 412) await this.meet()
    else if (passes(answer.failure)) this.retry()
    else this.state = 'refused'
  }

  /** The server has this document now; whatever was edited meanwhile is to follow. */
  private arrived({ document, revision, updatedAt }: Stored): void {
    this.revision = revision
    this.base = document
    this.sent = []
    this.savedAt = updatedAt
    this.failure = null
    this.state = 'saved'
    if (this.document !== document) this.becomeUnsaved()
    this.keepSoon()
    this.ports.changed()
  }

  /** The server has another revision than the one that was edited. */
  private async meet(): Promise<void> {
    const seen = this.revision
    const answer = await this.ports.read(this.design)
    if (!answer.ok) {
      this.failure = answer.failure
      if (passes(answer.failure)) this.retry()
      else this.state = 'refused'
      return
    }
    const theirs = answer.value
    // A server that refuses the revision it has is not to be asked without a pause.
    if (theirs.revision === seen) return this.retry()
    const next = settled({ document: this.document, revision: seen, base: this.base, sent: this.sent }, theirs)
    if (next.kind === 'same') return this.arrived({ ...theirs, document: this.document })
    if (next.kind === 'differs') {
      this.state = 'conflict'
      return
    }
    this.revision = theirs.revision
    this.base = theirs.document
    this.sent = []
    this.failure = null
    this.state = 'unsaved'
    const isMerged = next.document !== this.document
    this.document = next.document
    if (isMerged) this.ports.take(next.document, 'with what another window saved')
    this.schedule(0)
  }

  private retry(): void {
    this.state = 'offline'
    this.schedule(RETRY_AFTER)
  }

  private keepSoon(): void {
    if (this.keepTimer !== undefined) return
    this.keepNow()
    this.keepTimer = setTimeout(() => {
      this.keepTimer = undefined
      this.keepNow()
    }, KEEP_EVERY)
  }

  private lastKept: readonly unknown[] = []

  private keepNow(): void {
    const { design, draft, document, revision, base, sent } = this
    const { tab, keeping } = this.ports
    const isUnsaved = this.state !== 'saved' || this.document !== this.base
    const content = [isUnsaved && document, draft, revision, isUnsaved && sent.length]
    if (content.every((c, k) => c === this.lastKept[k])) return
    this.lastKept = content
    this.keepChain = this.keepChain.then(async () => {
      if (!isUnsaved && !draft) {
        await keeping.remove({ design, tab })
        this.isKept = true
        return
      }
      const kept = { design, tab, at: this.ports.now(), revision, base, draft, sent }
      const done = await keeping.put({ ...kept, document: isUnsaved ? document : null })
      if (done === this.isKept) return
      this.isKept = done
      this.ports.changed()
    })
  }
}

/** A failure that time may mend: no answer, or a server that cannot now. */
const passes = ({ status }: ApiFailure): boolean => status === 0 || status === 408 || status === 429 || status >= 500
