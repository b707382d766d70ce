/** What was done to a document, with the document before and after it: its own inverse. */
export interface Edit<T> {
  readonly label: string
  /** Edits of one group that follow each other are one. */
  readonly group: string | null
  readonly before: T
  readonly after: T
}

/** Edits that were done and edits that were undone, the latest of each last. Immutable: documents are shared, not copied. */
export interface History<T> {
  readonly past: readonly Edit<T>[]
  readonly future: readonly Edit<T>[]
}

/** Edits that can be undone at the most; older ones are forgotten. */
export const MOST_EDITS = 500

export const emptyHistory: History<never> = { past: [], future: [] }

/** The history after one more edit; what was undone can no longer be redone. */
export function recorded<T>({ past }: History<T>, edit: Edit<T>): History<T> {
  const last = past.at(-1)
  const joins = last !== undefined && edit.group !== null && last.group === edit.group
  return {
    past: joins ? [...past.slice(0, -1), { ...last, after: edit.after }] : [...past.slice(1 - MOST_EDITS), edit],
    future: [],
  }
}

/** Ends a group: the next edit is one of its own. */
export function ungrouped<T>(history: History<T>): History<T> {
  const last = history.past.at(-1)
  if (!last?.group) return history
  return { ...history, past: [...history.past.slice(0, -1), { ...last, group: null }] }
}

/** Takes the last edit back: what history and document are then; null where there is none. */
export function undone<T>({ past, future }: History<T>): { history: History<T>; document: T } | null {
  const last = past.at(-1)
  if (!last) return null
  const history = { past: past.slice(0, -1), future: [...future, { ...last, group: null }] }
  return { history, document: last.before }
}

/** Does the edit that was undone last once more; null where there is none. */
export function redone<T>({ past, future }: History<T>): { history: History<T>; document: T } | null {
  const next = future.at(-1)
  if (!next) return null
  return { history: { past: [...past, next], future: future.slice(0, -1) }, document: next.after }
}
