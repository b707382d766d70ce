import type { RankFactors } from './algebra.js'

/** A dense real matrix, row by row. */
export interface Dense {
  readonly rows: number
  readonly cols: number
  readonly data: Float64Array
}

export const dense = (rows: number, cols: number, data = new Float64Array(rows * cols)): Dense => ({ rows, cols, data })

export function identity(n: number): Dense {
  const m = dense(n, n)
  for (let k = 0; k < n; k++) m.data[k * n + k] = 1
  return m
}

export function transpose(a: Dense): Dense {
  const t = dense(a.cols, a.rows)
  for (let i = 0; i < a.rows; i++) for (let j = 0; j < a.cols; j++) t.data[j * a.rows + i] = a.data[i * a.cols + j]
  return t
}

export function product(a: Dense, b: Dense): Dense {
  const c = dense(a.rows, b.cols)
  for (let i = 0; i < a.rows; i++) {
    for (let k = 0; k < a.cols; k++) {
      const v = a.data[i * a.cols + k]
      if (v === 0) continue
      for (let j = 0; j < b.cols; j++) c.data[i * b.cols + j] += v * b.data[k * b.cols + j]
    }
  }
  return c
}

/** a · b, with sums that have cancelled to rounding made zero: decisions on rank must not fall on what is left. */
export function cleanProduct(a: Dense, b: Dense): Dense {
  const c = dense(a.rows, b.cols)
  const sizes = new Float64Array(b.cols)
  for (let i = 0; i < a.rows; i++) {
    sizes.fill(0)
    for (let k = 0; k < a.cols; k++) {
      const v = a.data[i * a.cols + k]
      if (v === 0) continue
      for (let j = 0; j < b.cols; j++) {
        const term = v * b.data[k * b.cols + j]
        c.data[i * b.cols + j] += term
        sizes[j] += Math.abs(term)
      }
    }
    for (let j = 0; j < b.cols; j++)
      if (Math.abs(c.data[i * b.cols + j]) <= RESIDUE * sizes[j]) c.data[i * b.cols + j] = 0
  }
  return c
}

/** a − b, with differences that have cancelled to rounding made zero. */
export function cleanDifference(a: Dense, b: Dense): Dense {
  const clean = (x: number, y: number) => (Math.abs(x - y) <= RESIDUE * Math.max(Math.abs(x), Math.abs(y)) ? 0 : x - y)
  return dense(
    a.rows,
    a.cols,
    a.data.map((v, k) => clean(v, b.data[k])),
  )
}

/** A sum this small against its terms is what rounding left of zero. */
const RESIDUE = 1e-14

/** Pivots below this part of the first, after scaling rows and columns, are rounding. */
const RANK_TOLERANCE = 1e-13

/**
 * Gauss–Jordan elimination with complete pivoting on rows and columns scaled by powers of two (scaling is exact).
 */
export function rankFactors(a: Dense): RankFactors<Dense> {
  const m = a.rows
  const n = a.cols
  const { rowScale, colScale } = equilibrate(a)
  // [A | I]: after elimination the right half records the row operations.
  const width = n + m
  const w = new Float64Array(m * width)
  for (let i = 0; i < m; i++) {
    for (let j = 0; j < n; j++) w[i * width + j] = a.data[i * n + j] * rowScale[i] * colScale[j]
    w[i * width + n + i] = rowScale[i]
  }
  const colOrder = Int32Array.from({ length: n }, (_, j) => j)
  let rank = 0
  let first = 0
  for (; rank < Math.min(m, n); rank++) {
    let best = 0
    let bi = rank
    let bj = rank
    for (let i = rank; i < m; i++) {
      for (let j = rank; j < n; j++) {
        const v = Math.abs(w[i * width + colOrder[j]])
        if (v > best) {
          best = v
          bi = i
          bj = j
        }
      }
    }
    if (rank === 0) first = best
    if (best <= RANK_TOLERANCE * first || best === 0) break
    swapRows(w, width, rank, bi)
    ;[colOrder[rank], colOrder[bj]] = [colOrder[bj], colOrder[rank]]
    const p = colOrder[rank]
    const inv = 1 / w[rank * width + p]
    for (let j = 0; j < width; j++) w[rank * width + j] *= inv
    w[rank * width + p] = 1
    for (let i = 0; i < m; i++) {
      if (i === rank) continue
      const factor = w[i * width + p]
      if (factor === 0) continue
      for (let j = 0; j < width; j++) {
        const term = factor * w[rank * width + j]
        const before = w[i * width + j]
        const rest = before - term
        w[i * width + j] = Math.abs(rest) <= RESIDUE * Math.max(Math.abs(before), Math.abs(term)) ? 0 : rest
      }
      w[i * width + p] = 0
    }
  }

  const right = dense(n, n - rank)
  for (let k = rank; k < n; k++) {
    const j = colOrder[k]
    right.data[j * (n - rank) + (k - rank)] = colScale[j]
    for (let i = 0; i < rank; i++) {
      const row = colOrder[i]
      right.data[row * (n - rank) + (k - rank)] = -w[i * width + j] * colScale[row]
    }
  }
  const left = dense(m - rank, m)
  for (let i = rank; i < m; i++) for (let j = 0; j < m; j++) left.data[(i - rank) * m + j] = w[i * width + n + j]
  const inverse = dense(n, m)
  for (let i = 0; i < rank; i++) {
    const row = colOrder[i]
    for (let j = 0; j < m; j++) inverse.data[row * m + j] = w[i * width + n + j] * colScale[row]
  }
  return { rank, right, left, inverse }
}

