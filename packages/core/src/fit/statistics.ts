import { dot } from '../numeric/dense.js'
import { reduced } from '../numeric/levenbergMarquardt.js'
import { singularValues } from '../numeric/singularValues.js'
import { studentT95 } from '../numeric/studentT.js'

/** Numbers that change together and leave what was measured as it is: relative shares, the largest 1 or −1. */
export type Trade = readonly { readonly index: number; readonly share: number }[]

export interface Statistics {
  /** Half the width of the 95 % confidence interval of each number; null where there are no more residuals than numbers. */
  readonly half: readonly (number | null)[]
  /** Between each two numbers, −1 … 1. */
  readonly correlation: readonly (readonly number[])[]
  /** Combinations that the residuals do not tell; empty where all numbers are determined. */
  readonly trades: readonly Trade[]
}

/** A combination of numbers that does less than this part of what others do is not told by what was measured. */
const UNTOLD = 1e-9

/** Shares of a combination that are worth a word. */
const WORTH_SAYING = 0.02

/**
 * How well least squares determine each number, from the slopes at the least: deviations s·√((JᵀJ)⁻¹)ₖₖ with s² = Σ r²/(n − p), and the
 * interval by Student's distribution of n − p degrees of freedom.
 *
 * Source: N. R. Draper, H. Smith, *Applied Regression Analysis*, Wiley, 3rd ed. 1998, ch. 24 (nonlinear estimation; from memory).
 *
 * @param slopes derivatives of the residuals, a column a number as it is counted
 * @param sum Σ residuals²
 * @param units what one of each counts in its own unit, and as a relative change; and whether it counts the other way round
 */
export function statisticsOf(
  slopes: readonly Float64Array[],
  sum: number,
  {
    units,
    relative,
    signs,
  }: { readonly units: readonly number[]; readonly relative: readonly number[]; readonly signs: readonly number[] },
): Statistics {
  const count = slopes[0].length
  const n = slopes.length
  const sizes = slopes.map((c) => Math.sqrt(dot(c, c)))
  // A number that has run away to where doubles end is told by nothing there.
  const weights = sizes.map((s, k) => (Number.isFinite(s * relative[k]) ? s * relative[k] : 0))
  const largest = weights.reduce((most, w) => Math.max(most, w), 0)
  const silent = weights.flatMap((w, k): Trade[] => (w <= UNTOLD * largest ? [[{ index: k, share: 1 }]] : []))
  if (largest === 0 || silent.length > 0) return { half: slopes.map(() => null), correlation: [], trades: silent }
  // Columns of one length each, so that a value of little weight is not taken for one that is not told.
  const { r } = reduced(slopes)
  const { values, vectors } = singularValues(r.map((c, k) => c.map((v) => v / sizes[k])))
  const trades = values.flatMap((value, k): Trade[] => {
    if (value > UNTOLD * values[0]) return []
    const shares = Array.from(vectors[k], (v, j) => (signs[j] * v) / sizes[j] / relative[j])
    const top = shares.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a))
    return [shares.flatMap((s, index) => (Math.abs(s / top) >= WORTH_SAYING ? [{ index, share: s / top }] : []))]
  })
  if (trades.length > 0) return { half: slopes.map(() => null), correlation: [], trades }
  // (JᵀJ)⁻¹ = V·Σ⁻²·Vᵀ
  const covariance = slopes.map((_, i) =>
    slopes.map((_, j) => values.reduce((total, s, k) => total + (vectors[k][i] * vectors[k][j]) / (s * s), 0)),
  )
  const freedom = count - n
  const deviation = freedom > 0 ? Math.sqrt(sum / freedom) * studentT95(freedom) : null
  return {
    half: slopes.map((_, k) =>
      deviation === null ? null : (deviation * Math.sqrt(covariance[k][k]) * units[k]) / sizes[k],
    ),
    correlation: covariance.map((row, i) =>
      row.map((v, j) => (signs[i] * signs[j] * v) / Math.sqrt(covariance[i][i] * covariance[j][j])),
    ),
    trades: [],
  }
}
