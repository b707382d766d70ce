import type { Design } from '@voskel/core'

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
 * Both of two changes of one design, where they do not touch the same thing: name, notes, specification, requirements,
 * values, what is said of one part.
 *
 * @returns null where both changed the same thing, otherwise
 */
export function mergedDesigns(base: Design, mine: Design, theirs: Design): Design | null {
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
    const [b, m, t] = [base, mine, theirs].map((fields) => canonical(fields[key]))
    if (m !== b && t !== b && m !== t) return null
    const value = m !== b ? mine[key] : theirs[key]
    if (value !== undefined) merged[key] = value
  }
  return merged
}
