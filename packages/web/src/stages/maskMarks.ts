import {
  attenuations,
  type Band,
  type FilterSpecInput,
  HALF_POWER_DB,
  type Ideal,
  isShaped,
  passbands,
  stopbands,
} from '@voskel/core'
import { lowerBound } from '../diagram/paint'
import type { Mark } from '../diagram/plot'

/** A part of the mask: what a curve must keep out of. */
export type MaskPart = Extract<Mark, { kind: 'area' }> & { readonly asked: 'passband' | 'stopband' }

/**
 * The tolerance mask of a specification with bands: what lies outside of it, in Hz and dB.
 *
 * @param level dB where the response has 0 dB
 */
export function maskMarks(
  spec: FilterSpecInput,
  ideal: Ideal | null,
  range: { readonly from: number; readonly to: number },
  level = 0,
): MaskPart[] {
  if (isShaped(spec)) return []
  const edges = ideal && spec.delay ? ideal.passbandEdges : spec.passband.edges
  const stopEdges = spec.stopband ? (spec.stopband.edges ?? ideal?.stopbandEdges ?? []) : []
  const asked = spec.stopband ? attenuations(spec.stopband) : []
  const ripple = spec.passband.ripple ?? ideal?.rippleDb ?? HALF_POWER_DB
  const top = (spec.gain ?? 0) + level
  const area = (asked: MaskPart['asked'], [from, to]: Band, low: number, high: number): MaskPart => ({
    kind: 'area',
    asked,
    from: [Math.max(from, range.from), low],
    to: [Math.min(to, range.to), high],
    edge: 'whole',
  })
  return [
    ...passbands(spec.response, edges).flatMap((band) => [
      area('passband', band, top, Infinity),
      area('passband', band, -Infinity, top - ripple),
    ]),
    ...stopbands(spec.response, stopEdges).map((band, k) =>
      area('stopband', band, top - (asked[k] ?? asked[0] ?? 0), Infinity),
    ),
  ]
}

/** The highest level of a curve inside the passbands, dB: what a mask of levels is counted from. */
export function topInside(spec: FilterSpecInput, ideal: Ideal | null, x: Float64Array, y: Float64Array): number {
  if (isShaped(spec)) return -Infinity
  const edges = ideal && spec.delay ? ideal.passbandEdges : spec.passband.edges
  const bands = passbands(spec.response, edges)
  return y.reduce(
    (top, db, k) => (bands.some(([a, b]) => x[k]! >= a && x[k]! <= b) ? Math.max(top, db) : top),
    -Infinity,
  )
}

/** dB inside the mask that are rounding. */
const NOTHING_DB = 1e-6

/** The stretches of a curve, in Hz and dB, that lie inside the mask; cut where they come in and go out. */
export function violations(mask: readonly Extract<Mark, { kind: 'area' }>[], x: Float64Array, y: Float64Array): Mark[] {
  return mask.flatMap(({ from: [left, low], to: [right, high] }): Mark[] => {
    const runs: Mark[] = []
    let run: (readonly [number, number])[] = []
    const close = () => {
      if (run.length > 1)
        runs.push({
          kind: 'run',
          x: Float64Array.from(run, ([f]) => f),
          y: Float64Array.from(run, ([, db]) => db),
          ink: 'missed',
        })
      run = []
    }
    const [bottom, top] = [low + NOTHING_DB, high - NOTHING_DB]
    const end = Math.min(x.length - 1, lowerBound(x, right) + 1)
    for (let k = Math.max(1, lowerBound(x, left)); k <= end; k++) {
      // The part of the straight line, over the logarithm of the frequency, that lies inside the rectangle.
      const [x0, x1, y0, y1] = [Math.log(x[k - 1]!), Math.log(x[k]!), y[k - 1]!, y[k]!]
      const shareX = (f: number) =>
        f > 0 && f < Infinity ? (Math.log(f) - x0) / (x1 - x0) : f > 0 ? Infinity : -Infinity
      let [a, b] = [Math.max(0, shareX(left)), Math.min(1, shareX(right))]
      const rise = y1 - y0
      for (const [limit, isBelow] of [
        [bottom, false],
        [top, true],
      ] as const) {
        if (!Number.isFinite(limit)) continue
        const inside = (v: number) => (isBelow ? v < limit : v > limit)
        if (rise === 0) {
          if (!inside(y0)) b = -1
          continue
        }
        const share = (limit - y0) / rise
        if (inside(y0) && inside(y1)) continue
        if (!inside(y0) && !inside(y1)) b = -1
        else if (inside(y1)) a = Math.max(a, share)
        else b = Math.min(b, share)
      }
      if (!(b > a)) {
        close()
        continue
      }
      const at = (share: number) => [Math.exp(x0 + share * (x1 - x0)), y0 + share * rise] as const
      if (run.length === 0) run.push(at(a))
      else if (a > 0) {
        close()
        run.push(at(a))
      }
      run.push(at(b))
      if (b < 1) close()
    }
    close()
    return runs
  })
}
