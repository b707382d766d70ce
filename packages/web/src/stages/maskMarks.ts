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
export type MaskPart = Extract<Mark, { kind: 'area' }>

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
  const area = ([from, to]: Band, low: number, high: number): MaskPart => ({
    kind: 'area',
    from: [Math.max(from, range.from), low],
    to: [Math.min(to, range.to), high],
    edge: 'whole',
  })
  return [
    ...passbands(spec.response, edges).flatMap((band) => [
      area(band, top, Infinity),
      area(band, -Infinity, top - ripple),
    ]),
    ...stopbands(spec.response, stopEdges).map((band, k) => area(band, top - (asked[k] ?? asked[0] ?? 0), Infinity)),
  ]
}

/** dB inside the mask that are rounding. */
const NOTHING_DB = 1e-6

/** The stretches of a curve, in Hz and dB, that lie inside the mask. */
export function violations(mask: readonly MaskPart[], x: Float64Array, y: Float64Array): Mark[] {
  return mask.flatMap(({ from: [left, low], to: [right, high] }): Mark[] => {
    const runs: Mark[] = []
    let run: [number, number][] = []
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
    const end = Math.min(x.length - 1, lowerBound(x, right))
    for (let k = Math.max(0, lowerBound(x, left) - 1); k <= end; k++) {
      const isInside = x[k]! >= left && x[k]! <= right && y[k]! > low + NOTHING_DB && y[k]! < high - NOTHING_DB
      if (isInside) run.push([x[k]!, y[k]!])
      else close()
    }
    close()
    return runs
  })
}
