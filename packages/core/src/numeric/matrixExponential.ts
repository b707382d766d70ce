import { type Dense, dense, identity, product } from './dense.js'

/** Norm up to which the Padé approximant of degree 13 is exact to rounding. */
const THETA_13 = 5.371920351148152

/** Coefficients of the diagonal Padé approximant of degree 13. */
const PADE_13 = [
  64764752532480000, 32382376266240000, 7771770303897600, 1187353796428800, 129060195264000, 10559470521600,
  670442572800, 33522128640, 1323241920, 40840800, 960960, 16380, 182, 1,
]

/**
 * e^A by scaling and squaring with the Padé approximant of degree 13.
 *
 * Source: N. J. Higham, "The scaling and squaring method for the matrix exponential revisited", SIAM J. Matrix Anal.
 * Appl. 26, 2005, 1179–1193.
 *
 * @param refresh for block-triangular A: writes the exact diagonal blocks of e^(A·t) into the matrix given. Squaring
 *   alone loses the slow ones among fast ones (A. H. Al-Mohy, N. J. Higham, SIAM J. Matrix Anal. Appl. 31, 2009,
 *   970–989, § 2)
 */
export function matrixExponential(a: Dense, refresh?: (result: Dense, t: number) => void): Dense {
  const n = a.rows
  const squarings = Math.max(0, Math.ceil(Math.log2(norm1(a) / THETA_13)))
  const scaled = dense(
    n,
    n,
    a.data.map((v) => v * 2 ** -squarings),
  )
  const a2 = product(scaled, scaled)
  const a4 = product(a2, a2)
  const a6 = product(a2, a4)
  const b = PADE_13
  const eye = identity(n)
  const combine = (...terms: [Dense, number][]) => {
    const sum = dense(n, n)
    for (const [m, k] of terms) for (let e = 0; e < sum.data.length; e++) sum.data[e] += k * m.data[e]
    return sum
  }
  const u = product(
    scaled,
    combine(
      [product(a6, combine([a6, b[13]], [a4, b[11]], [a2, b[9]])), 1],
      [a6, b[7]],
      [a4, b[5]],
      [a2, b[3]],
      [eye, b[1]],
    ),
  )
  const v = combine(
    [product(a6, combine([a6, b[12]], [a4, b[10]], [a2, b[8]])), 1],
    [a6, b[6]],
    [a4, b[4]],
    [a2, b[2]],
    [eye, b[0]],
  )
  let result = solveDense(combine([v, 1], [u, -1]), combine([v, 1], [u, 1]))
  refresh?.(result, 2 ** -squarings)
  for (let k = squarings - 1; k >= 0; k--) {
    result = product(result, result)
    refresh?.(result, 2 ** -k)
  }
  return result
}

function norm1(a: Dense): number {
  let largest = 0
  for (let j = 0; j < a.cols; j++) {
    let sum = 0
    for (let i = 0; i < a.rows; i++) sum += Math.abs(a.data[i * a.cols + j])
    largest = Math.max(largest, sum)
  }
  return largest
}

/** A⁻¹·B by elimination with partial pivoting; A is well conditioned here by construction. */
function solveDense(a: Dense, b: Dense): Dense {
  const n = a.rows
  const m = a.data.slice()
  const x = b.data.slice()
  for (let k = 0; k < n; k++) {
    let pivot = k
    for (let i = k + 1; i < n; i++) if (Math.abs(m[i * n + k]) > Math.abs(m[pivot * n + k])) pivot = i
    if (pivot !== k) {
      for (let j = 0; j < n; j++) {
        ;[m[k * n + j], m[pivot * n + j]] = [m[pivot * n + j], m[k * n + j]]
        ;[x[k * n + j], x[pivot * n + j]] = [x[pivot * n + j], x[k * n + j]]
      }
    }
    for (let i = k + 1; i < n; i++) {
      const factor = m[i * n + k] / m[k * n + k]
      if (factor === 0) continue
      for (let j = k; j < n; j++) m[i * n + j] -= factor * m[k * n + j]
      for (let j = 0; j < n; j++) x[i * n + j] -= factor * x[k * n + j]
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    for (let j = 0; j < n; j++) {
      let sum = x[k * n + j]
      for (let i = k + 1; i < n; i++) sum -= m[k * n + i] * x[i * n + j]
      x[k * n + j] = sum / m[k * n + k]
    }
  }
  return dense(n, n, x)
}
