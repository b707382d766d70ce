import { type Design, readDesign, VoskelError } from '@voskel/core'

/** As text in which the order of keys does not count. */
const canonical = (value: unknown): string =>
  JSON.stringify(value ?? null, (_key, entry: unknown) =>
    entry && typeof entry === 'object' && !Array.isArray(entry)
      ? Object.fromEntries(Object.entries(entry).sort(([a], [b]) => (a < b ? -1 : 1)))
      : entry,
  )

/** Whether two designs say the same; what was computed of them does not count. */
export const sameDesign = (a: Design, b: Design): boolean => canonical(said(a)) === canonical(said(b))

/** A design without what was only computed of it. */
function said({ inverting: _turned, limits: _limits, ...design }: Design): Design {
  if (design.circuit.origin === 'drawn') return design
  const { witness: _witness, ...circuit } = design.circuit
  return { ...design, circuit }
}

/**
 * Both of two changes of one design, where they do not touch the same thing: name, notes, a field of the specification,
 * requirements, values, what is said of one part.
 *
 * @returns null where both changed the same thing, otherwise, and where both together ask what cannot be
 */
export function mergedDesigns(base: Design, mine: Design, theirs: Design): Design | null {
  const merged = mergedParts(base, mine, theirs)
  return merged && isSound(merged) ? merged : null
}

function isSound(design: Design): boolean {
  try {
    readDesign(design)
    return true
  } catch (error) {
    if (error instanceof VoskelError) return false
    throw error
  }
}

function mergedParts(base: Design, mine: Design, theirs: Design): Design | null {
  const circuits = [base, mine, theirs].map((d) => said(d).circuit)
  const [ofBase, ofMine, ofTheirs] = circuits.map((c) => (c.origin === 'derived' ? c.patches : null))
  if (!ofBase || !ofMine || !ofTheirs)
    return mergedFields(said(base), said(mine), said(theirs)) as unknown as Design | null
  // Of circuits that are all computed each part is a field of its own.
  const [merged, patches] = [
    mergedFields(withoutCircuit(base), withoutCircuit(mine), withoutCircuit(theirs)),
    mergedFields(ofBase, ofMine, ofTheirs),
  ]
  return merged && patches && ({ ...merged, circuit: { origin: 'derived', patches } } as unknown as Design)
}

function withoutCircuit(design: Design): Fields {
  const { circuit: _circuit, ...rest } = said(design)
  return rest
}

type Fields = Readonly<Record<string, unknown>>

function mergedFields(base: Fields, mine: Fields, theirs: Fields): Record<string, unknown> | null {
  const merged: Record<string, unknown> = {}
  for (const key of new Set([...Object.keys(base), ...Object.keys(mine), ...Object.keys(theirs)])) {
    const all = [base, mine, theirs].map((fields) => fields[key])
    const [b, m, t] = all.map(canonical)
    if (m !== b && t !== b && m !== t) {
      if (!DEEPER.has(key) || !all.every(isFields) || kindChanged(all)) return null
      const [ofBase, ofMine, ofTheirs] = all as [Fields, Fields, Fields]
      const within = mergedFields(ofBase, ofMine, ofTheirs)
      if (!within) return null
      merged[key] = within
      continue
    }
    const value = m !== b ? mine[key] : theirs[key]
    if (value !== undefined) merged[key] = value
  }
  return merged
}

/** What is made of fields that are edited one by one. Lists, such as edges, belong together. */
const DEEPER = new Set(['specification', 'passband', 'stopband', 'shape', 'realization', 'equalizer'])

/** Fields on which the meaning of those beside them depends: where one has changed, the others were chosen for it. */
const KINDS = ['response', 'approximation', 'family', 'variant']

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

const kindChanged = (all: readonly Fields[]): boolean =>
  KINDS.some((kind) => new Set(all.map((fields) => canonical(fields[kind]))).size > 1)
