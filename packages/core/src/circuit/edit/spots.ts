import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { type Circuit, type End, EndSchema, GridSchema, type GridPoint, type Wire } from '../circuit.js'
import { endPoint, joinedPairs, looksJoined, stretchesOf, wirePoints } from '../drawing/geometry.js'
import { placedPins } from '../drawing/pins.js'
import { freeId } from '../ids.js'
import { NetMap } from '../NetMap.js'
import { isAt, wired } from './connect.js'

/** A place on the sheet that something can be joined to: a pin or a junction, a place on a wire, or empty paper. */
export const SpotSchema = z.union([
  EndSchema,
  z.strictObject({ wire: z.string(), at: GridSchema }),
  z.strictObject({ at: GridSchema }),
])
export type Spot = z.output<typeof SpotSchema>

const isOnWire = (spot: Spot): spot is Extract<Spot, { wire: string }> => 'wire' in spot

export const sameEnd = (a: End, b: End): boolean =>
  'part' in a ? isAt(b, a.part, a.pin) : 'junction' in b && a.junction === b.junction

export const samePoint = (a: GridPoint, b: GridPoint): boolean => a.x === b.x && a.y === b.y

/** Where a spot lies; null where its part has no place. */
export const spotPoint = (circuit: Circuit, spot: Spot): GridPoint | null =>
  'at' in spot ? spot.at : endPoint(circuit, spot)

/** The circuit with an end at a spot: one that is there, a new joint in a wire, or a new junction on the paper. */
export function endAt(circuit: Circuit, spot: Spot): readonly [Circuit, End] {
  if (!('at' in spot)) {
    if (endPoint(circuit, spot)) return [circuit, spot]
    throw new VoskelError('CIRCUIT_INVALID', {
      problem: `There is no place "${'part' in spot ? `${spot.part}.${spot.pin}` : spot.junction}" on the sheet.`,
      fix: 'Choose a pin, a wire or an empty place.',
    })
  }
  const found = isOnWire(spot) ? spot : spotAt(circuit, spot.at)
  if (isOnWire(found)) return splitWire(circuit, found.wire, found.at)
  if (!('at' in found)) return [circuit, found]
  const id = freeId(circuit, 'junctions')
  return [{ ...circuit, junctions: [...circuit.junctions, { id, at: found.at }] }, { junction: id }]
}

/** What lies at a place of the grid: a pin before a junction before a wire before nothing. */
export function spotAt(circuit: Circuit, at: GridPoint): Spot {
  const pin = placedPins(circuit, NetMap.of(circuit)).find((p) => samePoint(p.at, at))
  if (pin) return { part: pin.part, pin: pin.pin }
  const junction = circuit.junctions.find((j) => j.at && samePoint(j.at, at))
  if (junction) return { junction: junction.id }
  const wire = circuit.wires.find((w) => liesOn(wirePoints(circuit, w) ?? [], at))
  return wire ? { wire: wire.id, at } : { at }
}

export const liesOn = (points: readonly GridPoint[], at: GridPoint): boolean =>
  stretchesOf(points).some((stretch) => looksJoined(stretch, [at, at]))

/** A joint in a wire: an end of it, or a new junction that makes two of it. */
export function splitWire(circuit: Circuit, id: string, at: GridPoint): readonly [Circuit, End] {
  const wire = circuit.wires.find((w) => w.id === id)
  const points = wire && wirePoints(circuit, wire)
  if (!wire || !points || !liesOn(points, at))
    throw new VoskelError('CIRCUIT_INVALID', {
      problem: `No wire "${id}" runs over this place.`,
      fix: 'Choose a place on a wire.',
    })
  if (samePoint(points[0], at)) return [circuit, wire.ends[0]]
  if (samePoint(points.at(-1)!, at)) return [circuit, wire.ends[1]]
  const junction = freeId(circuit, 'junctions')
  const with_ = { ...circuit, junctions: [...circuit.junctions, { id: junction, at }] }
  return [halved(with_, wire, points, at, { junction }, { junction }), { junction }]
}

