import { z } from 'zod'
import { definitionOf } from '../blocks.js'
import { type CircuitEdit, withPart } from './CircuitEdit.js'
import { VoskelError } from '../../errors/VoskelError.js'

const schema = z.strictObject({
  part: z.string(),
  parameter: z.string(),
  /** A number, an expression, or null for what the block says itself. */
  value: z.union([z.number(), z.string().max(1000), z.null()]),
})

/** Another value for a parameter of a block at one of its places. */
export const setBlockParameter: CircuitEdit<z.output<typeof schema>, 'set-block-parameter'> = {
  id: 'set-block-parameter',
  schema,
  label: ({ part, parameter }) => `${parameter} of ${part}`,
  apply: (circuit, { part, parameter, value }) =>
    withPart(circuit, part, (own) => {
      const { parameters = {} } = definitionOf(circuit, own.definition ?? '')
      if (!Object.hasOwn(parameters, parameter))
        throw new VoskelError(
          'CIRCUIT_INVALID',
          {
            problem: `The block "${own.definition}" has no parameter "${parameter}".`,
            fix: `Its parameters are: ${Object.keys(parameters).join(', ') || 'none'}.`,
          },
          { part },
        )
      const { [parameter]: _value, ...values } = own.values
      const { [parameter]: _formula, ...formulas } = own.formulas ?? {}
      const { formulas: _formulas, ...rest } = own
      const given = typeof value === 'string' ? { ...formulas, [parameter]: value } : formulas
      return {
        ...rest,
        values: typeof value === 'number' ? { ...values, [parameter]: value } : values,
        ...(Object.keys(given).length > 0 && { formulas: given }),
      }
    }),
}

const removeSchema = z.strictObject({ block: z.string() })

/** A block that is used nowhere goes. */
export const removeBlock: CircuitEdit<z.output<typeof removeSchema>, 'remove-block'> = {
  id: 'remove-block',
  schema: removeSchema,
  label: ({ block }) => `block ${block} removed`,
  apply(circuit, { block }) {
    definitionOf(circuit, block)
    const used = [circuit, ...Object.values(circuit.subcircuits ?? {})].some((c) =>
      c.parts.some((p) => p.definition === block),
    )
    if (used)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `The block "${block}" is still used.`,
        fix: 'Remove its parts first.',
      })
    const { [block]: _gone, ...others } = circuit.subcircuits ?? {}
    const { subcircuits: _all, ...rest } = circuit
    return Object.keys(others).length > 0 ? { ...rest, subcircuits: others } : rest
  },
}
