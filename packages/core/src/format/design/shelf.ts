import { useOf, usesOf } from '../../circuit/blocks.js'
import type { Circuit, Model } from '../../circuit/circuit.js'
import type { Design } from './Design.js'

/** What a design has that another one may use: a block, or a model of a kind of part. */
export type Shelved = {
  readonly name: string
  /** To be put into another circuit: a block as one use of it, a model alone. */
  readonly piece: Circuit
} & ({ readonly kind: 'block' } | { readonly kind: 'model'; readonly of: string })

const bare = (more: Partial<Circuit>): Circuit => ({ parts: [], wires: [], junctions: [], labels: [], ...more })

/** The blocks and models of a design. */
export function shelfOf({ circuit }: Design): Shelved[] {
  if (circuit.origin !== 'drawn') return []
  const { subcircuits = {}, models = {} } = circuit.circuit
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
      parts: [{ id: 'X1', ...useOf(circuit.circuit, name) }],
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
