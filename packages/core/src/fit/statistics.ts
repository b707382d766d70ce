import { dot } from '../numeric/dense.js'
import { triangular } from '../numeric/levenbergMarquardt.js'
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
 * @param slopes derivatives of the residuals, a column a number
 * @param sum Σ residuals²
 * @param scales what a relative change of each number is measured by
 */
export function statisticsOf(slopes: readonly Float64Array[], sum: number, scales: readonly number[]): Statistics {
  const count = slopes[0].length
  const n = slopes.length
  const scaled = slopes.map((column, k) => column.map((v) => v * scales[k]))
  const sizes = scaled.map((c) => Math.sqrt(dot(c, c)))
  const largest = Math.max(...sizes)
  const silent = sizes.flatMap((s, k): Trade[] => (s <= UNTOLD * largest ? [[{ index: k, share: 1 }]] : []))
  if (largest === 0 || silent.length > 0) return { half: slopes.map(() => null), correlation: [], trades: silent }
  // Columns of one length each, so that a value of little weight is not taken for one that is not told.
  const { r } = triangular(
    scaled.map((c, k) => c.map((v) => v / sizes[k])),
    new Float64Array(count),
  )
  const { values, vectors } = singularValues(r)
  const trades = values.flatMap((value, k): Trade[] => {
    if (value > UNTOLD * values[0]) return []
    const shares = Array.from(vectors[k], (v, j) => v / sizes[j])
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
      deviation === null ? null : (deviation * Math.sqrt(covariance[k][k]) * scales[k]) / sizes[k],
    ),
    correlation: covariance.map((row, i) => row.map((v, j) => v / Math.sqrt(covariance[i][i] * covariance[j][j]))),
    trades: [],
  }
}
