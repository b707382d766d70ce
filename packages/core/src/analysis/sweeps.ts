import { phase, type TransferFunction } from '../numeric/transferFunction.js'
import type { Sweep } from './signalAnalysis.js'

/** 20·log10|H|, dB, of each point. */
export function magnitudesDb(sweep: Pick<Sweep, 're' | 'im'>): Float64Array {
  return sweep.re.map((re, k) => 20 * Math.log10(Math.hypot(re, sweep.im[k])))
}

/**
 * Phase of each point in degrees, unwrapped: by the response's own roots where they are given, so that no grid is too
 * coarse; else from one point to the next by the delay between them. A zero on the axis makes it jump up by 180°.
 *
 * @param known the response by its roots; or its unwrapped phase near the first point, degrees
 */
export function phasesDeg(
  sweep: Pick<Sweep, 'frequency' | 're' | 'im' | 'delay'>,
  known: TransferFunction | number = 0,
): Float64Array {
  const { frequency, delay } = sweep
  const phases = sweep.re.map((re, k) => (Math.atan2(sweep.im[k], re) * 180) / Math.PI)
  let last = known
  for (let k = 0; k < phases.length; k++) {
    if (typeof last !== 'number') {
      const expected = (phase(last, 2 * Math.PI * frequency[k]) * 180) / Math.PI
      phases[k] -= 360 * Math.round((phases[k] - expected) / 360)
      continue
    }
    // 360° a hertz and second; a delay that does not exist (at a zero) predicts nothing.
    const turned = k === 0 ? 0 : 180 * (frequency[k] - frequency[k - 1]) * (delay[k - 1] + delay[k])
    const expected = last - (Number.isFinite(turned) ? turned : 0)
    phases[k] = expected + wrapped(phases[k] - expected)
    last = phases[k]
  }
  return phases
}

/** Half a turn, to either side of which rounding may fall, is a jump upwards. */
const JUMP_BIAS = 10

/** Decades below a frequency from which its phase is followed, and points a decade before any are put between. */
const FOLLOWED_DECADES = 6
const FOLLOWED_DENSITY = 40

/** Turns from point to point that agree so far, degrees, with the delay between them need no point more. */
const AGREED = 30
const MOST_HALVINGS = 30

/**
 * The unwrapped phase at a frequency, degrees, of a response whose roots nobody knows: followed from far below, where it
 * is a multiple of 90° between −180° and 180°, with more points where it turns faster than the delay says.
 *
 * @param frequency Hz, > 0
 */
export function followedPhase(ac: { sweep(frequency: Float64Array): Sweep }, frequency: number): number {
  const at = (f: number) => {
    const { re, im, delay } = ac.sweep(Float64Array.of(f))
    return { f, phase: (Math.atan2(im[0], re[0]) * 180) / Math.PI, delay: delay[0] }
  }
  type Point = ReturnType<typeof at>
  const turn = (a: Point, b: Point, depth: number): number => {
    const expected = -180 * (b.f - a.f) * (a.delay + b.delay)
    const known = Number.isFinite(expected) ? expected : 0
    const off = wrapped(b.phase - a.phase - known)
    const middle = Math.sqrt(a.f * b.f)
    if (Math.abs(off) <= AGREED || depth === 0 || !(middle > a.f && middle < b.f)) return known + off
    const m = at(middle)
    return turn(a, m, depth - 1) + turn(m, b, depth - 1)
  }
  const grid = logarithmicGrid(frequency / 10 ** FOLLOWED_DECADES, frequency, FOLLOWED_DENSITY)
  let last = at(grid[0])
  let sum = last.phase
  for (const f of grid.subarray(1)) {
    const next = at(f)
    sum += turn(last, next, MOST_HALVINGS)
    last = next
  }
  return sum
}

/** In (−180, 180], but for what rounding puts to either side of half a turn, which is a jump upwards. */
const wrapped = (degrees: number): number => degrees - 360 * Math.round((degrees - JUMP_BIAS) / 360)

/**
 * round(N·log10(to/from)) + 1 logarithmically spaced frequencies, both ends exact.
 *
 * @param from Hz, > 0
 * @param to Hz, > from
 */
export function logarithmicGrid(from: number, to: number, pointsPerDecade: number): Float64Array {
  return spacedGrid(from, to, Math.max(1, Math.round(pointsPerDecade * Math.log10(to / from))) + 1)
}

/** `points` (2 or more) logarithmically spaced frequencies, both ends exact. */
export function spacedGrid(from: number, to: number, points: number): Float64Array {
  const steps = points - 1
  const grid = Float64Array.from({ length: points }, (_, k) => from * (to / from) ** (k / steps))
  grid[steps] = to
  return grid
}

/** `points` evenly spaced frequencies, both ends exact. */
export function linearGrid(from: number, to: number, points: number): Float64Array {
  const grid = Float64Array.from({ length: points }, (_, k) => from + ((to - from) * k) / Math.max(1, points - 1))
  if (points > 1) grid[points - 1] = to
  return grid
}
