import type { FilterSpecInput } from '../specification/filterSpec.js'
import { topologies } from './index.js'

/** Another way to make the circuit: values that both have are kept, the rest begins with usual ones. */
export function withTopology(spec: FilterSpecInput, id: string): FilterSpecInput {
  const next = topologies.find((t) => t.id === id)
  if (!next) return spec
  const before: Record<string, unknown> = spec.realization ?? {}
  const values = next.fields.flatMap((field) => {
    if (field.kind !== 'quantity') return []
    const kept = before[field.id]
    // A passive network has resistances at both ends.
    const isZeroSource = next.family === 'passive' && field.id === 'source' && kept === 0
    const isWord = field.word !== undefined && kept === field.word
    if (isWord || (typeof kept === 'number' && !isZeroSource)) return [[field.id, kept]]
    return field.optional ? [] : [[field.id, field.default]]
  })
  return { ...spec, realization: { family: id, ...Object.fromEntries(values) } }
}

/** A value of the way the circuit is made; null, or an empty text, leaves it out. */
export function withRealizationValue(spec: FilterSpecInput, id: string, value: unknown): FilterSpecInput {
  if (!spec.realization) return spec
  const { [id]: _old, ...rest } = spec.realization
  const isLeftOut = value === null || value === undefined || value === ''
  const given = isLeftOut ? {} : { [id]: value }
  return { ...spec, realization: { ...rest, family: spec.realization.family, ...given } }
}
