import type { End } from '../circuit/circuit.js'
import { HALF, type Sketch } from './Sketch.js'

/** A network with two ends of resistors (Ω), coils (H) and capacitors (F). */
export type TwoPole =
  | { readonly kind: 'R' | 'L' | 'C'; readonly value: number }
  | { readonly series: readonly TwoPole[] }
  | { readonly parallel: readonly TwoPole[] }

const PARTS = { R: 'resistor', L: 'inductor', C: 'capacitor' } as const

export const resistor = (value: number): TwoPole => ({ kind: 'R', value })
export const coil = (value: number): TwoPole => ({ kind: 'L', value })
export const capacitor = (value: number): TwoPole => ({ kind: 'C', value })

/** Several in series or in parallel; one alone stays what it is. */
export const series = (...poles: readonly TwoPole[]): TwoPole => (poles.length === 1 ? poles[0] : { series: poles })
export const parallel = (...poles: readonly TwoPole[]): TwoPole => (poles.length === 1 ? poles[0] : { parallel: poles })

/** The network whose impedance is R²/Z. */
export function dual(pole: TwoPole, r: number): TwoPole {
  if ('series' in pole) return { parallel: pole.series.map((p) => dual(p, r)) }
  if ('parallel' in pole) return { series: pole.parallel.map((p) => dual(p, r)) }
  if (pole.kind === 'R') return resistor((r * r) / pole.value)
  return pole.kind === 'L' ? capacitor(pole.value / (r * r)) : coil(pole.value * r * r)
}

/** Grid units between parts in a row, between branches side by side, and that a branch needs beside its own parts. */
const GAP = 1
const ROW = 4
const COLUMN = 7
const MARGIN = 1

type Direction = 'across' | 'down'

/** How long a network is where its current flows, and how wide, in grid units, drawn in a direction. */
export function sizeOf(pole: TwoPole, direction: Direction): { length: number; width: number } {
  if ('series' in pole) {
    const sizes = pole.series.map((p) => sizeOf(p, direction))
    return {
      length: sizes.reduce((sum, s) => sum + s.length, 0) + GAP * (sizes.length - 1),
      width: Math.max(...sizes.map((s) => s.width)),
    }
  }
  if ('parallel' in pole) {
    const sizes = pole.parallel.map((p) => sizeOf(p, direction))
    return {
      length: Math.max(...sizes.map((s) => s.length)) + 2 * MARGIN,
      width: sizes.reduce((sum, s) => sum + s.width, 0),
    }
  }
  return { length: 2 * HALF, width: direction === 'across' ? ROW : COLUMN }
}

interface Ends {
  readonly from: End
  readonly to: End
}

/**
 * Draws a network from (x, y) to the right, further branches above, or down, further branches to the right.
 *
 * @param length grid units that it is to fill, at least its own
 * @param branches where further branches of a network that lies go
 * @returns its two ends, at (x, y) and `length` farther
 */
export function drawTwoPole(
  sketch: Sketch,
  pole: TwoPole,
  {
    x,
    y,
    direction,
    length,
    branches = 'above',
  }: { x: number; y: number; direction: Direction; length?: number; branches?: 'above' | 'below' },
): Ends {
  const at = (along: number, aside: number): [number, number] =>
    direction === 'across' ? [x + along, branches === 'above' ? y - aside : y + aside] : [x + aside, y + along]
  const draw = (p: TwoPole, along: number, aside: number, room: number): Ends => {
    if ('kind' in p) {
      const [px, py] = at(along + room / 2, aside)
      const id = sketch.valued(sketch.name(p.kind), PARTS[p.kind], p.value, px, py, direction === 'across' ? 0 : 90)
      return { from: { part: id, pin: 'a' }, to: { part: id, pin: 'b' } }
    }
    if ('series' in p) {
      const lengths = p.series.map((inner) => sizeOf(inner, direction).length)
      const spare = (room - lengths.reduce((sum, l) => sum + l, 0)) / lengths.length
      let place = along
      const ends = p.series.map((inner, k) => {
        const own = lengths[k] + spare
        const drawn = draw(inner, place, aside, own)
        place += own
        return drawn
      })
      for (let k = 1; k < ends.length; k++) sketch.wire(ends[k - 1].to, ends[k].from)
      return { from: ends[0].from, to: ends.at(-1)!.to }
    }
    const [from, to] = [sketch.junction(...at(along, aside)), sketch.junction(...at(along + room, aside))]
    let beside = aside
    p.parallel.forEach((inner, k) => {
      const drawn = draw(inner, along + MARGIN, beside, room - 2 * MARGIN)
      const corners = k === 0 ? [] : [at(along, beside)]
      sketch.wire(from, drawn.from, ...corners)
      sketch.wire(drawn.to, to, ...(k === 0 ? [] : [at(along + room, beside)]))
      beside += sizeOf(inner, direction).width
    })
    return { from, to }
  }
  return draw(pole, 0, 0, length ?? sizeOf(pole, direction).length)
}
