import { z } from 'zod'
import { PlaceSchema } from '../circuit.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ part: z.string(), at: PlaceSchema })

/** Where a part lies on the drawing, how it is turned and whether it is mirrored. */
export const placePart: CircuitEdit<z.output<typeof schema>, 'place-part'> = {
  id: 'place-part',
  schema,
  label: ({ part }) => `${part} moved`,
  apply: (circuit, { part, at }) => withPart(circuit, part, (p) => ({ ...p, at })),
  says: ({ part, at }) => [{ part, patch: (before) => ({ ...before, at }) }],
}
