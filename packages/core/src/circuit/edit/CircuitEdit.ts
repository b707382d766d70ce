import type { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, Part } from '../circuit.js'
import { partKind } from '../parts/index.js'
import type { PartPatch } from '../patch.js'

/**
 * Something that is done to a circuit. Each stands in a file of its own and in the list of index.ts; undo is the circuit
 * before it.
 */
export interface CircuitEdit<A, Id extends string = string> {
  readonly id: Id
  readonly schema: z.ZodType<A>
  /** As undo says it. */
  label(args: A): string
  /** @throws VoskelError `CIRCUIT_INVALID` where there is no such part, net or value */
  apply(circuit: Circuit, args: A): Circuit
  /**
   * Where it neither adds, removes nor rewires: what it says of single parts, which a computed circuit can keep as patches;
   * null where these arguments say more than that.
   */
  says?(args: A, circuit: Circuit): readonly Said[] | null
}

/** What is said of a part from now on, from what was said of it before. */
export interface Said {
  readonly part: string
  patch(before: PartPatch): PartPatch
}

/** @throws VoskelError `CIRCUIT_INVALID` naming the parts that exist */
export function partOf(circuit: Circuit, id: string): Part {
  const found = circuit.parts.find((p) => p.id === id)
  if (found) return found
  const names = circuit.parts.slice(0, 12).map((p) => p.id)
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `There is no part "${id}" in this circuit.`,
    fix: `Its parts are: ${names.join(', ') || 'none'}.`,
  })
}

/** @throws VoskelError `CIRCUIT_INVALID` where the part has no such pin */
export function pinOf({ id, kind }: Part, pin: string): string {
  const { name, pins } = partKind(kind, id)
  if (pins.includes(pin)) return pin
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `${id} has no pin "${pin}".`,
    fix: `A ${name.toLowerCase()} has: ${pins.join(', ') || 'none'}.`,
  })
}

/** The pins of a new part for as many nets. @throws VoskelError `CIRCUIT_INVALID` where it has more or fewer */
export function pinsToJoin(kind: string, nets: number): readonly string[] {
  const { name, pins, optionalPins = {} } = partKind(kind)
  const needed = pins.filter((pin) => !(pin in optionalPins)).length
  if (nets >= needed && nets <= pins.length) return pins
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `A ${name.toLowerCase()} has ${needed} pins to join, not ${nets}.`,
    fix: `Name a net for each: ${pins.join(', ')}.`,
  })
}

/** The circuit with one part changed. */
export const withPart = (circuit: Circuit, id: string, change: (part: Part) => Part): Circuit => {
  partOf(circuit, id)
  return { ...circuit, parts: circuit.parts.map((p) => (p.id === id ? change(p) : p)) }
}
