import { z } from 'zod'
import { withOwnValue } from '../patch.js'
import { fieldOf } from '../effectiveValues.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ part: z.string(), field: z.string(), value: z.number() })

/** A number for one value of a part, in SI units; a formula for it goes. */
export const setValue: CircuitEdit<z.output<typeof schema>, 'set-value'> = {
  id: 'set-value',
  schema,
  label: ({ part }) => `value of ${part}`,
  apply: (circuit, { part, field, value }) =>
    withPart(circuit, part, (p) => withOwnValue(p, fieldOf(p, field).id, value)),
  says: ({ part, field, value }) => [{ part, patch: (before) => withOwnValue(before, field, value) }],
}
