import { abs } from '../numeric/complex.js'
import { gainDecades, magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import { searchGrid } from './overFrequency.js'

/** A point where |H(jω)| is highest or lowest among its neighbours; DC and ω = ∞ count where H is level there. */
export interface Extremum {
  /** rad/s; 0 and Infinity are allowed */
  readonly omega: number
  readonly db: number
  readonly kind: 'maximum' | 'minimum'
}

/** Decades searched beyond the outermost roots: from there on the curve is a straight line. */
const MARGIN_DECADES = 3

/** d ln|H| / dω at ω. */
export function logSlope(h: TransferFunction, omega: number): number {
  let sum = 0
  for (const z of h.zeros) sum += (omega - z.im) / (z.re * z.re + (omega - z.im) ** 2)
  for (const p of h.poles) sum -= (omega - p.im) / (p.re * p.re + (omega - p.im) ** 2)
  return sum
}

/** All extrema of the magnitude from DC to infinity, ascending; each solved to rounding. */
export function extrema(h: TransferFunction): Extremum[] {
  const result: Extremum[] = []
  const reach = reachOf(h)
  const atOrigin = h.zeros.filter((z) => abs(z) === 0).length - h.poles.filter((p) => abs(p) === 0).length
  if (!reach) return result

  const grid = searchGrid(h, ...reach)
  if (atOrigin === 0) {
    // |H| is even in ω, so DC is level; the sign of the first slope says what it is.
    const kind = logSlope(h, grid[0]) <= 0 ? 'maximum' : 'minimum'
    result.push({ omega: 0, db: magnitudeDb(h, 0), kind })
  } else {
    result.push({ omega: 0, db: atOrigin > 0 ? -Infinity : Infinity, kind: atOrigin > 0 ? 'minimum' : 'maximum' })
  }
  let before = logSlope(h, grid[0])
  for (let k = 1; k < grid.length; k++) {
    const after = logSlope(h, grid[k])
    if (before > 0 !== after > 0) {
      const omega = bisect((w) => logSlope(h, w), grid[k - 1], grid[k])
      result.push({ omega, db: magnitudeDb(h, omega), kind: before > 0 ? 'maximum' : 'minimum' })
    }
    before = after
  }
  const excess = h.poles.length - h.zeros.length
  const last = before > 0 ? 'maximum' : 'minimum'
  const atInfinity = excess === 0 ? 20 * gainDecades(h) : excess > 0 ? -Infinity : Infinity
  result.push({ omega: Infinity, db: atInfinity, kind: last })
  return result
}

/** From far below the innermost root to far above the outermost, rad/s; null where every root lies at the origin. */
export function reachOf(h: TransferFunction): readonly [from: number, to: number] | null {
  const sizes = [...h.poles, ...h.zeros].map(abs).filter((v) => v > 0)
  if (sizes.length === 0) return null
  const decades = 10 ** MARGIN_DECADES
  return [Math.min(...sizes) / decades, Math.max(...sizes) * decades]
}

/** Where a function changes sign between a and b, to the last bit. */
export function bisect(f: (x: number) => number, a: number, b: number): number {
  const rising = f(b) > 0
  let lo = a
  let hi = b
  for (;;) {
    const mid = lo + (hi - lo) / 2
    if (mid <= lo || mid >= hi) return mid
    if (f(mid) > 0 === rising) hi = mid
    else lo = mid
  }
}

/** An extremum that comes this near to a level touches it and does not cross it, dB. */
const TOUCHES_DB = 1e-7

/**
 * Where the magnitude crosses a level, ascending, each solved to rounding.
 *
 * @param found the extrema of the same response, between which the magnitude is monotonic
 */
export function crossings(h: TransferFunction, levelDb: number, found: readonly Extremum[] = extrema(h)): number[] {
  const result: number[] = []
  const reach = reachOf(h)
  if (!reach) return result
  const clear = found.filter((e) => Math.abs(e.db - levelDb) > TOUCHES_DB)
  for (let k = 0; k + 1 < clear.length; k++) {
    const [a, b] = [clear[k], clear[k + 1]]
    if (a.db > levelDb === b.db > levelDb) continue
    const lo = a.omega > 0 ? a.omega : outward(h, reach[0], levelDb, a.db > levelDb, 1e-3)
    const hi = Number.isFinite(b.omega) ? b.omega : outward(h, reach[1], levelDb, b.db > levelDb, 1e3)
    result.push(bisect((w) => magnitudeDb(h, w) - levelDb, lo, hi))
  }
  return result
}

/** A frequency far enough out (or in) that the magnitude lies on the given side of the level. */
function outward(h: TransferFunction, from: number, levelDb: number, above: boolean, factor: number): number {
  let omega = from
  for (let k = 0; k < 100; k++) {
    omega *= factor
    if (magnitudeDb(h, omega) > levelDb === above) return omega
  }
  return omega
}
