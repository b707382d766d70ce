import { z } from 'zod'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, partOf, pinsToJoin } from './CircuitEdit.js'
import { isAt, movedEnds, wired } from './connect.js'
import { freePartId } from '../ids.js'

const schema = z.strictObject({ part: z.string(), kind: z.string(), values: z.record(z.string(), z.number()) })

/** A new part with two pins between the first pin of a part and what it was joined to. */
export const putInSeries: CircuitEdit<z.output<typeof schema>, 'put-in-series'> = {
  id: 'put-in-series',
  schema,
  label: ({ part, kind }) => `${partKind(kind).name.toLowerCase()} in series with ${part}`,
  apply(circuit, { part, kind, values }) {
    const [first] = partKind(partOf(circuit, part).kind).pins
    const id = freePartId(circuit, kind)
    const [outer, inner] = pinsToJoin(kind, 2)
    const moved = movedEnds(circuit, (end) => (isAt(end, part, first) ? { part: id, pin: outer } : end))
    const placed = { ...moved, parts: [...moved.parts, { id, kind, values }] }
    return wired(placed, { part: id, pin: inner }, { part, pin: first })
  },
}
