import type { Complex } from '../numeric/complex.js'
import { delayOf, type FrequencyResponse, type ResponsePoint, type Sweep } from './signalAnalysis.js'
import { logarithmicGrid } from './sweeps.js'

/** Straight lines between neighbouring points err by less than this. */
const MAX_ERROR_DB = 0.02
const MAX_ERROR_DEG = 0.2

/** Points a decade before anything is refined. */
const BASE_DENSITY = 12

/** Halvings of one interval: at a notch the dB curve goes to −∞ and would be refined for ever. */
const MAX_DEPTH = 14

/** Every so many points the solution is checked against the equations. */
const CHECK_EVERY = 16

/** Around a resonance σ ± jω, first points stand at ω plus these multiples of σ. */
const RESONANCE_OFFSETS = [-8, -3, -1, -0.4, 0, 0.4, 1, 3, 8]

/**
 * The response on as many points as it needs: first points from the poles and zeros, so that no resonance however
 * narrow is missed, then intervals halved until linear interpolation in log f is good enough.
 *
 * @param from Hz, > 0
 * @param to Hz, > from
 * @param roots poles and zeros of the response, rad/s; none is allowed, then resonances narrower than the base grid
 *   may be missed
 */
export const adaptiveSweep = (ac: FrequencyResponse, from: number, to: number, roots: readonly Complex[]): Sweep =>
  adaptiveSweeps({ points: (omega, check) => [ac.point(omega, check)] }, from, to, roots)[0]

/** The same of several signals of one run, on points that suit all of them. */
export function adaptiveSweeps(
  ac: { points(omega: number, check?: boolean): readonly ResponsePoint[] },
  from: number,
  to: number,
  roots: readonly Complex[],
): Sweep[] {
  const points = new Map<number, Point>()
  const at = (frequency: number): Point => {
    let point = points.get(frequency)
    if (!point) {
      const signals = ac.points(2 * Math.PI * frequency, points.size % CHECK_EVERY === 0)
      point = {
        frequency,
        signals: signals.map(({ value, slope }) => ({
          value,
          delay: delayOf(value, slope),
          db: 20 * Math.log10(Math.hypot(value.re, value.im)),
        })),
      }
      points.set(frequency, point)
    }
    return point
  }

  const first = new Set<number>(logarithmicGrid(from, to, BASE_DENSITY))
  for (const root of roots) {
    for (const k of RESONANCE_OFFSETS) {
      const f = (Math.abs(root.im) + k * Math.abs(root.re)) / (2 * Math.PI)
      if (f > from && f < to) first.add(f)
    }
  }
  const start = [...first].sort((a, b) => a - b).map(at)
  const refine = (a: Point, b: Point, depth: number): void => {
    const middle = Math.sqrt(a.frequency * b.frequency)
    if (depth === 0 || middle <= a.frequency || middle >= b.frequency) return
    const m = at(middle)
    if (m.signals.every((signal, k) => fits(a.signals[k], signal, b.signals[k]))) return
    refine(a, m, depth - 1)
    refine(m, b, depth - 1)
  }
  for (let k = 0; k + 1 < start.length; k++) refine(start[k], start[k + 1], MAX_DEPTH)

  const sorted = [...points.values()].sort((a, b) => a.frequency - b.frequency)
  const frequency = Float64Array.from(sorted, (p) => p.frequency)
  return start[0].signals.map((_, k) => ({
    frequency,
    re: Float64Array.from(sorted, (p) => p.signals[k].value.re),
    im: Float64Array.from(sorted, (p) => p.signals[k].value.im),
    delay: Float64Array.from(sorted, (p) => p.signals[k].delay),
  }))
}

interface Point {
  readonly frequency: number
  readonly signals: readonly SignalPoint[]
}

interface SignalPoint {
  readonly value: Complex
  readonly delay: number
  readonly db: number
}

/** Whether the middle point lies on the straight line between its neighbours, in dB and degrees. */
function fits(a: SignalPoint, m: SignalPoint, b: SignalPoint): boolean {
  if (Math.abs(m.db - (a.db + b.db) / 2) > MAX_ERROR_DB) return false
  const step1 = turn(a.value, m.value)
  const step2 = turn(m.value, b.value)
  return Math.abs(step1 - step2) / 2 <= MAX_ERROR_DEG && Math.abs(step1) < 45 && Math.abs(step2) < 45
}

/** Angle from one value to the next, degrees in (−180, 180]. */
function turn(from: Complex, to: Complex): number {
  const cross = from.re * to.im - from.im * to.re
  const dot = from.re * to.re + from.im * to.im
  return (Math.atan2(cross, dot) * 180) / Math.PI
}
