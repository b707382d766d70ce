import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, End, GridPoint, Part } from '../circuit.js'
import { endPoint, inkOf, symbolBox, wirePoints } from '../drawing/geometry.js'
import { GROUND_NAME } from '../flatten.js'
import { freeId } from '../ids.js'
import { NetMap } from '../NetMap.js'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, pinOf } from './CircuitEdit.js'
import { grounded, named, wired } from './connect.js'
import {
  growingPins,
  type NewPart,
  NewPartSchema,
  pinBeyond,
  pinEnd,
  turnedAlong,
  withNewPart,
  withPinAt,
} from './newPart.js'
import { isClear, lyingOn, withAir, withClear, withStrip } from './room.js'
import { endAt, endsOf, joinTouching, liesOn, samePoint, splitWire, SpotSchema } from './spots.js'

/** Which way a circuit grows: on in the signal's direction, back against it, to ground, or to the supply. */
export const WAYS = ['onwards', 'back', 'ground', 'supply'] as const
export type GrowWay = (typeof WAYS)[number]

const DIRECTIONS: Readonly<Record<GrowWay, GridPoint>> = {
  onwards: { x: 1, y: 0 },
  back: { x: -1, y: 0 },
  ground: { x: 0, y: 1 },
  supply: { x: 0, y: -1 },
}

const schema = z.strictObject({
  from: SpotSchema,
  way: z.enum(WAYS),
  part: NewPartSchema,
  /** The pin that comes to where it grows from; left out, the kind's own. */
  pin: z.string().optional(),
  /** Pins of the part that are joined to each other: a follower's input and output. */
  joins: z
    .array(z.tuple([z.string(), z.string()]))
    .max(10)
    .optional(),
})

/** Grid units of wire before a part that is grown, and between a part and the ground below it. */
const LEAD = 2
const TO_GROUND = 1

/** What is tried beside the straight way, in grid units: below or to the right before above or to the left. */
const LANES: Readonly<Record<'lying' | 'standing', readonly number[]>> = {
  lying: [0, 6, -6, 12],
  standing: [0, 6, 12, -6],
}
const LANE = 6

/** The net that a fresh circuit's signal comes from, and the one where it has come to. */
const INPUT = 'in'
const OUTPUT = 'out'

/** The supply's name where no source holds one yet. */
const SUPPLY = 'supply'

/**
 * A new part that grows from a place: onwards, back, to ground (a ground comes with it) or to the supply. What lies in its
 * way makes room. The name of the net where the signal has come to goes on with it.
 */
export const growPart: CircuitEdit<z.output<typeof schema>, 'grow-part'> = {
  id: 'grow-part',
  schema,
  label: ({ part, way, from }) =>
    `${partKind(part.kind).name.toLowerCase()} ${{ onwards: 'onwards', back: 'back', ground: 'to ground', supply: 'to the supply' }[way]}${'part' in from ? ` from ${from.part}` : ''}`,
  apply(circuit, { from, way, part, pin, joins = [] }) {
    const pins = growingPins(part.kind)
    if (!pins)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `A ${partKind(part.kind).name.toLowerCase()} has no pins to grow from.`,
        fix: 'Place it by itself.',
      })
    if (pin !== undefined) pinOf({ id: partKind(part.kind).name, kind: part.kind, values: {} }, pin)
    const near = pin ?? pins[0]
    const { far, beyond, direction, turned } = grownAlong(part, near, way)
    const [begun, end] = endAt(circuit, from)
    const [roomy, lane] = withRoom(begun, end, direction, (at) => withPinAt(part, turned, near, at), part, way)
    const start = endPoint(roomy, end)!
    const side = direction.x === 0 ? { x: lane, y: 0 } : { x: 0, y: lane }
    const pinAt = { x: start.x + side.x + LEAD * direction.x, y: start.y + side.y + LEAD * direction.y }
    // From a place beside, where a wire of the net runs there already.
    const [attached, root] = attachedAt(roomy, end, { x: start.x + side.x, y: start.y + side.y })
    const [added, made] = withNewPart(attached, part, withPinAt(part, turned, near, pinAt))
    let grown = wired(withClear(added, made.id), root, pinEnd(made, near))
    for (const [a, b] of joins) grown = wired(grown, pinEnd(made, pinOf(made, a)), pinEnd(made, pinOf(made, b)))
    if (near === far) return joinTouching(grown, endsOf([made.id]))
    const tip = pinEnd(made, far)
    if (way === 'ground') grown = groundedBelow(grown, tip)
    if (way === 'supply') grown = supplied(grown, tip)
    if (beyond !== null) grown = followed(grown, end, pinEnd(made, beyond))
    return joinTouching(grown, endsOf([made.id]))
  },
}

