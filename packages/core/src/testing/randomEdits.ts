import fc from 'fast-check'
import { VoskelError } from '../errors/VoskelError.js'
import type { Circuit } from '../circuit/circuit.js'
import { circuitEdit, type EditCall } from '../circuit/edit/index.js'
import { pieceOf } from '../circuit/edit/pasteThings.js'
import type { Spot } from '../circuit/edit/spots.js'
import { wirePoints } from '../circuit/drawing/geometry.js'
import { partKinds } from '../circuit/parts/index.js'

/** Kinds that a random hand puts down: all but those that need a definition of their own. */
const KINDS = partKinds.filter((k) => k.id !== 'subcircuit' && k.id !== 'coupling').map((k) => k.id)

/** What a random hand does next: some numbers, read against the circuit that is there. */
export const dice = fc.tuple(
  fc.nat(14),
  fc.nat(1000),
  fc.nat(1000),
  fc.integer({ min: -9, max: 9 }),
  fc.integer({ min: -9, max: 9 }),
)
type Dice = readonly [number, number, number, number, number]

function callOf(circuit: Circuit, [what, a, b, dx, dy]: Dice): EditCall | null {
  const pick = <T>(from: readonly T[], n: number): T | undefined => from[n % Math.max(1, from.length)]
  const part = pick(circuit.parts, a)
  const other = pick(circuit.parts, b)
  // What has no length cannot be pointed at.
  const wire = pick(
    circuit.wires.filter((w) => hasLength(circuit, w)),
    a,
  )
  const label = pick(circuit.labels, a)
  const kind = pick(KINDS, b)!
  const refs = circuit.parts.find((p) => p.kind === 'voltage-source')
  const next = { kind, values: {}, ...((kind === 'cccs' || kind === 'ccvs') && refs && { refs: [refs.id] }) }
  const pinsOf = (p: NonNullable<typeof part>) => partKinds.find((k) => k.id === p.kind)!.pins
  const spot = (p: typeof part, n: number): Spot => {
    const pin = p && pick(pinsOf(p), n)
    return p && pin ? { part: p.id, pin } : { at: { x: dx * 3, y: dy * 3 } }
  }
  switch (what) {
    case 0:
    case 1:
      return {
        edit: 'grow-part',
        args: {
          from: spot(part, b),
          way: pick(['onwards', 'ground', 'back', 'supply', 'onwards'] as const, a + b)!,
          part: next,
        },
      }
    case 2:
      return {
        edit: 'put-part',
        args: { part: next, at: { x: dx * 3, y: dy * 2, rotation: pick([0, 90, 180, 270] as const, a)! } },
      }
    case 3:
      return part ? { edit: 'move-things', args: { parts: [part.id], by: { x: dx, y: dy } } } : null
    case 4: {
      const some = circuit.parts.filter((_, k) => (k * 7 + a) % 3 === 0).map((p) => p.id)
      return some.length > 0 ? { edit: 'move-things', args: { parts: some, by: { x: dx, y: dy } } } : null
    }
    case 5:
      return part
        ? { edit: 'turn-parts', args: { parts: [part.id], turn: pick([90, 180, 270, 'mirror'] as const, b)! } }
        : null
    case 6:
      return { edit: 'draw-wire', args: { from: spot(part, b), to: spot(other, a) } }
    case 7:
      return wire ? { edit: 'move-stretch', args: { wire: wire.id, stretch: 0, by: dx } } : null
    case 8:
      return part && circuit.parts.length > 3
        ? { edit: 'remove-things', args: { parts: [part.id], close: a % 2 === 0 } }
        : null
    case 9:
      return wire && circuit.wires.length > 3
        ? { edit: 'remove-things', args: { wires: [wire.id], close: true } }
        : null
    case 10: {
      const some = new Set(circuit.parts.filter((_, k) => (k + b) % 4 === 0).map((p) => p.id))
      return circuit.parts.length < 40
        ? { edit: 'paste-things', args: { piece: pieceOf(circuit, some), at: { x: dx * 4, y: dy * 4 } } }
        : null
    }
    case 11:
      return { edit: 'name-net', args: { at: spot(part, b), name: pick(['out', 'mid', 'x', 'feedback'], a)! } }
    case 12:
      return part ? { edit: 'replace-part', args: { part: part.id, by: next } } : null
    case 13: {
      const some = circuit.parts.filter((_, k) => (k + b) % 3 === 0).map((p) => p.id)
      return some.length > 1
        ? {
            edit: 'align-parts',
            args: { parts: some, to: pick(['row', 'column', 'even-row', 'even-column'] as const, a)! },
          }
        : null
    }
    default:
      return label ? { edit: 'remove-things', args: { labels: [label.id], close: true } } : null
  }
}

function hasLength(circuit: Circuit, wire: Circuit['wires'][number]): boolean {
  const points = wirePoints(circuit, wire) ?? []
  return points.some((p) => p.x !== points[0].x || p.y !== points[0].y)
}

/** The circuit after an edit; as it was where the edit is refused, which it may be with a sentence only. */
export function after(circuit: Circuit, throws: Dice): Circuit {
  const call = callOf(circuit, throws)
  if (!call) return circuit
  try {
    return circuitEdit(call).apply(circuit)
  } catch (error) {
    if (error instanceof VoskelError) return circuit
    throw error
  }
}
