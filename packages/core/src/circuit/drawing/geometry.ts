import type { Circuit, End, GridPoint, Part } from '../circuit.js'
import { partShape } from '../parts/index.js'

/** A pin's or any other point of a part's own frame, on the drawing: mirrored, then turned clockwise, then moved. */
export function placed({ at }: Pick<Part, 'at'>, [x, y]: readonly [number, number]): GridPoint {
  if (!at) return { x, y }
  const mx = at.mirrored ? -x : x
  switch (at.rotation) {
    case 0:
      return { x: at.x + mx, y: at.y + y }
    case 90:
      return { x: at.x - y, y: at.y + mx }
    case 180:
      return { x: at.x - mx, y: at.y - y }
    case 270:
      return { x: at.x + y, y: at.y - mx }
  }
}

/** Things by their ids, the first of each; worked out once a list: circuits do not change. */
function byId<T extends { readonly id: string }>(things: readonly T[]): ReadonlyMap<string, T> {
  let found = known.get(things)
  if (!found) {
    found = new Map(things.toReversed().map((thing) => [thing.id, thing]))
    known.set(things, found)
  }
  return found as ReadonlyMap<string, T>
}

const known = new WeakMap<readonly unknown[], ReadonlyMap<string, unknown>>()

/** Where a wire's end lies; null where its part or junction has no place on the drawing. */
export function endPoint(circuit: Circuit, end: End): GridPoint | null {
  if ('junction' in end) return byId(circuit.junctions).get(end.junction)?.at ?? null
  const part = byId(circuit.parts).get(end.part)
  const place = part?.at && partShape(part).pinPlaces[end.pin]
  return part && place ? placed(part, place) : null
}

/** Whether a net's name stands on what it names: where it hangs, or on a wire. */
export function isOnNet(circuit: Circuit, { at, end }: Circuit['labels'][number]): boolean {
  if (!at) return false
  const there = endPoint(circuit, end)
  if (there && there.x === at.x && there.y === at.y) return true
  return circuit.wires.some((w) => stretchesOf(wirePoints(circuit, w) ?? []).some((s) => looksJoined(s, [at, at])))
}

/** True where every part has its place, so that the circuit can be drawn. */
export function isDrawn(circuit: Circuit): boolean {
  return circuit.parts.length > 0 && circuit.parts.every((p) => p.at)
}

/** An upright rectangle on the drawing, in grid units. */
export interface Box {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

/** Square units that two boxes share; 0 where they only touch. */
export function overlap(a: Box, b: Box): number {
  const width = Math.min(a.right, b.right) - Math.max(a.left, b.left)
  const height = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top)
  return width > 0 && height > 0 ? width * height : 0
}

/** The box around two. */
export const around = (a: Box, b: Box): Box => ({
  left: Math.min(a.left, b.left),
  right: Math.max(a.right, b.right),
  top: Math.min(a.top, b.top),
  bottom: Math.max(a.bottom, b.bottom),
})

export const movedBox = ({ left, right, top, bottom }: Box, { x, y }: GridPoint): Box => ({
  left: left + x,
  right: right + x,
  top: top + y,
  bottom: bottom + y,
})

export const inflated = ({ left, right, top, bottom }: Box, by: number): Box => ({
  left: left - by,
  right: right + by,
  top: top - by,
  bottom: bottom + by,
})

export const isUpright = (part: Part): boolean => part.at?.rotation === 90 || part.at?.rotation === 270

/** A part's symbol on the drawing; null where the part has no place. */
export function symbolBox(part: Part): Box | null {
  if (!part.at) return null
  const { half, top } = partShape(part).symbol
  const [a, b] = [placed(part, [-half[0], top ?? -half[1]]), placed(part, [half[0], half[1]])]
  return {
    left: Math.min(a.x, b.x),
    right: Math.max(a.x, b.x),
    top: Math.min(a.y, b.y),
    bottom: Math.max(a.y, b.y),
  }
}

/** Which way a pin leads out of its part. */
export type Facing = 'left' | 'right' | 'up' | 'down'