/**
 * How a part lies that grows from one of its pins: the pin that goes the way, the one where the signal goes on, where the
 * near pin lies from where it grows.
 */
function grownAlong(part: NewPart, near: string, way: GrowWay) {
  const along = DIRECTIONS[way]
  const { from, across } = partKind(part.kind).grows ?? {}
  // A transistor stands beside what controls it; what it conducts to goes the way, the signal goes on at the other pin.
  if (across && near === from && (way === 'ground' || way === 'supply')) {
    const [far, beyond] = way === 'ground' ? across : [across[1], across[0]]
    return { far, beyond, direction: DIRECTIONS.onwards, turned: turnedAlong(part, beyond, far, along, near) }
  }
  const far = pinBeyond(part.kind, near)
  const beyond = way === 'onwards' ? far : null
  return { far, beyond, direction: along, turned: turnedAlong(part, near, far, along) }
}

/** The place of a part whose near pin lies at a point. */
type PlaceAt = (pin: GridPoint) => NonNullable<Part['at']>

/** The circuit with room for a part, and how far beside the straight way it is. */
function withRoom(
  circuit: Circuit,
  end: End,
  direction: GridPoint,
  placeAt: PlaceAt,
  part: NewPart,
  way: GrowWay,
): readonly [Circuit, number] {
  const start = endPoint(circuit, end)!
  const isLying = direction.x !== 0
  const net = NetMap.of(circuit).netAt(end)
  const pinFor = (lane: number) => ({
    x: start.x + LEAD * direction.x + (isLying ? 0 : lane),
    y: start.y + LEAD * direction.y + (isLying ? lane : 0),
  })
  const boxFor = (lane: number) => {
    const box = withAir(symbolBox({ ...part, id: '?', at: placeAt(pinFor(lane)) })!)
    // Its ground comes below it.
    return way === 'ground' ? { ...box, bottom: box.bottom + TO_GROUND + 1 } : box
  }
  const fits = (on: Circuit, lane: number) => {
    const lying = lyingOn(on)
    const symbols = on.parts.flatMap((p) => symbolBox(p) ?? [])
    const lead = withAir(inkOf([lane === 0 ? start : { ...pinFor(lane) }, pinFor(lane)]), 0)
    const own = wiresOf(on, net)
    return (
      isClear(boxFor(lane), lying) &&
      isClear(
        lead,
        symbols.filter((b) => !isEdgeOf(start, b)),
      ) &&
      (lane !== 0 || !own.some((points) => runsAlong(points, start, pinFor(0))))
    )
  }
  const lanes = isLying ? LANES.lying : LANES.standing
  for (const lane of lanes) if (fits(circuit, lane)) return [circuit, lane]
  // What lies there moves on: everything beside for a lane, or everything ahead, or both.
  const [across, ahead] = isLying ? (['y', 'x'] as const) : (['x', 'y'] as const)
  const beside = withStrip(circuit, across, start[across] + 1, LANE + 2)
  if (fits(beside, LANE)) return [beside, LANE]
  const box = boxFor(0)
  const length = isLying ? box.right - box.left : box.bottom - box.top
  const sign = direction.x + direction.y
  const moved = (on: Circuit) => withStrip(on, ahead, start[ahead], sign * Math.ceil(LEAD + length))
  const aheadOnly = moved(circuit)
  for (const lane of lanes) if (fits(aheadOnly, lane)) return [aheadOnly, lane]
  const both = moved(beside)
  return fits(both, LANE) ? [both, LANE] : [beside, LANE]
}

const isEdgeOf = (p: GridPoint, b: { left: number; right: number; top: number; bottom: number }) =>
  p.x >= b.left && p.x <= b.right && p.y >= b.top && p.y <= b.bottom

function wiresOf(circuit: Circuit, net: string | null): GridPoint[][] {
  const nets = NetMap.of(circuit)
  return circuit.wires.flatMap((w) => (nets.netAt(w.ends[0]) === net ? [wirePoints(circuit, w) ?? []] : []))
}

/** Whether a wire runs over the point just beyond a place, in the direction of another. */
function runsAlong(points: readonly GridPoint[], from: GridPoint, to: GridPoint): boolean {
  const beyond = { x: from.x + Math.sign(to.x - from.x), y: from.y + Math.sign(to.y - from.y) }
  return liesOn(points, from) && liesOn(points, beyond)
}

