import { dot } from './dense.js'

/** Sweeps over all pairs of columns; ten are plenty for a hundred columns. */
const MOST_SWEEPS = 60

/** Columns whose product is this part of their sizes are at right angles. */
const UPRIGHT = 1e-15

/** Singular values of a matrix, and the combination of columns that each belongs to. */
export interface SingularValues {
  /** Descending. */
  readonly values: readonly number[]
  /** One unit vector a value, an entry a column. */
  readonly vectors: readonly Float64Array[]
}

/**
 * Singular values by turning pairs of columns until all are at right angles: small ones keep their digits.
 *
 * Source: M. R. Hestenes, "Inversion of matrices by biorthogonalization and related results", J. SIAM 6, 1958, 51–90 (from memory).
 *
 * @param columns of equal length; left as they are
 */
export function singularValues(columns: readonly ArrayLike<number>[]): SingularValues {
  const n = columns.length
  const a = columns.map((c) => Float64Array.from(c))
  const v = columns.map((_, k) => Float64Array.from({ length: n }, (_, j) => (j === k ? 1 : 0)))
  for (let sweep = 0, turned = true; sweep < MOST_SWEEPS && turned; sweep++) {
    turned = false
    for (let p = 0; p < n - 1; p++) {
      for (let q = p + 1; q < n; q++) {
        const [pp, qq, pq] = [dot(a[p], a[p]), dot(a[q], a[q]), dot(a[p], a[q])]
        if (Math.abs(pq) <= UPRIGHT * Math.sqrt(pp * qq) || pq === 0) continue
        turned = true
        const zeta = (qq - pp) / (2 * pq)
        const tan = Math.sign(zeta || 1) / (Math.abs(zeta) + Math.hypot(1, zeta))
        const cos = 1 / Math.hypot(1, tan)
        turn(a[p], a[q], cos, cos * tan)
        turn(v[p], v[q], cos, cos * tan)
      }
    }
  }
  const sizes = a.map((c) => Math.sqrt(dot(c, c)))
  const order = sizes.map((_, k) => k).sort((i, j) => sizes[j] - sizes[i])
  return { values: order.map((k) => sizes[k]), vectors: order.map((k) => v[k]) }
}

function turn(a: Float64Array, b: Float64Array, cos: number, sin: number): void {
  for (let k = 0; k < a.length; k++) {
    const [x, y] = [a[k], b[k]]
    a[k] = cos * x - sin * y
    b[k] = sin * x + cos * y
  }
}