/** A wire made two, that end at `left` and `right` in place of the place where it is cut. */
export function halved(
  circuit: Circuit,
  wire: Wire,
  points: readonly GridPoint[],
  at: GridPoint,
  left: End,
  right: End,
): Circuit {
  const k = stretchesOf(points).findIndex((stretch) => looksJoined(stretch, [at, at]))
  const [before, after] = [points.slice(1, k + 1), points.slice(k + 1, -1)].map((bends) =>
    bends.filter((p) => !samePoint(p, at)),
  )
  const one = wireOf(wire.id, [wire.ends[0], left], before)
  const two = wireOf(freeId(circuit, 'wires'), [right, wire.ends[1]], after)
  return { ...circuit, wires: circuit.wires.flatMap((w) => (w.id === wire.id ? [one, two] : [w])) }
}

/** A wire with the bends that it needs. */
export function wireOf(id: string, ends: Wire['ends'], bends: readonly GridPoint[]): Wire {
  return { id, ends, ...(bends.length > 0 && { bends: [...bends] }) }
}

/** Bends without those that a straight line runs over or that stand twice, between two fixed ends. */
export function fewestBends(points: readonly GridPoint[]): GridPoint[] {
  const kept: GridPoint[] = []
  for (const p of points) {
    if (kept.length > 0 && samePoint(kept.at(-1)!, p)) continue
    while (kept.length > 1 && isBetween(kept.at(-2)!, kept.at(-1)!, p)) kept.pop()
    kept.push(p)
  }
  // The last point is an end even where it lies on the one before.
  return kept.slice(1, -1)
}

const isBetween = (a: GridPoint, b: GridPoint, c: GridPoint) =>
  (a.x === b.x && b.x === c.x) || (a.y === b.y && b.y === c.y)

/**
 * Joins pins and junctions to whatever of other nets they lie on: what touches is joined.
 *
 * @param joins whether an end is one that may be joined so, to another end or to the wire that begins at it
 */
export function joinTouching(circuit: Circuit, joins: Joins): Circuit {
  let now = circuit
  for (let next = withOneJoint(now, joins); next; next = withOneJoint(now, joins)) now = next
  return now
}

/** After a joint was taken away: what lies on each other and was one net stays one. */
export function stillJoined(before: Circuit, after: Circuit): Circuit {
  const nets = NetMap.of(before)
  return joinTouching(after, (a, b) => {
    const net = nets.netAt(a)
    return net !== null && net === nets.netAt(b)
  })
}

/** Whether an end may be joined to another, or to a wire that it lies on and that begins at that other. */
type Joins = (end: End, to: End, wire: Wire | null) => boolean

/** Pins of some parts, and some junctions, that came to lie where they are; not to wires that follow them. */
export function endsOf(parts: Iterable<string>, junctions: Iterable<string> = []): Joins {
  const [ours, joints] = [new Set(parts), new Set(junctions)]
  const isOurs = (end: End) => ('part' in end ? ours.has(end.part) : joints.has(end.junction))
  return (end, _to, wire) => isOurs(end) && !wire?.ends.some(isOurs)
}

/** The circuit with one more joint where one is due; null where none is. */
function withOneJoint(circuit: Circuit, joins: Joins): Circuit | null {
  const nets = NetMap.of(circuit)
  const pins = placedPins(circuit, nets).map(({ part, pin, net, at }) => ({ end: { part, pin } as End, net, at }))
  const joints = circuit.junctions.flatMap(({ id, at }) =>
    at ? [{ end: { junction: id } as End, net: nets.netAt({ junction: id }), at }] : [],
  )
  const points = [...pins, ...joints].map((p) => ({ ...p, at: [p.at, p.at] as const, wire: null }))
  const stretches = circuit.wires.flatMap((wire) => {
    const way = wirePoints(circuit, wire) ?? []
    const net = nets.netAt(wire.ends[0])
    return stretchesOf(way).map((at) => ({ end: wire.ends[0], net, at, wire: { wire, way } }))
  })
  for (const [a, b] of joinedPairs<(typeof points)[number] | (typeof stretches)[number]>([...points, ...stretches])) {
    if (a.net === b.net || (a.wire && b.wire)) continue
    const [point, other] = a.wire ? [b, a] : [a, b]
    if (!other.wire) {
      if (joins(point.end, other.end, null) || joins(other.end, point.end, null))
        return wired(circuit, point.end, other.end)
    } else if (joins(point.end, other.end, other.wire.wire)) {
      const { wire, way } = other.wire
      return halved(circuit, wire, way, point.at[0], point.end, point.end)
    }
  }
  return null
}
