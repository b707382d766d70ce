import { type Design, type FilterSpecInput, readDesign, readDraft, VoskelError } from '@voskel/core'
import { createStore, del, entries, set } from 'idb-keyval'

/** What a tab holds of a design and the server does not have yet. */
export interface Kept {
  readonly design: string
  /** The tab that typed it. */
  readonly tab: string
  /** When, ms since 1970. */
  readonly at: number
  /** The revision that was edited, and its document where that is known. */
  readonly revision: number
  readonly base: Design | null
  /** null where only a draft is being typed. */
  readonly document: Design | null
  /** What was sent to the server without its arrival being known, the latest last. */
  readonly sent: readonly Design[]
  /** A specification as typed that cannot be used yet. */
  readonly draft: FilterSpecInput | null
}

/** Something that was kept and does not read, as it lies on this device. */
export interface SetAside {
  readonly key: string
  /** Whole, as text. */
  readonly text: string
  /** What it says of itself, as far as that reads: name of the design, and when it was kept, ms since 1970. */
  readonly name: string | null
  readonly at: number | null
  /** What this version makes of it now, as that may read what an earlier one did not; or why nothing. */
  readonly design: Design | null
  readonly problem: string
}

/** What lies on this device until the server has it. */
export interface Keeping {
  /** @returns false where the device does not keep it: its storage is full, or closed to this page */
  put(kept: Kept): Promise<boolean>
  remove(kept: Pick<Kept, 'design' | 'tab'>): Promise<void>
  /** Everything that is kept, oldest first. What cannot be read is set aside, not handed out. */
  all(): Promise<Kept[]>
  /** What has been set aside. */
  aside(): Promise<SetAside[]>
  letGo(aside: SetAside): Promise<void>
}

const keyOf = ({ design, tab }: Pick<Kept, 'design' | 'tab'>) => `${design}/${tab}`

/** Storage as far as keeping needs it. */
export interface Entries {
  set(key: string, value: unknown): Promise<void>
  remove(key: string): Promise<void>
  entries(): Promise<[key: string, value: unknown][]>
  /** Lays something that does not read where it is in nobody's way. */
  setAside(key: string, value: unknown): Promise<void>
  entriesAside(): Promise<[key: string, value: unknown][]>
  removeAside(key: string): Promise<void>
}

/** The browser's own database. */
export function browserEntries(): Entries {
  // A browser that allows no database refuses it at the first use, in the middle of a call.
  const unsaved = once(() => createStore('voskel-unsaved', 'entries'))
  const aside = once(() => createStore('voskel-set-aside', 'entries'))
  return {
    set: async (key, value) => set(key, value, unsaved()),
    remove: async (key) => del(key, unsaved()),
    entries: async () => entries<string, unknown>(unsaved()),
    setAside: async (key, value) => set(key, value, aside()),
    entriesAside: async () => entries<string, unknown>(aside()),
    removeAside: async (key) => del(key, aside()),
  }
}

function once<T>(make: () => T): () => T {
  let made: T | undefined
  return () => (made ??= make())
}

/** A design as text, written once: what an edit keeps beside the new one was kept with the last. */
function textOf(design: Design | null): string {
  if (!design) return 'null'
  const known = texts.get(design) ?? JSON.stringify(design)
  texts.set(design, known)
  return known
}

const texts = new WeakMap<Design, string>()

/** The same as JSON.stringify. */
function written({ base, document, sent, ...rest }: Kept): string {
  const designs = `"base":${textOf(base)},"document":${textOf(document)},"sent":[${sent.map(textOf).join()}]`
  return `${JSON.stringify(rest).slice(0, -1)},${designs}}`
}

/** Keeps in some storage, which may fail at any call. */
export function keepingIn(storage: Entries): Keeping {
  return {
    async put(kept) {
      try {
        // As text: what lies there is then exactly what a file would hold.
        await storage.set(keyOf(kept), written(kept))
        return true
      } catch {
        return false
      }
    },
    async remove(kept) {
      // What cannot be removed is found again later, and found to be saved already.
      await storage.remove(keyOf(kept)).catch(() => {})
    },
    async all() {
      // A storage that cannot be read holds nothing that could be told; `put` says that it keeps nothing either.
      const found = await storage.entries().catch((): [string, unknown][] => [])
      const kept: Kept[] = []
      for (const [key, value] of found) {
        const read = readKept(key, value)
        if (read.kept) kept.push(read.kept)
        if (read.whole) continue
        try {
          await storage.setAside(key, value)
          // Only what lies aside safely is taken away.
          if (read.kept) await storage.set(key, JSON.stringify(read.kept))
          else await storage.remove(key)
        } catch {
          // It stays where it is, and is passed over each time.
        }
      }
      return kept.sort((a, b) => a.at - b.at)
    },
    async aside() {
      const found = await storage.entriesAside().catch((): [string, unknown][] => [])
      return found.map(([key, value]) => readAside(key, String(value)))
    },
    async letGo({ key }) {
      await storage.removeAside(key).catch(() => {})
    },
  }
}

function readAside(key: string, text: string): SetAside {
  const nothing = { key, text, name: null, at: null, design: null }
  let parsed: Record<string, unknown>
  try {
    parsed = Object(JSON.parse(text)) as Record<string, unknown>
  } catch {
    return { ...nothing, problem: 'It is no JSON: part of it is missing, or something else has written it.' }
  }
  const { document, base, draft, at } = parsed
  const latest = document ?? base
  const name = (latest as { name?: unknown } | null | undefined)?.name
  const said = {
    ...nothing,
    name: typeof name === 'string' ? name : null,
    at: typeof at === 'number' ? at : null,
  }
  if (latest === null || latest === undefined)
    return {
      ...said,
      problem: draft ? 'It holds a specification that was being typed, and no design.' : 'It holds no design.',
    }
  try {
    return { ...said, design: readDesign(latest), problem: '' }
  } catch (error) {
    return { ...said, problem: error instanceof VoskelError ? `${error.message} ${error.remedy}` : 'It does not read.' }
  }
}

/**
 * What was kept, as far as it is something that this version can use.
 *
 * @returns `whole` false where something of it does not read
 */
function readKept(key: string, value: unknown): { kept: Kept | null; whole: boolean } {
  try {
    const parsed = JSON.parse(String(value)) as Partial<Record<keyof Kept, unknown>>
    const { design, tab, at, revision } = parsed
    const isOurs = typeof design === 'string' && typeof tab === 'string' && key === keyOf({ design, tab })
    if (!isOurs || typeof at !== 'number' || typeof revision !== 'number') return { kept: null, whole: false }
    const designIn = (value: unknown) => (value ? readDesign(value) : null)
    const [base, document] = [parsed.base, parsed.document].map(designIn)
    const sent = (Array.isArray(parsed.sent) ? parsed.sent : []).map(readDesign)
    const draft = parsed.draft ? readDraft(parsed.draft) : null
    const whole = draft !== null || !parsed.draft
    if (!document && !draft) return { kept: null, whole: false }
    return { kept: { design, tab, at, revision, base: base!, document: document!, sent, draft }, whole }
  } catch {
    return { kept: null, whole: false }
  }
}
