import type { Design } from '@voskel/core'
import { mergedDesigns, sameDesign } from './merge'

/** A design that was edited here, and what is known of where it came from. */
export interface Edited {
  readonly document: Design
  /** The revision that was edited, and its document where that is known. */
  readonly revision: number
  readonly base: Design | null
  /** What was sent without its arrival being known, the latest last. */
  readonly sent: readonly Design[]
}

/** What becomes of an edited design when the server has another one. */
export type Settled =
  /** The server has it already. */
  | { readonly kind: 'same' }
  /** Nobody else has changed anything, or nothing that was changed here: this is to be saved over the server's. */
  | { readonly kind: 'send'; readonly document: Design }
  /** Both changed the same thing: somebody has to choose. */
  | { readonly kind: 'differs' }

export function settled(
  { document, revision, base, sent }: Edited,
  theirs: { readonly document: Design; readonly revision: number },
): Settled {
  if (sameDesign(document, theirs.document)) return { kind: 'same' }
  // What was sent may have arrived though its answer did not: then nobody else has changed anything.
  if (theirs.revision === revision || sent.some((d) => sameDesign(d, theirs.document)))
    return { kind: 'send', document }
  const merged = base && mergedDesigns(base, document, theirs.document)
  return merged ? { kind: 'send', document: merged } : { kind: 'differs' }
}
