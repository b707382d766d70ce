import { abs } from '../numeric/complex.js'
import { gainDecades, magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'

/** A point where |H(jω)| is highest or lowest among its neighbours; DC and ω = ∞ count where H is level there. */
export interface Extremum {
  /** rad/s; 0 and Infinity are allowed */
  readonly omega: number
  readonly db: number
  readonly kind: 'maximum' | 'minimum'
}

/** Points a decade of the search for changes of slope, besides those set by the roots themselves. */
const DENSITY = 40

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
  const roots = [...h.poles, ...h.zeros].filter((r) => abs(r) > 0)
  const result: Extremum[] = []
  const atOrigin = h.zeros.filter((z) => abs(z) === 0).length - h.poles.filter((p) => abs(p) === 0).length
  if (roots.length === 0) return result

  const grid = searchGrid(h)
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

/** Frequencies fine enough that the slope of |H| changes sign at most once between neighbours. */
function searchGrid(h: TransferFunction): number[] {
  const roots = [...h.poles, ...h.zeros].filter((r) => abs(r) > 0)
  const sizes = roots.map(abs)
  const from = Math.min(...sizes) * 10 ** -MARGIN_DECADES
  const to = Math.max(...sizes) * 10 ** MARGIN_DECADES
  const steps = Math.ceil(DENSITY * Math.log10(to / from))
  const grid = new Set<number>()
  for (let k = 0; k <= steps; k++) grid.add(from * (to / from) ** (k / steps))
  for (const r of roots) {
    const [centre, width] = [Math.abs(r.im), Math.abs(r.re)]
    for (const k of [-3, -1, -0.3, 0.3, 1, 3]) {
      const omega = centre + k * width
      if (omega > from && omega < to) grid.add(omega)
    }
    // A zero on the axis is where the slope jumps; stand on both sides of it.
    if (width === 0) for (const k of [1 - 1e-9, 1 + 1e-9]) grid.add(centre * k)
  }
  return [...grid].sort((a, b) => a - b)
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

/**
 * Where the magnitude crosses a level, ascending, each solved to rounding.
 *
 * @param found the extrema of the same response, between which the magnitude is monotonic
 */
export function crossings(h: TransferFunction, levelDb: number, found: readonly Extremum[] = extrema(h)): number[] {
  const result: number[] = []
  const sizes = [...h.poles, ...h.zeros].map(abs).filter((v) => v > 0)
  const outermost = Math.max(...sizes)
  const innermost = Math.min(...sizes)
  for (let k = 0; k + 1 < found.length; k++) {
    const [a, b] = [found[k], found[k + 1]]
    if (a.db > levelDb === b.db > levelDb) continue
    const lo = a.omega > 0 ? a.omega : reach(h, innermost, levelDb, a.db > levelDb, 1e-3)
    const hi = Number.isFinite(b.omega) ? b.omega : reach(h, outermost, levelDb, b.db > levelDb, 1e3)
    result.push(bisect((w) => magnitudeDb(h, w) - levelDb, lo, hi))
  }
  return result
}

/** A frequency far enough out (or in) that the magnitude lies on the given side of the level. */
function reach(h: TransferFunction, from: number, levelDb: number, above: boolean, factor: number): number {
  let omega = from
  for (let k = 0; k < 100; k++) {
    omega *= factor
    if (magnitudeDb(h, omega) > levelDb === above) return omega
  }
  return omega
}
