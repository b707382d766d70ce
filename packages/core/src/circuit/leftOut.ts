import { definitionOf } from './blocks.js'
import type { Circuit, Model, Subcircuit } from './circuit.js'
import { partKind } from './parts/index.js'
import type { PartKind } from './parts/PartKind.js'

/** Names beyond which a list ends. */
const MOST = 8

/** Of some names of a model's values those that are not offered and may change a curve. */
export const mattering = ({ notOffered = {} }: PartKind, names: readonly string[]): string[] =>
  names.filter((name) => Object.hasOwn(notOffered, name))

/** Values of a model that are not offered, each with what it means, as a list for a sentence. */
export function meaningOf({ notOffered = {} }: PartKind, names: readonly string[]): string {
  const listed = names
    .slice(0, MOST)
    .map((name) => `${name.toUpperCase()}${Object.hasOwn(notOffered, name) ? ` (${notOffered[name]})` : ''}`)
  return `${listed.join(', ')}${names.length > MOST ? ` and ${names.length - MOST} more` : ''}`
}

/** The models of a circuit or block that were read without all that their text says, with the parts that have them. */
export function partialModels({
  parts,
  models = {},
}: Circuit | Subcircuit): { name: string; lacks: string; users: string[] }[] {
  return Object.entries(models).flatMap(([name, model]: [string, Model]) => {
    const users = parts.filter((p) => p.kind === model.kind && p.model?.toLowerCase() === name.toLowerCase())
    if (!model.leftOut?.length || users.length === 0) return []
    return [{ name, lacks: meaningOf(partKind(model.kind), model.leftOut), users: users.map((p) => p.id) }]
  })
}

/** Whether a part of that name stands in the place of what was left out. */
const isThere = ({ parts }: Subcircuit, name: string) => parts.some((p) => p.id.toUpperCase() === name.toUpperCase())

/** What a block was read without, it and those inside it: elements by name, and values of models. */
export function lacksOf(
  circuit: Circuit,
  block: string,
  around: readonly string[] = [],
): { elements: string[]; models: string[] } {
  if (around.includes(block)) return { elements: [], models: [] }
  const own = definitionOf(circuit, block)
  const models = { ...circuit.models, ...own.models }
  const inner = new Set(own.parts.flatMap(({ definition }) => (definition === undefined ? [] : [definition])))
  const below = [...inner].map((name) => lacksOf(circuit, name, [...around, block]))
  return {
    elements: [...(own.leftOut ?? []).filter((name) => !isThere(own, name)), ...below.flatMap((b) => b.elements)],
    models: [
      ...partialModels({ ...own, models }).map((m) => `${m.name} ${m.lacks}`),
      ...below.flatMap((b) => b.models),
    ],
  }
}
