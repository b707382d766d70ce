import { VoskelError } from '../errors/VoskelError.js'
import type { Circuit, Part, Subcircuit } from './circuit.js'

/** The circuit inside a block, with what it may name from outside: models, parameters and other blocks. */
export function insideOf(circuit: Circuit, block: string): Circuit {
  const { pins: _pins, ...own } = definitionOf(circuit, block)
  const models = { ...circuit.models, ...own.models }
  const parameters = { ...circuit.parameters, ...own.parameters }
  return {
    ...own,
    ...(Object.keys(models).length > 0 && { models }),
    ...(Object.keys(parameters).length > 0 && { parameters }),
    ...(circuit.subcircuits && { subcircuits: circuit.subcircuits }),
  }
}

/**
 * The circuit with another inside of a block, wherever the block is used.
 *
 * @throws VoskelError `CIRCUIT_INVALID` where the block would contain itself
 */
export function withInside(circuit: Circuit, block: string, inside: Circuit): Circuit {
  const { pins } = definitionOf(circuit, block)
  const { subcircuits: others, initial: _initial, models, parameters, ...rest } = inside
  const own = <T>(have: Record<string, T> = {}, outer: Record<string, T> = {}, before: Record<string, T> = {}) =>
    Object.fromEntries(
      Object.entries(have).filter(
        ([name, value]) => name in before || JSON.stringify(outer[name]) !== JSON.stringify(value),
      ),
    )
  const before = definitionOf(circuit, block)
  const ownModels = own(models, circuit.models, before.models)
  const ownParameters = own(parameters, circuit.parameters, before.parameters)
  const definition: Subcircuit = {
    ...rest,
    pins,
    ...(Object.keys(ownModels).length > 0 && { models: ownModels }),
    ...(Object.keys(ownParameters).length > 0 && { parameters: ownParameters }),
  }
  const next = { ...circuit, subcircuits: { ...circuit.subcircuits, ...others, [block]: definition } }
  refuseCircles(next, block)
  return next
}

/** The names of the blocks that a circuit uses, and how often. */
export function usesOf(circuit: Circuit | Subcircuit): Map<string, number> {
  const uses = new Map<string, number>()
  for (const { kind, definition } of circuit.parts)
    if (kind === 'subcircuit' && definition !== undefined) uses.set(definition, (uses.get(definition) ?? 0) + 1)
  return uses
}

/** @throws VoskelError `CIRCUIT_INVALID` where a block is used inside itself, be it through others */
export function refuseCircles(circuit: Circuit, block: string): void {
  const seen = new Set<string>()
  const open = [block]
  for (let name = open.pop(); name !== undefined; name = open.pop()) {
    const definition =
      circuit.subcircuits && Object.hasOwn(circuit.subcircuits, name) ? circuit.subcircuits[name] : null
    for (const used of definition ? usesOf(definition).keys() : []) {
      if (used === block)
        throw new VoskelError('CIRCUIT_INVALID', {
          problem: `The block "${block}" would contain itself${name === block ? '' : `, inside "${name}"`}.`,
          fix: 'Use another block there, or make a new one of what is to be repeated.',
        })
      if (!seen.has(used)) open.push(used)
      seen.add(used)
    }
  }
}

/** @throws VoskelError `CIRCUIT_INVALID` naming the blocks that there are */
export function definitionOf(circuit: Circuit, block: string): Subcircuit {
  const { subcircuits = {} } = circuit
  if (Object.hasOwn(subcircuits, block)) return subcircuits[block]
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `There is no block "${block}" in this circuit.`,
    fix: `Its blocks are: ${Object.keys(subcircuits).join(', ') || 'none'}.`,
  })
}

/** A use of a block as a part, but for its name and its place. */
export function useOf(circuit: Circuit, block: string): Omit<Part, 'id'> {
  return { kind: 'subcircuit', values: {}, definition: block, pins: [...definitionOf(circuit, block).pins] }
}

/** What pins of blocks that stand for a part are called in practice, by the part's own pin (common practice, no source). */
const CALLED: Readonly<Record<string, readonly string[]>> = {
  plus: ['in+', 'inp', 'noninv', 'nin', '+', 'p', '3'],
  minus: ['in-', 'inn', 'inv', '-', 'n', '2'],
  out: ['output', 'vout', 'o', '6'],
  collector: ['c'],
  base: ['b'],
  emitter: ['e'],
  drain: ['d'],
  gate: ['g'],
  source: ['s'],
  bulk: ['b', 'sub'],
  anode: ['a', '1'],
  cathode: ['k', 'c', '2'],
}

/**
 * Which pin of a block, as `p1`, `p2`, …, stands for each pin of a part: by its name, else by what it is usually called, else the
 * next one that is free.
 *
 * @param names what the block's pins are called, in their order
 */
export function matchedPins(pins: readonly string[], names: readonly string[]): Record<string, string> {
  const found: Record<string, string> = {}
  const isFree = (k: number) => !Object.values(found).includes(`p${k + 1}`)
  const give = (pin: string, isIt: (name: string) => boolean) => {
    const k = names.findIndex((name, n) => isFree(n) && isIt(name.toLowerCase()))
    if (found[pin] === undefined && k >= 0) found[pin] = `p${k + 1}`
  }
  for (const pin of pins) give(pin, (name) => name === pin.toLowerCase())
  for (const pin of pins) give(pin, (name) => (CALLED[pin] ?? []).includes(name))
  for (const pin of pins) give(pin, () => true)
  return found
}
