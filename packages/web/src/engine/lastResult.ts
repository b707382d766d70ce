import { createStore, del, get, set, update } from 'idb-keyval'
import { ENGINE } from './workers'

/** What was computed of a design when it was last open. */
export interface LastResult {
  /** The build of the engine that computed it. */
  readonly engine: string
  /** The question, as text. */
  readonly of: string
  /** Its answers, piece by piece. */
  readonly answers: unknown
}

/** Designs of which a result is kept. */
const MOST_KEPT = 24
/** Where the designs are listed, the latest first. */
const LIST = '/list'

let made: ReturnType<typeof createStore> | null = null
// A browser that allows no database refuses it at the first use, in the middle of a call.
const store = () => (made ??= createStore('voskel-results', 'entries'))

let ahead: { design: string; found: Promise<LastResult | null> } | null = null

/** The last result of a design, if this build computed it. Asked for twice in a row it is read once. */
export function lastResult(design: string): Promise<LastResult | null> {
  if (ahead?.design !== design) ahead = { design, found: read(design) }
  return ahead.found
}

async function read(design: string): Promise<LastResult | null> {
  try {
    const found = await get<LastResult>(design, store())
    const isOurs = found?.engine === ENGINE && typeof found.answers === 'object' && found.answers !== null
    return isOurs ? found : null
  } catch {
    // Without a database nothing was kept, and the engine answers in a moment.
    return null
  }
}

/** Keeps what was computed. A device that keeps nothing computes it again. */
export async function keepResult(design: string, result: Omit<LastResult, 'engine'>): Promise<void> {
  if (ahead?.design === design) ahead = null
  try {
    await set(design, { ...result, engine: ENGINE }, store())
    const gone: string[] = []
    await update<string[]>(
      LIST,
      (before = []) => {
        const all = [design, ...before.filter((d) => d !== design)]
        gone.push(...all.slice(MOST_KEPT))
        return all.slice(0, MOST_KEPT)
      },
      store(),
    )
    for (const old of gone) await del(old, store())
  } catch {
    // A full or forbidden storage costs the picture before the next answer, nothing else.
  }
}
