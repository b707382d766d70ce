import { z } from 'zod'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { movedEnds } from './connect.js'
import { freeId, freePartId } from './ids.js'

const schema = z.strictObject({ part: z.string(), kind: z.string(), values: z.record(z.string(), z.number()) })

/** A new part with two pins between the first pin of a part and what it was joined to. */
export const putInSeries: CircuitEdit<z.output<typeof schema>> = {
  id: 'put-in-series',
  schema,
  label: ({ part, kind }) => `${partKind(kind).name.toLowerCase()} in series with ${part}`,
  apply(circuit, { part, kind, values }) {
    const [first] = partKind(partOf(circuit, part).kind).pins
    const id = freePartId(circuit, kind)
    const [outer, inner] = partKind(kind).pins
    const moved = movedEnds(circuit, part, first, { part: id, pin: outer })
    const wire = {
      id: freeId(moved, 'wires'),
      ends: [
        { part: id, pin: inner },
        { part, pin: first },
      ] as never,
    }
    return { ...moved, parts: [...moved.parts, { id, kind, values }], wires: [...moved.wires, wire] }
  },
}
