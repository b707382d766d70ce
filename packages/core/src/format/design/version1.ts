import { z } from 'zod'
import { CircuitSchema, type Part } from '../../circuit/circuit.js'
import type { PartPatch } from '../../circuit/patch.js'
import { valuePolicy } from '../../synthesis/values.js'
import { COMMON, type Design, DESIGN_VERSION } from './Design.js'
import { asked } from './asked.js'
import type { Upgrade } from './Upgrade.js'

const Schema = z.strictObject({
  ...COMMON,
  version: z.literal(1),
  circuit: CircuitSchema.optional(),
  inverting: z.boolean().optional(),
})

/**
 * Version 1 kept the circuit itself, with typed values in it; a value's computed one stood beside it in `exact`. Of a
 * part whose value is not the one that rounding gives, the value was typed.
 */
export const version1: Upgrade<z.output<typeof Schema>> = {
  version: 1,
  schema: Schema,
  blocksOf: ({ circuit }) => (circuit ? [['circuit', circuit]] : []),
  upgrade({ circuit, specification, ...rest }): Design {
    const design = { ...rest, version: DESIGN_VERSION, ...asked(specification) } as const
    if (!circuit) return { ...design, circuit: { origin: 'derived', patches: {} } }
    if (!specification?.realization) return { ...design, circuit: { origin: 'drawn', circuit } }
    const rounding = valuePolicy(rest.values)
    const patches: Record<string, PartPatch> = {}
    const parts = circuit.parts.map((part): Part => {
      const { exact = {}, ...bare } = part
      const computed = Object.fromEntries(Object.entries(exact).map(([id, v]) => [id, rounding.nearest(v)]))
      const typed = Object.entries(part.values).filter(([id, v]) => computed[id] !== undefined && computed[id] !== v)
      if (typed.length > 0) patches[part.id] = { values: Object.fromEntries(typed) }
      const rounded = Object.entries(exact).filter(([id, v]) => computed[id] !== v)
      return {
        ...bare,
        values: { ...part.values, ...computed },
        ...(rounded.length > 0 && { exact: Object.fromEntries(rounded) }),
      }
    })
    return { ...design, circuit: { origin: 'derived', patches, witness: { ...circuit, parts } } }
  },
}
