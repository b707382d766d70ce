import { z } from 'zod'
import { PlaceSchema } from '../circuit.js'
import { partKind } from '../parts/index.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { NewPartSchema, withNewPart } from './newPart.js'
import { withClear } from './room.js'
import { endsOf, joinTouching } from './spots.js'

const schema = z.strictObject({ part: NewPartSchema, at: PlaceSchema })

/** A new part at a place, or the nearest to it that is free; what its pins touch they are joined to. */
export const putPart: CircuitEdit<z.output<typeof schema>, 'put-part'> = {
  id: 'put-part',
  schema,
  label: ({ part }) => `${partKind(part.kind).name.toLowerCase()} placed`,
  apply(circuit, { part, at }) {
    const [added, made] = withNewPart(circuit, part, at)
    const placed = withClear(added, made.id)
    return joinTouching(placed, endsOf([made.id]))
  },
}
