import type { Circuit, GridPoint } from '../circuit.js'
import { NetMap } from '../NetMap.js'
import { looksJoined, placed, stretchesOf, wirePoints } from '../drawing/geometry.js'
import { partKind, partShape } from '../parts/index.js'
import { samePoint, type Spot, spotAt, spotPoint } from './spots.js'

/** A direction on the sheet: one step along an axis. */
export type Direction = 'right' | 'left' | 'down' | 'up'

const STEPS: Readonly<Record<Direction, GridPoint>> = {
  right: { x: 1, y: 0 },
  left: { x: -1, y: 0 },
  down: { x: 0, y: 1 },
  up: { x: 0, y: -1 },
}

/** Cosine of the angle within which a pin lies in a direction. */
const WITHIN = Math.SQRT1_2

/** Grid units by which a place on empty paper moves. */
const ON_PAPER = 2

/**
 * Where one comes to from a place in a direction: along a wire to its next joint or corner, through a part to its pin on that
 * side, a step over empty paper. null where nothing leads that way.
 */
export function walkFrom(circuit: Circuit, from: Spot, direction: Direction): Spot | null {
  const at = spotPoint(circuit, from)
  if (!at) return null
  const step = STEPS[direction]
  const along = alongWires(circuit, at, step)
  if (along) return spotAt(circuit, along)
  if ('part' in from) return throughPart(circuit, from, at, step)
  if (!('junction' in from) && !('wire' in from))
    return spotAt(circuit, { x: at.x + ON_PAPER * step.x, y: at.y + ON_PAPER * step.y })
  return null
}

/** The nearest joint, pin or corner on a wire that goes on from a place in a direction. */
function alongWires(circuit: Circuit, at: GridPoint, step: GridPoint): GridPoint | null {
  const ahead = (p: GridPoint) => (p.x - at.x) * step.x + (p.y - at.y) * step.y
  const beside = (p: GridPoint) => Math.abs((p.x - at.x) * step.y) + Math.abs((p.y - at.y) * step.x)
  let end: GridPoint | null = null
  for (const wire of circuit.wires)
    for (const [a, b] of stretchesOf(wirePoints(circuit, wire) ?? [])) {
      if (!looksJoined([a, b], [at, at])) continue
      for (const p of [a, b]) if (beside(p) === 0 && ahead(p) > 0 && (!end || ahead(p) < ahead(end))) end = p
    }
  if (!end) return null
  const stops = [
    ...circuit.junctions.flatMap((j) => j.at ?? []),
    ...circuit.parts.flatMap((p) => (p.at ? Object.values(partShape(p).pinPlaces).map((o) => placed(p, o)) : [])),
  ]
  for (const p of stops) if (beside(p) === 0 && ahead(p) > 0 && ahead(p) < ahead(end)) end = p
  return end
}

function throughPart(circuit: Circuit, { part: id }: { part: string }, at: GridPoint, step: GridPoint): Spot | null {
  const part = circuit.parts.find((p) => p.id === id)!
  let best: { pin: string; fit: number } | null = null
  for (const [pin, place] of Object.entries(partShape(part).pinPlaces)) {
    const p = placed(part, place)
    if (samePoint(p, at)) continue
    const [dx, dy] = [p.x - at.x, p.y - at.y]
    const fit = (dx * step.x + dy * step.y) / Math.hypot(dx, dy)
    if (fit >= WITHIN && (!best || fit > best.fit)) best = { pin, fit }
  }
  return best && { part: id, pin: best.pin }
}

/**
 * Where the tip is after an edit: on at the far pin of a part that came, where it was for one that went to ground or the
 * supply; where its place is gone, at what lies there now.
 */
export function tipAfter(before: Circuit, after: Circuit, tip: Spot, goesOn: boolean): Spot {
  const had = new Set(before.parts.map((p) => p.id))
  const come = after.parts.find((p) => !had.has(p.id) && p.kind !== 'ground')
  const to = come && onwardsFrom(after, come, goesOn)
  if (to !== undefined) return { part: come!.id, pin: to }
  return validTip(after, tip, spotPoint(before, tip))
}

/** The pin at which a circuit goes on from a part that came; undefined where it does not. */
function onwardsFrom(circuit: Circuit, part: Circuit['parts'][number], goesOn: boolean): string | undefined {
  const { grows } = partKind(part.kind, part.id)
  const { pins } = partShape(part)
  const nets = NetMap.of(circuit)
  const open = grows?.across?.filter((pin) => nets.netOf(part.id, pin) === null || isAlone(nets, part.id, pin)) ?? []
  if (open.length > 0) return open.includes(grows!.to) ? grows!.to : open[0]
  return goesOn ? (grows?.to ?? pins.at(-1)) : undefined
}

/** Whether nothing but the part itself, and a name, is on a pin's net. */
const isAlone = (nets: NetMap, part: string, pin: string): boolean =>
  nets.pinsOf(nets.netOf(part, pin)!).every((p) => p.part === part)

/** A tip that is there: as it is, or what lies where it was. */
export function validTip(circuit: Circuit, tip: Spot, was: GridPoint | null): Spot {
  if (!('at' in tip) && spotPoint(circuit, tip)) return tip
  return spotAt(circuit, 'at' in tip ? tip.at : (was ?? { x: 0, y: 0 }))
}
