import { z } from 'zod'
import { type Circuit, type End, type GridPoint, type Part, PartSchema } from '../circuit.js'
import { placed } from '../drawing/geometry.js'
import { freePartId } from '../ids.js'
import { maybePartKind, partKind, partShape } from '../parts/index.js'
import { wired } from './connect.js'

/** A part that is to be: all that a part says but its name, which it gets, and its place. */
export const NewPartSchema = PartSchema.omit({ id: true, at: true, label: true, exact: true }).extend({
  values: PartSchema.shape.values.default({}),
})
export type NewPart = z.output<typeof NewPartSchema>

/** The circuit with one more part at a place, its usual joints between its own pins made. Returns the part with it. */
export function withNewPart(circuit: Circuit, part: NewPart, at: NonNullable<Part['at']>): readonly [Circuit, Part] {
  const { usuallyJoined = [] } = partKind(part.kind)
  const made: Part = { ...part, id: freePartId(circuit, part.kind), at }
  const joined = usuallyJoined.reduce<Circuit>(
    (c, [a, b]) => wired(c, { part: made.id, pin: a }, { part: made.id, pin: b }),
    { ...circuit, parts: [...circuit.parts, made] },
  )
  return [joined, made]
}

/** The pins between which a circuit grows through a part; the same twice where it has one, null where it has none. */
export function growingPins(kind: string): readonly [from: string, to: string] | null {
  const { grows, pins } = maybePartKind(kind) ?? { pins: [] }
  if (grows) return [grows.from, grows.to]
  return pins.length > 0 ? [pins[0], pins.at(-1)!] : null
}

/** The pin of a part at which a circuit goes on that came to another one of it. */
export function pinBeyond(kind: string, near: string): string {
  const [from, to] = growingPins(kind)!
  const { across } = partKind(kind).grows ?? {}
  if (across?.includes(near)) return near === across[0] ? across[1] : across[0]
  return near === to ? from : to
}

const ROTATIONS = [0, 90, 180, 270] as const

/** What being beside the others on the left counts for against being straight. */
const LITTLE = 1e-3

/**
 * How a part is turned so that it leads from one pin to another in a direction, as straight as can be; mirrored only where
 * that is straighter.
 *
 * @param left a pin that is to lie on the left, where both ways are as straight
 */
export function turnedAlong(
  part: NewPart,
  from: string,
  to: string,
  along: GridPoint,
  left?: string,
): NonNullable<Part['at']> {
  const { pinPlaces } = partShape(part)
  let best = { at: { x: 0, y: 0, rotation: 0 } as NonNullable<Part['at']>, fit: -Infinity }
  for (const mirrored of [false, true])
    for (const rotation of ROTATIONS) {
      const at = { x: 0, y: 0, rotation, ...(mirrored && { mirrored }) }
      const [a, b] = [placed({ at }, pinPlaces[from]), placed({ at }, pinPlaces[to])]
      const [dx, dy] = [b.x - a.x, b.y - a.y]
      const isLeft = left !== undefined && placed({ at }, pinPlaces[left]).x < 0
      const fit = ((dx * along.x + dy * along.y) / Math.hypot(dx, dy) || 0) + (isLeft ? LITTLE : 0)
      if (fit > best.fit + 1e-9) best = { at, fit }
    }
  return best.at
}

/** A place for a turned part, so that one of its pins lies at a point. */
export function withPinAt(part: NewPart, turned: NonNullable<Part['at']>, pin: string, at: GridPoint) {
  const from = placed({ at: turned }, partShape(part).pinPlaces[pin])
  return { ...turned, x: turned.x + at.x - from.x, y: turned.y + at.y - from.y }
}

export const pinEnd = (part: Part, pin: string): End => ({ part: part.id, pin })
