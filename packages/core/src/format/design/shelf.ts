import { z } from 'zod'
import { useOf, usesOf } from '../../circuit/blocks.js'
import { type Circuit, CircuitSchema, type Model } from '../../circuit/circuit.js'
import { partKinds } from '../../circuit/parts/index.js'
import type { Design } from './Design.js'

const common = {
  name: z.string().min(1, 'It needs a name.').max(200, 'A name has at most 200 characters.'),
  /** To be put into another circuit: a block as one use of it, a model alone. */
  piece: CircuitSchema.refine(
    ({ parts }) => parts.every((p) => partKinds.some((k) => k.id === p.kind)),
    'A kind of part in it is not known.',
  ),
}

/** What a design has that another one may use: a block, or a model of a kind of part. */
export const ShelvedSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('block'), ...common }),
  z.strictObject({
    kind: z.literal('model'),
    ...common,
    of: z
      .string()
      .refine((id) => partKinds.some((k) => k.id === id && k.modelType), 'No kind of part has such models.'),
  }),
])
export type Shelved = z.output<typeof ShelvedSchema>

const bare = (more: Partial<Circuit>): Circuit => ({ parts: [], wires: [], junctions: [], labels: [], ...more })

/** The blocks and models of a design. */
export const shelfOf = ({ circuit }: Design): Shelved[] =>
  circuit.origin === 'drawn' ? shelfOfCircuit(circuit.circuit) : []

/** The blocks and models of a circuit. */
export function shelfOfCircuit(circuit: Circuit): Shelved[] {
  const { subcircuits = {}, models = {} } = circuit
  const blocks = Object.keys(subcircuits).map((name): Shelved => {
    const needed = [name]
    for (const block of needed)
      for (const used of Object.hasOwn(subcircuits, block) ? usesOf(subcircuits[block]).keys() : [])
        if (!needed.includes(used)) needed.push(used)
    const named = new Set(
      needed.flatMap((n) => subcircuits[n]?.parts.flatMap((p) => p.model?.toLowerCase() ?? []) ?? []),
    )
    const own = pick(models, (model) => named.has(model.toLowerCase()))
    const piece = bare({
      parts: [{ id: 'X1', ...useOf(circuit, name) }],
      subcircuits: pick(subcircuits, (block) => needed.includes(block)),
      ...(Object.keys(own).length > 0 && { models: own }),
    })
    return { name, kind: 'block', piece }
  })
  const others = Object.entries(models).map(([name, model]: [string, Model]): Shelved => ({
    name,
    kind: 'model',
    of: model.kind,
    piece: bare({ models: { [name]: model } }),
  }))
  return [...blocks, ...others]
}

const pick = <T>(table: Readonly<Record<string, T>>, isWanted: (name: string) => boolean): Record<string, T> =>
  Object.fromEntries(Object.entries(table).filter(([name]) => isWanted(name)))
