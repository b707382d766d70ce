import { z } from 'zod'
import { parseExpression } from '../../quantity/expression.js'
import { fieldOf } from '../effectiveValues.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'

const schema = z.strictObject({ part: z.string(), field: z.string(), formula: z.string().max(1000) })

/** An expression over parameters for one value of a part; it rules over a number. */
export const setFormula: CircuitEdit<z.output<typeof schema>, 'set-formula'> = {
  id: 'set-formula',
  schema,
  label: ({ part }) => `formula of ${part}`,
  apply(circuit, { part, field, formula }) {
    parseExpression(formula)
    return withPart(circuit, part, (p) => ({ ...p, formulas: { ...p.formulas, [fieldOf(p, field).id]: formula } }))
  },
  says: ({ part, field, formula }) => [
    {
      part,
      patch: ({ formulas, ...rest }) => ({ ...rest, formulas: { ...formulas, [field]: formula } }),
    },
  ],
}
