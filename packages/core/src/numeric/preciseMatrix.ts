import type { Algebra, RankFactors } from './algebra.js'
import { dense, type Dense, equilibrate } from './dense.js'
import { preciseEigenvalues } from './preciseEigenvalues.js'
import { type Arithmetic, DOUBLE_DOUBLES, QUAD_DOUBLES, type Real } from './real.js'

/** A matrix of more digits than doubles have, row by row. */
export interface PreciseMatrix {
  readonly rows: number
  readonly cols: number
  readonly data: Real[]
}

/** Matrices of double-doubles. */
export const IN_DOUBLE_DOUBLES = algebraOf(DOUBLE_DOUBLES, { residue: 1e-28, rank: 1e-26 })

/** Matrices of quad-doubles: what is nothing and what is very small are far apart. */
export const IN_QUAD_DOUBLES = algebraOf(QUAD_DOUBLES, {
  residue: 1e-50,
  rank: 1e-46,
})

/**
 * @param bounds.residue a sum this small against its terms is what rounding left of zero
 * @param bounds.rank pivots below this part of the first, after scaling rows and columns, are rounding
 */
function algebraOf(
  arithmetic: Arithmetic,
  { residue, rank: nothing }: { residue: number; rank: number },
): Algebra<PreciseMatrix> {
  const zero = arithmetic.of(0)
  const zeros = (rows: number, cols: number): PreciseMatrix => ({
    rows,
    cols,
    data: new Array<Real>(rows * cols).fill(zero),
  })

  const clean = (value: Real, size: number): Real => (Math.abs(value.toNumber()) <= residue * size ? zero : value)
  const minus = (a: Real, b: Real): Real => clean(a.sub(b), Math.max(Math.abs(a.toNumber()), Math.abs(b.toNumber())))

  function product(a: PreciseMatrix, b: PreciseMatrix): PreciseMatrix {
    const c = zeros(a.rows, b.cols)
    for (let i = 0; i < a.rows; i++) {
      const sizes = new Float64Array(b.cols)
      const row = i * b.cols
      for (let k = 0; k < a.cols; k++) {
        const v = a.data[i * a.cols + k]
        if (v.isZero()) continue
        for (let j = 0; j < b.cols; j++) {
          const w = b.data[k * b.cols + j]
          if (w.isZero()) continue
          const term = v.mul(w)
          c.data[row + j] = c.data[row + j].add(term)
          sizes[j] += Math.abs(term.toNumber())
        }
      }
      for (let j = 0; j < b.cols; j++) c.data[row + j] = clean(c.data[row + j], sizes[j])
    }
    return c
  }

  /** As `rankFactors` of doubles. */
  function rankFactors(a: PreciseMatrix): RankFactors<PreciseMatrix> {
    const [m, n] = [a.rows, a.cols]
    const { rowScale, colScale } = equilibrate(rounded(a))
    // [A | I] by rows: after elimination the right half records the row operations.
    const w = Array.from({ length: m }, (_, i) => [
      ...a.data.slice(i * n, (i + 1) * n).map((v, j) => v.mul(rowScale[i] * colScale[j])),
      ...Array.from({ length: m }, (_, k) => (k === i ? arithmetic.of(rowScale[i]) : zero)),
    ])
    const order = Array.from({ length: n }, (_, j) => j)
    let [rank, first] = [0, 0]
    for (; rank < Math.min(m, n); rank++) {
      let [best, bi, bj] = [0, rank, rank]
      for (let i = rank; i < m; i++)
        for (let j = rank; j < n; j++) {
          const size = Math.abs(w[i][order[j]].toNumber())
          if (size > best) [best, bi, bj] = [size, i, j]
        }
      if (rank === 0) first = best
      if (best <= nothing * first) break
      ;[w[rank], w[bi]] = [w[bi], w[rank]]
      ;[order[rank], order[bj]] = [order[bj], order[rank]]
      const p = order[rank]
      const pivot = w[rank][p]
      w[rank] = w[rank].map((v) => (v.isZero() ? v : v.div(pivot)))
      for (let i = 0; i < m; i++) {
        const factor = w[i][p]
        if (i === rank || factor.isZero()) continue
        w[rank].forEach((v, j) => {
          if (!v.isZero()) w[i][j] = minus(w[i][j], factor.mul(v))
        })
        w[i][p] = zero
      }
    }

    const right = zeros(n, n - rank)
    for (let k = rank; k < n; k++) {
      const j = order[k]
      right.data[j * (n - rank) + k - rank] = arithmetic.of(colScale[j])
      for (let i = 0; i < rank; i++) right.data[order[i] * (n - rank) + k - rank] = w[i][j].mul(-colScale[order[i]])
    }
    const left = { rows: m - rank, cols: m, data: w.slice(rank).flatMap((row) => row.slice(n)) }
    const inverse = zeros(n, m)
    for (let i = 0; i < rank; i++)
      for (let j = 0; j < m; j++) inverse.data[order[i] * m + j] = w[i][n + j].mul(colScale[order[i]])
    return { rank, right, left, inverse }
  }

  return {
    zeros,
    put: ({ cols, data }, i, j, value) => (data[i * cols + j] = data[i * cols + j].add(value)),
    rounded,
    transpose: ({ rows, cols, data }) => ({
      rows: cols,
      cols: rows,
      data: Array.from({ length: rows * cols }, (_, k) => data[(k % rows) * cols + Math.floor(k / rows)]),
    }),
    negative: (m) => ({ ...m, data: m.data.map((v) => v.neg()) }),
    product,
    difference: (a, b) => ({ ...a, data: a.data.map((v, k) => minus(v, b.data[k])) }),
    rankFactors,
    eigenvalues: ({ rows, data }) =>
      preciseEigenvalues(
        Array.from({ length: rows }, (_, i) => data.slice(i * rows, (i + 1) * rows)),
        arithmetic,
      ),
  }
}

function rounded({ rows, cols, data }: PreciseMatrix): Dense {
  return dense(
    rows,
    cols,
    Float64Array.from(data, (v) => v.toNumber()),
  )
}
