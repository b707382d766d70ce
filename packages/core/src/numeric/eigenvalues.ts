import { type Complex, complex } from './complex.js'
import type { Dense } from './dense.js'

/** Sweeps of the QR iteration per eigenvalue before it is given up; 4 is usual. */
const MAX_SWEEPS = 100

/**
 * Eigenvalues of a real square matrix: balancing, reduction to Hessenberg form, shifted QR. Conjugates come in exact
 * pairs.
 *
 * Source: G. H. Golub, C. F. Van Loan, "Matrix Computations", 4th edition, Johns Hopkins 2013, §§ 7.4, 7.5; the
 * method of B. S. Garbow et al., EISPACK (from memory).
 *
 * @throws Error where the iteration does not converge, which finite input is not known to cause
 */
export function eigenvalues(a: Dense): Complex[] {
  const n = a.rows
  const h = Array.from({ length: n }, (_, i) => a.data.slice(i * n, (i + 1) * n))
  balance(h)
  reduceToHessenberg(h)
  return hessenbergQr(h)
}

/** Diagonal similarity by powers of two that evens out row and column norms; exact in doubles. */
function balance(h: Float64Array[]): void {
  const n = h.length
  for (let changed = true; changed;) {
    changed = false
    for (let i = 0; i < n; i++) {
      let column = 0
      let row = 0
      for (let j = 0; j < n; j++) {
        if (j === i) continue
        column += Math.abs(h[j][i])
        row += Math.abs(h[i][j])
      }
      if (column === 0 || row === 0) continue
      const exponent = Math.round(Math.log2(row / column) / 2)
      const f = 2 ** exponent
      if (f === 1 || (column * f + row / f) / (column + row) > 0.95) continue
      changed = true
      for (let j = 0; j < n; j++) h[i][j] /= f
      for (let j = 0; j < n; j++) h[j][i] *= f
    }
  }
}

/** Stabilised elimination, with the largest entry of each column as pivot. */
function reduceToHessenberg(h: Float64Array[]): void {
  const n = h.length
  for (let m = 1; m < n - 1; m++) {
    let pivot = m
    for (let j = m; j < n; j++) if (Math.abs(h[j][m - 1]) > Math.abs(h[pivot][m - 1])) pivot = j
    const x = h[pivot][m - 1]
    if (pivot !== m) {
      ;[h[pivot], h[m]] = [h[m], h[pivot]]
      for (let j = 0; j < n; j++) [h[j][pivot], h[j][m]] = [h[j][m], h[j][pivot]]
    }
    if (x === 0) continue
    for (let i = m + 1; i < n; i++) {
      const y = h[i][m - 1] / x
      if (y === 0) continue
      h[i][m - 1] = 0
      for (let j = m; j < n; j++) h[i][j] -= y * h[m][j]
      for (let j = 0; j < n; j++) h[j][m] += y * h[j][i]
    }
  }
}

/** Francis double-shift QR on an upper Hessenberg matrix, deflating from the bottom. */
function hessenbergQr(h: Float64Array[]): Complex[] {
  const result: Complex[] = []
  const n = h.length
  let norm = 0
  for (let i = 0; i < n; i++) for (let j = Math.max(0, i - 1); j < n; j++) norm += Math.abs(h[i][j])
  let hi = n - 1
  let shifted = 0
  while (hi >= 0) {
    let sweeps = 0
    for (;;) {
      let lo = hi
      for (; lo > 0; lo--) {
        const size = Math.abs(h[lo - 1][lo - 1]) + Math.abs(h[lo][lo]) || norm
        if (Math.abs(h[lo][lo - 1]) <= Number.EPSILON * size) {
          h[lo][lo - 1] = 0
          break
        }
      }
      let x = h[hi][hi]
      if (lo === hi) {
        result.push(complex(x + shifted))
        hi--
        break
      }
      let y = h[hi - 1][hi - 1]
      let w = h[hi][hi - 1] * h[hi - 1][hi]
      if (lo === hi - 1) {
        result.push(...eigenvaluesOfTwo(x + shifted, y + shifted, w))
        hi -= 2
        break
      }
      if (sweeps === MAX_SWEEPS) throw new Error('the QR iteration did not converge')
      if (sweeps > 0 && sweeps % 10 === 0) {
        // An exceptional shift breaks the rare cycles.
        shifted += x
        for (let i = 0; i <= hi; i++) h[i][i] -= x
        const s = Math.abs(h[hi][hi - 1]) + Math.abs(h[hi - 1][hi - 2])
        x = y = 0.75 * s
        w = -0.4375 * s * s
      }
      sweeps++
      francisStep(h, lo, hi, x, y, w)
    }
  }
  return result
}

function eigenvaluesOfTwo(x: number, y: number, w: number): Complex[] {
  const p = (y - x) / 2
  const q = p * p + w
  const root = Math.sqrt(Math.abs(q))
  if (q < 0) return [complex(x + p, root), complex(x + p, -root)]
  const z = p + (p >= 0 ? root : -root)
  return [complex(x + z), complex(z === 0 ? x : x - w / z)]
}

function francisStep(h: Float64Array[], lo: number, hi: number, x: number, y: number, w: number): void {
  let m = hi - 2
  let p = 0
  let q = 0
  let r = 0
  for (; m >= lo; m--) {
    const z = h[m][m]
    const rr = x - z
    const ss = y - z
    p = (rr * ss - w) / h[m + 1][m] + h[m][m + 1]
    q = h[m + 1][m + 1] - z - rr - ss
    r = h[m + 2][m + 1]
    const s = Math.abs(p) + Math.abs(q) + Math.abs(r)
    p /= s
    q /= s
    r /= s
    if (m === lo) break
    const small = Math.abs(h[m][m - 1]) * (Math.abs(q) + Math.abs(r))
    const large = Math.abs(p) * (Math.abs(h[m - 1][m - 1]) + Math.abs(z) + Math.abs(h[m + 1][m + 1]))
    if (small <= Number.EPSILON * large) break
  }
  for (let i = m + 2; i <= hi; i++) {
    h[i][i - 2] = 0
    if (i > m + 2) h[i][i - 3] = 0
  }
  for (let k = m; k < hi; k++) {
    const last = k === hi - 1
    let size = 1
    if (k !== m) {
      p = h[k][k - 1]
      q = h[k + 1][k - 1]
      r = last ? 0 : h[k + 2][k - 1]
      size = Math.abs(p) + Math.abs(q) + Math.abs(r)
      if (size === 0) continue
      p /= size
      q /= size
      r /= size
    }
    const s = Math.hypot(p, q, r) * (p < 0 ? -1 : 1)
    if (s === 0) continue
    if (k === m) {
      if (lo !== m) h[k][k - 1] = -h[k][k - 1]
    } else {
      h[k][k - 1] = -s * size
    }
    p += s
    const px = p / s
    const py = q / s
    const pz = r / s
    q /= p
    r /= p
    for (let j = k; j <= hi; j++) {
      let v = h[k][j] + q * h[k + 1][j]
      if (!last) {
        v += r * h[k + 2][j]
        h[k + 2][j] -= v * pz
      }
      h[k + 1][j] -= v * py
      h[k][j] -= v * px
    }
    const bottom = Math.min(hi, k + 3)
    for (let i = lo; i <= bottom; i++) {
      let v = px * h[i][k] + py * h[i][k + 1]
      if (!last) {
        v += pz * h[i][k + 2]
        h[i][k + 2] -= v * r
      }
      h[i][k + 1] -= v * q
      h[i][k] -= v
    }
  }
}
