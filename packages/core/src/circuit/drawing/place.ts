import type { Circuit, End, GridPoint, Part } from '../circuit.js'
import { NetMap } from '../NetMap.js'
import { Boxes } from './Boxes.js'
import { endPoint, inflated, placed, ring, symbolBox, wireBoxes } from './geometry.js'
import { netBoxes } from './labels.js'
import { partShape } from '../parts/index.js'

/** Grid units of air around a symbol that is placed: room for its label. */
const AIR = 1.5

/** How far from where it would best lie a part is looked a place for, grid units. */
const FARTHEST = 60

/** What the less usual direction costs, in grid units of distance. */
const TURNED = 3

/**
 * The circuit with a place for every part and junction that has none, near to what it is joined to and on nothing
 * else. A circuit of which nothing is placed stays so: that is drawn as a whole.
 */
export function withPlaces(circuit: Circuit): Circuit {
  const hasPlaces = [...circuit.parts, ...circuit.junctions].every((x) => x.at)
  if (hasPlaces || !circuit.parts.some((p) => p.at)) return circuit
  const joints = jointsOf(circuit)
  let now = circuit
  for (const { id } of circuit.parts.filter((p) => !p.at)) now = placedPart(now, id, joints)
  for (const junction of circuit.junctions.filter((j) => !j.at)) {
    const ends = joints.get(keyOf({ junction: junction.id })) ?? []
    const at = freePoint(now, middleOf(pointsOf(now, ends)))
    now = { ...now, junctions: now.junctions.map((j) => (j.id === junction.id ? { ...j, at } : j)) }
  }
  return now
}

const keyOf = (end: End) => ('part' in end ? `${end.part}\u0000${end.pin}` : end.junction)

/** What each pin and junction is wired to, or shares a net with. */
function jointsOf(circuit: Circuit): Map<string, End[]> {
  const joints = new Map<string, End[]>()
  const add = (from: End, to: End) => joints.set(keyOf(from), [...(joints.get(keyOf(from)) ?? []), to])
  for (const { ends } of circuit.wires) {
    add(ends[0], ends[1])
    add(ends[1], ends[0])
  }
  const nets = NetMap.of(circuit)
  for (const net of nets.nets) {
    const pins = nets.pinsOf(net)
    for (const pin of pins) if (!joints.has(keyOf(pin))) for (const other of pins) if (other !== pin) add(pin, other)
  }
  return joints
}

const pointsOf = (circuit: Circuit, ends: readonly End[]) => ends.flatMap((end) => endPoint(circuit, end) ?? [])

/** The middle of some points on the grid; where there are none, below everything. */
function middleOf(points: readonly GridPoint[], circuit?: Circuit): GridPoint {
  if (points.length > 0) {
    const sum = (of: (p: GridPoint) => number) => points.reduce((all, p) => all + of(p), 0) / points.length
    return { x: Math.round(sum((p) => p.x)), y: Math.round(sum((p) => p.y)) }
  }
  const boxes = circuit?.parts.flatMap((p) => symbolBox(p) ?? []) ?? []
  const low = boxes.reduce((most, b) => Math.max(most, b.bottom), 0)
  const left = boxes.reduce((least, b) => Math.min(least, b.left), 0)
  return { x: Math.round(left + 4), y: Math.round(low + 6) }
}

function placedPart(circuit: Circuit, id: string, joints: ReadonlyMap<string, readonly End[]>): Circuit {
  const part = circuit.parts.find((p) => p.id === id)!
  const { pins, pinPlaces } = partShape(part)
  const wanted = pins.map((pin) => pointsOf(circuit, joints.get(keyOf({ part: id, pin })) ?? []))
  const center = middleOf(
    wanted.flatMap((points) => (points.length > 0 ? [middleOf(points)] : [])),
    circuit,
  )
  const taken = takenBy(circuit)
  let best: { at: NonNullable<Part['at']>; price: number } | null = null
  const rotations = part.kind === 'ground' ? ([0] as const) : ([0, 90, 180, 270] as const)
  for (let far = 0; far <= FARTHEST && !(best && best.price < far); far++) {
    for (const { x, y } of ring(center, far))
      for (const rotation of rotations) {
        const at = { x, y, rotation }
        const there = { ...part, at }
        if (!taken.isFree(inflated(symbolBox(there)!, AIR))) continue
        // How far each pin is from what it is joined to.
        const price = pins.reduce(
          (sum, pin, k) => {
            const [point, to] = [placed(there, pinPlaces[pin]!), wanted[k]]
            return to.length === 0
              ? sum
              : sum + Math.min(...to.map((p) => Math.abs(p.x - point.x) + Math.abs(p.y - point.y)))
          },
          far + (rotation === 0 ? 0 : TURNED),
        )
        if (!best || price < best.price) best = { at, price }
      }
  }
  const at = best?.at ?? { ...center, rotation: 0 as const }
  return { ...circuit, parts: circuit.parts.map((p) => (p === part ? { ...p, at } : p)) }
}

const takenBy = (circuit: Circuit) =>
  new Boxes([...circuit.parts.flatMap((p) => symbolBox(p) ?? []), ...wireBoxes(circuit), ...netBoxes(circuit)])

function freePoint(circuit: Circuit, near: GridPoint): GridPoint {
  const taken = takenBy(circuit)
  for (let far = 0; far <= FARTHEST; far++)
    for (const { x, y } of ring(near, far)) {
      if (taken.isFree(inflated({ left: x, right: x, top: y, bottom: y }, 0.4))) return { x, y }
    }
  return near
}
