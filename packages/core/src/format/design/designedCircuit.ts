import type { Ideal } from '../../approximation/approximate.js'
import { type Circuit, type Part } from '../../circuit/circuit.js'
import { GROUND_NAME } from '../../circuit/flatten.js'
import { NetMap } from '../../circuit/NetMap.js'
import { effectiveValues, scopeOf } from '../../circuit/effectiveValues.js'
import { partKind } from '../../circuit/parts/index.js'
import { patched, type Patches } from '../../circuit/patch.js'
import { type Failure, toFailure, VoskelError } from '../../errors/VoskelError.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { realize } from '../../synthesis/realize.js'
import type { Realized } from '../../synthesis/Topology.js'
import type { Design } from './Design.js'

/** A value that this version computes otherwise than it was last shown. */
export interface ValueChange {
  readonly part: string
  readonly field: string
  readonly unit: string
  readonly shown: number
  readonly computed: number
}

/** How what is computed now differs from what was last shown. */
export type Outdated =
  | { readonly kind: 'values'; readonly changes: readonly ValueChange[] }
  /** Other parts, or joined otherwise. */
  | { readonly kind: 'structure' }
  /** This version makes no circuit of the specification, for the reason given. */
  | { readonly kind: 'refused'; readonly reason: Failure }

/** The circuit of a design as it counts. */
export interface DesignedCircuit {
  readonly circuit: Circuit
  /** The same before anything was said about its parts; for a drawn circuit the circuit itself. */
  readonly base: Circuit
  /** What synthesis gives now; null for a drawn circuit, and where this version refuses what an earlier one made. */
  readonly realized: Realized | null
  /** What was said of parts that the circuit does not have. */
  readonly lost: Patches
  /** Where this version computes another circuit than was last shown: that one rules until it is given up. */
  readonly outdated: Outdated | null
}

/** Relative difference below which two computed values are one. */
const SAME_VALUE = 1e-9

/**
 * The circuit that a design says: drawn, or computed from its specification and patched.
 *
 * @returns null where there is neither a circuit nor a specification with a realization
 * @throws VoskelError those of `realize`, where no earlier circuit stands in
 */
export function designedCircuit(
  { circuit, specification, values }: Pick<Design, 'circuit' | 'specification' | 'values'>,
  ideal?: Ideal,
): DesignedCircuit | null {
  if (circuit.origin === 'drawn')
    return { circuit: circuit.circuit, base: circuit.circuit, realized: null, lost: {}, outdated: null }
  const { patches, witness } = circuit
  const made = specification?.realization ? attempt(() => realize(specification, values, ideal)) : null
  if (made instanceof VoskelError) {
    if (!witness) throw made
    return {
      ...patched(witness, patches),
      base: witness,
      realized: null,
      outdated: { kind: 'refused', reason: toFailure(made) },
    }
  }
  const outdated = made && witness ? differenceOf(witness, made.circuit, patches) : null
  const base = made && !outdated ? made.circuit : witness
  return base ? { ...patched(base, patches), base, realized: made, outdated } : null
}

function attempt<T>(step: () => T): T | VoskelError {
  try {
    return step()
  } catch (error) {
    if (error instanceof VoskelError) return error
    throw error
  }
}

/** How a circuit that is computed differs from what was shown, where nothing else is said; null where it does not. */
function differenceOf(shown: Circuit, computed: Circuit, patches: Patches): Outdated | null {
  if (shapeOf(shown) !== shapeOf(computed)) return { kind: 'structure' }
  const [before, after] = [scopeOf(shown), scopeOf(computed)]
  const changes = shown.parts.flatMap((part) => {
    const was = effectiveValues(part, before)
    const now = effectiveValues(
      computed.parts.find((p) => p.id === part.id)!,
      after,
    )
    return partKind(part.kind).values.flatMap(({ id: field, unit }): ValueChange[] => {
      if (patches[part.id]?.values?.[field] !== undefined) return []
      const [a, b] = [was[field]!.value, now[field]!.value]
      const isSame = a === b || Math.abs(a - b) <= SAME_VALUE * Math.max(Math.abs(a), Math.abs(b))
      return isSame ? [] : [{ part: part.id, field, unit, shown: a, computed: b }]
    })
  })
  return changes.length > 0 ? { kind: 'values', changes } : null
}

/** Parts and how their pins are joined, as text in which neither the order of parts nor their places count. */
function shapeOf(circuit: Circuit): string {
  const nets = new NetMap(circuit)
  const grounds = new Set(circuit.parts.flatMap((p) => (p.kind === 'ground' ? [p.id] : [])))
  const named = new Set([GROUND_NAME, ...circuit.labels.map((l) => l.name)])
  const joined = nets.nets
    .map((net) => {
      const pins = nets.pinsOf(net).flatMap(({ part, pin }) => (grounds.has(part) ? [] : [`${part}.${pin}`]))
      return [named.has(net) ? net : '', ...pins.sort()].join(' ')
    })
    .sort()
  const parts = circuit.parts.filter((p) => p.kind !== 'ground').map(partShape)
  return JSON.stringify([parts.sort(), joined])
}

/** A model's name does not count: its values do. */
const partShape = ({ id, kind, refs = [] }: Part) => [id, kind, ...refs].join(' ')

/** What is to be said where this version computes another circuit than was last shown. */
export function outdatedText(outdated: Outdated): string {
  if (outdated.kind === 'refused')
    return `this version makes no circuit of the specification (${outdated.reason.message}); the one that was made before stands`
  if (outdated.kind === 'structure')
    return 'this version makes another circuit of the specification; the one that was made before stands'
  const list = outdated.changes.slice(0, MOST_LISTED).map((c) => `${c.part} ${formatQuantity(c.computed, c.unit, 6)}`)
  const more = outdated.changes.length > MOST_LISTED ? ', …' : ''
  return `this version computes other values (${list.join(', ')}${more}); those that were computed before stand`
}

const MOST_LISTED = 4