/** Where a pin of a part lies, and which way it leads out. */
export function pinAt(part: Part, at: NonNullable<Part['at']>, pin: string): GridPoint & { readonly faces: Facing } {
  const own = partShape(part).pinPlaces[pin]
  const point = placed({ at }, own)
  const box = symbolBox({ ...part, at })!
  // Where a corner is left it is up or down: so conduct transistors.
  const [dx, dy] = [
    Math.min(point.x - box.left, box.right - point.x),
    Math.min(point.y - box.top, box.bottom - point.y),
  ]
  const isLying = at.rotation % 180 === 0
  const upright = isLying ? dy <= CORNER : dx > CORNER
  const faces = upright
    ? point.y - box.top < box.bottom - point.y
      ? 'up'
      : 'down'
    : point.x - box.left < box.right - point.x
      ? 'left'
      : 'right'
  return { ...point, faces }
}

/** Grid units of air that a symbol's outline leaves at its pins. */
const CORNER = 0.1

/** Half the thickness of a wire with the air that a letter needs beside it. */
const WIRE = 0.12

/** The points of a wire from end to end; null where an end has no place. */
export function wirePoints(circuit: Circuit, { ends, bends = [] }: Circuit['wires'][number]): GridPoint[] | null {
  const [from, to] = ends.map((end) => endPoint(circuit, end))
  return from && to ? [from, ...bends, to] : null
}

/** The stretches of all wires, each as the box that its ink covers. */
export function wireBoxes(circuit: Circuit): Box[] {
  return circuit.wires.flatMap((wire) => stretchesOf(wirePoints(circuit, wire) ?? []).map(inkOf))
}

/** Two points that a wire runs straight between. */
export type Stretch = readonly [GridPoint, GridPoint]

export const stretchesOf = (points: readonly GridPoint[]): Stretch[] => points.slice(1).map((b, k) => [points[k], b])

/** Along the grid. */
export const isStraight = ([a, b]: Stretch): boolean => a.x === b.x || a.y === b.y

/** What the ink of a stretch covers. */
export const inkOf = ([a, b]: Stretch): Box => ({
  left: Math.min(a.x, b.x) - WIRE,
  right: Math.max(a.x, b.x) + WIRE,
  top: Math.min(a.y, b.y) - WIRE,
  bottom: Math.max(a.y, b.y) + WIRE,
})

/** Whether a wire runs along the edge of a box, and nowhere inside. */
export const onlyTouches = (stretch: Stretch, box: Box): boolean =>
  overlap(inkOf(stretch), inflated(box, -2 * WIRE)) === 0

/**
 * True where two stretches along the grid look joined: they share more than a point, or an end of one lies on the other.
 * Where they cross inside of both they do not.
 */
export function looksJoined([a, b]: Stretch, [c, d]: Stretch): boolean {
  const left = Math.max(Math.min(a.x, b.x), Math.min(c.x, d.x))
  const right = Math.min(Math.max(a.x, b.x), Math.max(c.x, d.x))
  const top = Math.max(Math.min(a.y, b.y), Math.min(c.y, d.y))
  const bottom = Math.min(Math.max(a.y, b.y), Math.max(c.y, d.y))
  if (left > right || top > bottom) return false
  if (left < right || top < bottom) return true
  return [a, b, c, d].some((p) => p.x === left && p.y === top)
}

/** Every two stretches that look joined, each pair once: by a line swept over them from the left. */
export function joinedPairs<T extends { readonly at: Stretch }>(things: readonly T[]): [T, T][] {
  const edges = things.map((thing) => ({
    thing,
    left: Math.min(thing.at[0].x, thing.at[1].x),
    right: Math.max(thing.at[0].x, thing.at[1].x),
  }))
  edges.sort((a, b) => a.left - b.left)
  const pairs: [T, T][] = []
  let open: typeof edges = []
  for (const next of edges) {
    open = open.filter((e) => e.right >= next.left)
    for (const e of open) if (looksJoined(e.thing.at, next.thing.at)) pairs.push([e.thing, next.thing])
    open.push(next)
  }
  return pairs
}

/** The grid points so far from a centre, along both axes together. */
export function ring({ x, y }: GridPoint, far: number): GridPoint[] {
  if (far === 0) return [{ x, y }]
  return Array.from({ length: far }, (_, k) => [
    { x: x + k, y: y + far - k },
    { x: x + far - k, y: y - k },
    { x: x - k, y: y - far + k },
    { x: x - far + k, y: y + k },
  ]).flat()
}
