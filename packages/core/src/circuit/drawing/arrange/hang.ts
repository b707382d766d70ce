import type { GridPoint } from '../../circuit.js'
import { Boxes } from '../Boxes.js'
import { inflated, pinAt } from '../geometry.js'
import { AIR, type Group, isFree, ORIENTATIONS, type Place, type Taken } from './Group.js'
import type { Hanging, Link, Sketch, Way } from './Sketch.js'

/** The farthest that something is moved aside to find room, grid units. */
const FARTHEST = 400

/** A link between two pins on one line: the first one at the origin. */
export function placeOf(link: Link, from: string, to: string, way: Way | 'right'): { at: Place; to: GridPoint } {
  const wanted = way === 'right' ? 'left' : way === 'down' ? 'up' : 'down'
  let best: { at: Place; to: GridPoint; price: number } | null = null
  ORIENTATIONS.forEach((orientation, k) => {
    const [a, b] = [from, to].map((pin) => pinAt(link.part, { x: 0, y: 0, ...orientation }, pin))
    const [dx, dy] = [b.x - a.x, b.y - a.y]
    const isStraight = way === 'right' ? dx > 0 && dy === 0 : dx === 0 && (way === 'down' ? dy > 0 : dy < 0)
    if (!isStraight) return
    // What controls it comes from the left.
    const others = [...link.nets.keys()].filter((pin) => pin !== from && pin !== to)
    const beyond = others.reduce((sum, pin) => sum + pinAt(link.part, { x: 0, y: 0, ...orientation }, pin).x - a.x, 0)
    const price = k / 100 + beyond / 10 + (a.faces === wanted ? 0 : 1)
    if (!best || price < best.price) best = { at: { ...orientation, x: -a.x, y: -a.y }, to: { x: dx, y: dy }, price }
  })
  return best!
}

/** What hangs from a net, from the place of its pin on the net. */
export function hung(sketch: Sketch, empty: Group, hanging: Hanging, way: Way): Group {
  const group = empty.empty()
  const { at, to } = placeOf(hanging.link, hanging.pin, hanging.far, way)
  group.add(hanging.link, at, hanging.link.nets.get(hanging.pin))
  const taken = new Boxes<Taken>(group.boxes)
  for (const link of hanging.beside) {
    const own = empty.empty()
    const [a, b] =
      link.nets.get(link.ends[0]) === hanging.link.nets.get(hanging.pin) ? link.ends : link.ends.toReversed()
    own.add(link, placeOf(link, a, b, way).at)
    put(group, taken, own, { x: 1, y: 0 })
  }
  // Nothing may meet a pin that leads nowhere.
  if (hanging.below.length === 0 && !sketch.isSymbol(hanging.net))
    group.boxes.push(inflated({ left: to.x, right: to.x, top: to.y, bottom: to.y }, AIR))
  for (const below of hanging.below) put(group, taken, hung(sketch, empty, below, way), to)
  return group
}

/**
 * Puts a group at a place, or as near to the right of it as there is room; returns where.
 *
 * @param over as `isFree`
 */
export function put(group: Group, taken: Boxes<Taken>, own: Group, at: GridPoint, over = 0): GridPoint {
  let by = at
  while (!isFree(taken, own.boxes, by, over) && by.x < at.x + FARTHEST) by = { x: by.x + 1, y: by.y }
  take(group, taken, own, by)
  return by
}

/** Takes a group in where it lies. */
export function take(group: Group, taken: Boxes<Taken>, own: Group, by: GridPoint): void {
  const before = group.boxes.length
  group.take(own, by)
  taken.load(group.boxes.slice(before))
}
