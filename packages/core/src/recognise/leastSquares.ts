import { dot, solveLinear } from '../numeric/dense.js'
import type { Ends } from './candidates.js'

/** Numbers, and how far off they are. */
export interface Place {
  readonly at: readonly number[]
  readonly values: ArrayLike<number>
  /** Σ values² */
  readonly size: number
}

/** What is off at some numbers; null where there is nothing. */
export type Off = (at: readonly number[]) => ArrayLike<number> | null

const MOST_STEPS = 25

/** Of the range of a number: the step of a difference. */
const STEP = 1e-6

/** A place to begin at; null where there is none. */
export function placeAt(at: readonly number[], off: Off): Place | null {
  const values = off(at)
  return values && { at, values, size: dot(values, values) }
}

/**
 * The least squares near a place, by damped Gauss–Newton steps with derivatives by differences.
 *
 * @param settled a step that gains less than this share, or less than `enough`, is the last
 */
export function refined(
  start: Place,
  ends: readonly Ends[],
  off: Off,
  { settled, enough, most = MOST_STEPS }: { settled: number; enough: number; most?: number },
): Place {
  let best = start
  let damping = 1e-3
  for (let step = 0; step < most && ends.length > 0 && best.size > enough && damping < 1e6; step++) {
    const slopes = ends.map(([from, to], k) => {
      const h = (best.at[k] + STEP * (to - from) > to ? -STEP : STEP) * (to - from)
      const values = off(best.at.map((x, j) => (j === k ? x + h : x)))
      return values && Float64Array.from(values, (v, i) => (v - best.values[i]) / h)
    })
    if (slopes.includes(null)) break
    const move = solved(slopes as Float64Array[], best.values, damping)
    const next = placeAt(
      best.at.map((x, k) => Math.min(ends[k][1], Math.max(ends[k][0], x - move[k]))),
      off,
    )
    if (next && next.size < best.size) {
      const gained = best.size - next.size
      best = next
      damping /= 10
      if (gained <= settled * next.size || gained < enough) break
    } else damping *= 10
  }
  return best
}

/** (JᵀJ + damping·diag)⁻¹·Jᵀr; no step where the numbers do not tell themselves apart. */
function solved(columns: readonly Float64Array[], r: ArrayLike<number>, damping: number): ArrayLike<number> {
  const matrix = columns.map((a, i) => columns.map((b, j) => dot(a, b) * (i === j ? 1 + damping : 1)))
  if (matrix.some((row, i) => !(row[i] > 0))) return columns.map(() => 0)
  return solveLinear(
    matrix,
    columns.map((c) => dot(c, r)),
  )
}
