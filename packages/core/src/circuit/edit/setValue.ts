import { z } from 'zod'
import { patchWithValue } from '../patch.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ part: z.string(), field: z.string(), value: z.number() })

/** A number for one value of a part, in SI units; a formula for it goes. */
export const setValue: CircuitEdit<z.output<typeof schema>> = {
  id: 'set-value',
  schema,
  label: ({ part }) => `value of ${part}`,
  apply: (circuit, { part, field, value }) =>
    withPart(circuit, part, ({ formulas = {}, ...rest }) => {
      const { [field]: _gone, ...others } = formulas
      return {
        ...rest,
        values: { ...rest.values, [field]: value },
        ...(Object.keys(others).length > 0 && { formulas: others }),
      }
    }),
  says: ({ part, field, value }) => ({ part, patch: (before) => patchWithValue(before, field, value) }),
}