function swapRows(w: Float64Array, width: number, a: number, b: number): void {
  if (a === b) return
  const copy = w.slice(a * width, (a + 1) * width)
  w.copyWithin(a * width, b * width, (b + 1) * width)
  w.set(copy, b * width)
}

/** Powers of two that bring every row and column of A to a largest entry near 1. */
export function equilibrate(a: Dense): { rowScale: Float64Array; colScale: Float64Array } {
  const rowScale = new Float64Array(a.rows).fill(1)
  const colScale = new Float64Array(a.cols).fill(1)
  // Three sweeps settle the matrices that circuits give; more changes nothing that matters for rank.
  for (let sweep = 0; sweep < 3; sweep++) {
    for (let i = 0; i < a.rows; i++) {
      let largest = 0
      for (let j = 0; j < a.cols; j++) largest = Math.max(largest, Math.abs(a.data[i * a.cols + j]) * colScale[j])
      if (largest > 0) rowScale[i] = 2 ** -Math.round(Math.log2(largest))
    }
    for (let j = 0; j < a.cols; j++) {
      let largest = 0
      for (let i = 0; i < a.rows; i++) largest = Math.max(largest, Math.abs(a.data[i * a.cols + j]) * rowScale[i])
      if (largest > 0) colScale[j] = 2 ** -Math.round(Math.log2(largest))
    }
  }
  return { rowScale, colScale }
}

/** x of A·x = b by elimination with partial pivoting; rows of A and b stay as they are. */
export function solveLinear(rows: readonly (readonly number[])[], b: readonly number[]): Float64Array {
  const n = b.length
  const a = rows.map((row, k) => Float64Array.from([...row, b[k]]))
  for (let k = 0; k < n; k++) {
    let best = k
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i][k]) > Math.abs(a[best][k])) best = i
    ;[a[k], a[best]] = [a[best], a[k]]
    for (let i = k + 1; i < n; i++) {
      const factor = a[i][k] / a[k][k]
      if (factor !== 0) for (let j = k; j <= n; j++) a[i][j] -= factor * a[k][j]
    }
  }
  const x = new Float64Array(n)
  for (let k = n - 1; k >= 0; k--) {
    let sum = a[k][n]
    for (let j = k + 1; j < n; j++) sum -= a[k][j] * x[j]
    x[k] = sum / a[k][k]
  }
  return x
}

/**
 * L of A = L·Lᵀ, A symmetric and positive definite, by rows; only its lower half is read.
 *
 * @returns n × n by rows, zero above the diagonal
 */
export function choleskyFactor(a: Float64Array, n: number): Float64Array {
  const l = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j]
      for (let k = 0; k < j; k++) sum -= l[i * n + k] * l[j * n + k]
      l[i * n + j] = i === j ? Math.sqrt(sum) : sum / l[j * n + j]
    }
  return l
}

/** x of L·x = b, L lower triangular by rows. */
export function solveLower(l: Float64Array, b: Float64Array): Float64Array {
  const n = b.length
  const x = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    let sum = b[i]
    for (let k = 0; k < i; k++) sum -= l[i * n + k] * x[k]
    x[i] = sum / l[i * n + i]
  }
  return x
}

/** Σ aₖ·bₖ */
export function dot(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k] * b[k]
  return sum
}