/** An end of the same net at a point, where one of its wires runs over it; else the end itself. */
function attachedAt(circuit: Circuit, end: End, at: GridPoint): readonly [Circuit, End] {
  if (samePoint(endPoint(circuit, end)!, at)) return [circuit, end]
  const nets = NetMap.of(circuit)
  const net = nets.netAt(end)
  const wire = circuit.wires.find(
    (w) => net !== null && nets.netAt(w.ends[0]) === net && liesOn(wirePoints(circuit, w) ?? [], at),
  )
  return wire ? splitWire(circuit, wire.id, at) : [circuit, end]
}

/** The circuit with a ground of its own below an end. */
export function groundedBelow(circuit: Circuit, end: End): Circuit {
  const at = endPoint(circuit, end)
  const grown = grounded(circuit, end)
  const id = grown.parts.at(-1)!.id
  if (!at) return grown
  const place = { x: at.x, y: at.y + TO_GROUND, rotation: 0 as const }
  const lying = withClear({ ...grown, parts: grown.parts.map((p) => (p.id === id ? { ...p, at: place } : p)) }, id)
  return joinTouching(lying, endsOf([id]))
}

/** The circuit with an end at the supply; where no source holds one yet, with a source for it. */
function supplied(circuit: Circuit, end: End): Circuit {
  const known = supplyOf(circuit)
  if (known !== null && circuit.labels.some((l) => l.name === known)) return named(circuit, end, known)
  const name = known === null ? SUPPLY : freshName(circuit, SUPPLY)
  const held = known === null ? withSupply(circuit, name) : namedAt(circuit, known, name)
  return named(held, end, name)
}

/** The supply's voltage until somebody says otherwise, V. */
const USUAL_SUPPLY = 5

/** The circuit with a source for its supply, left of all that is drawn. */
function withSupply(circuit: Circuit, name: string): Circuit {
  if (circuit.labels.some((l) => l.name === name)) return circuit
  const boxes = circuit.parts.flatMap((p) => symbolBox(p) ?? [])
  const left = Math.floor(boxes.reduce((least, b) => Math.min(least, b.left), 0)) - 12
  const part = { kind: 'voltage-source', values: { bias: USUAL_SUPPLY, acMagnitude: 0, acPhase: 0 } }
  const [with_, source] = withNewPart(circuit, part, { x: left, y: 4, rotation: 90 })
  return groundedBelow(named(with_, pinEnd(source, 'plus'), name), pinEnd(source, 'minus'))
}

/** The circuit with a name on a net that has none. */
function namedAt(circuit: Circuit, net: string, name: string): Circuit {
  const [pin] = NetMap.of(circuit).pinsOf(net)
  return named(circuit, pin, name)
}

function freshName(circuit: Circuit, name: string): string {
  const taken = new Set(circuit.labels.map((l) => l.name))
  let next = name
  for (let k = 2; taken.has(next); k++) next = `${name}_${k}`
  return next
}

/** The net that a source of bias holds above ground: the supply. null where there is none. */
export function supplyOf(circuit: Circuit): string | null {
  const nets = NetMap.of(circuit)
  for (const part of circuit.parts) {
    if (part.kind !== 'voltage-source' || !((part.values.bias ?? 0) > 0)) continue
    const [plus, minus] = ['plus', 'minus'].map((pin) => nets.netOf(part.id, pin))
    if (minus === GROUND_NAME && plus && plus !== GROUND_NAME) return plus
  }
  return null
}

/** The circuit with the name of where the signal has come to at a new end, where it was at the one that grew. */
function followed(circuit: Circuit, from: End, to: End): Circuit {
  const nets = NetMap.of(circuit)
  const net = nets.netAt(from)
  const at = (label: Circuit['labels'][number]) => nets.netAt(label.end) === net
  const following = circuit.labels.find((l) => l.follows && at(l))
  if (following) {
    const { at: _before, ...label } = following
    return { ...circuit, labels: circuit.labels.map((l) => (l === following ? { ...label, end: to } : l)) }
  }
  const starts = circuit.labels.some((l) => l.name === INPUT && at(l)) && !circuit.labels.some((l) => l.name === OUTPUT)
  if (!starts) return circuit
  const label = { id: freeId(circuit, 'labels'), name: OUTPUT, end: to, follows: true }
  return { ...circuit, labels: [...circuit.labels, label] }
}
