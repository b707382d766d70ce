import { abs, type Complex, complex, conjugate as mirrored, subtract } from './complex.js'
import { type Arithmetic, type Real } from './real.js'

/** A complex number of more digits than doubles have. */
interface Precise {
  readonly re: Real
  readonly im: Real
}

const plus = (a: Precise, b: Precise): Precise => ({ re: a.re.add(b.re), im: a.im.add(b.im) })
const minus = (a: Precise, b: Precise): Precise => ({ re: a.re.sub(b.re), im: a.im.sub(b.im) })
const times = (a: Precise, b: Precise): Precise => ({
  re: a.re.mul(b.re).sub(a.im.mul(b.im)),
  im: a.re.mul(b.im).add(a.im.mul(b.re)),
})
const conjugate = ({ re, im }: Precise): Precise => ({ re, im: im.neg() })
const sizeOf = ({ re, im }: Precise): number => Math.hypot(re.toNumber(), im.toNumber())

/** Steps per eigenvalue before it is given up; 3 is usual. */
const MOST_STEPS = 100

/** Every so many steps an odd shift leads out of a cycle. */
const ODD = 12

/**
 * Eigenvalues of a real square matrix to the digits of its numbers: balancing, Hessenberg form by elimination, QR with one
 * shift by rotations. Conjugates come in exact pairs.
 *
 * Source: G. H. Golub, C. F. Van Loan, "Matrix Computations", 4th edition, Johns Hopkins 2013, §§ 7.4, 7.5.
 *
 * @throws Error where the iteration does not converge, which finite input is not known to cause
 */
export function preciseEigenvalues(a: readonly (readonly Real[])[], arithmetic: Arithmetic): Complex[] {
  const zero = arithmetic.of(0)
  const h = hessenberg(balanced(a), zero).map((row) => row.map((re): Precise => ({ re, im: zero })))
  const found: Precise[] = []
  let steps = 0
  for (let hi = h.length - 1; hi >= 0;) {
    let lo = hi
    for (; lo > 0; lo--) {
      const beside = sizeOf(h[lo][lo]) + sizeOf(h[lo - 1][lo - 1])
      if (sizeOf(h[lo][lo - 1]) <= arithmetic.epsilon * beside) break
    }
    if (lo === hi) {
      found.push(h[hi][hi])
      hi--
      steps = 0
      continue
    }
    if (++steps > MOST_STEPS) throw new Error('the QR iteration did not converge')
    step(h, lo, hi, steps % ODD === 0 ? oddShift(h, hi, arithmetic) : shiftOf(h, hi))
  }
  return paired(found.map(({ re, im }) => complex(re.toNumber(), im.toNumber())))
}

/** Real ones and exact pairs of what is both but for rounding. */
function paired(found: readonly Complex[]): Complex[] {
  const left = new Set([...found].sort((a, b) => Math.abs(b.im) * abs(a) - Math.abs(a.im) * abs(b)))
  const result: Complex[] = []
  for (const s of left) {
    left.delete(s)
    const missed = (other: Complex) => abs(subtract(other, mirrored(s)))
    const other = [...left].reduce<Complex | null>((best, z) => (!best || missed(z) < missed(best) ? z : best), null)
    // One that lies nearer to the axis than to any image of it lies there.
    if (!other || missed(other) >= Math.abs(s.im)) {
      result.push(complex(s.re))
      continue
    }
    left.delete(other)
    const mean = complex((s.re + other.re) / 2, Math.abs(s.im - other.im) / 2)
    result.push(mean, mirrored(mean))
  }
  return result
}

/** D⁻¹·A·D with powers of two in D that even out the sizes of rows and columns. */
function balanced(a: readonly (readonly Real[])[]): Real[][] {
  const n = a.length
  const sizes = a.map((row) => Float64Array.from(row, (v) => Math.abs(v.toNumber())))
  const scale = new Float64Array(n).fill(1)
  for (let changed = true; changed;) {
    changed = false
    for (let i = 0; i < n; i++) {
      let [row, column] = [0, 0]
      for (let j = 0; j < n; j++) {
        if (j === i) continue
        row += (sizes[i][j] * scale[j]) / scale[i]
        column += (sizes[j][i] * scale[i]) / scale[j]
      }
      if (row === 0 || column === 0) continue
      const factor = 2 ** Math.round(Math.log2(row / column) / 2)
      if (factor === 1 || column * factor + row / factor > 0.95 * (column + row)) continue
      scale[i] *= factor
      changed = true
    }
  }
  return a.map((row, i) => row.map((v, j) => v.mul(scale[j] / scale[i])))
}

/** Eliminated below the first subdiagonal, the largest entry of a column as pivot: a similarity. */
function hessenberg(h: Real[][], zero: Real): Real[][] {
  const n = h.length
  for (let m = 1; m < n - 1; m++) {
    let pivot = m
    for (let i = m + 1; i < n; i++)
      if (Math.abs(h[i][m - 1].toNumber()) > Math.abs(h[pivot][m - 1].toNumber())) pivot = i
    if (h[pivot][m - 1].isZero()) continue
    ;[h[pivot], h[m]] = [h[m], h[pivot]]
    for (const row of h) [row[pivot], row[m]] = [row[m], row[pivot]]
    for (let i = m + 1; i < n; i++) {
      if (h[i][m - 1].isZero()) continue
      const factor = h[i][m - 1].div(h[m][m - 1])
      h[i][m - 1] = zero
      for (let j = m; j < n; j++) h[i][j] = h[i][j].sub(factor.mul(h[m][j]))
      for (const row of h) row[m] = row[m].add(factor.mul(row[i]))
    }
  }
  return h
}

/**
 * The eigenvalue of the last two rows that is nearer to the last entry. Its distance from it, which falls to nothing, in doubles
 * is enough.
 */
function shiftOf(h: readonly Precise[][], hi: number): Precise {
  const { re, im } = minus(h[hi - 1][hi - 1], h[hi][hi])
  const [x, y] = [re.toNumber() / 2, im.toNumber() / 2]
  const product = times(h[hi - 1][hi], h[hi][hi - 1])
  const [u, v] = [product.re.toNumber(), product.im.toNumber()]
  const [rootRe, rootIm] = squareRoot(x * x - y * y + u, 2 * x * y + v)
  // x + jy ± root, the larger of both below.
  const sign = x * rootRe + y * rootIm >= 0 ? 1 : -1
  const [lowerRe, lowerIm] = [x + sign * rootRe, y + sign * rootIm]
  const size = lowerRe * lowerRe + lowerIm * lowerIm
  if (!(size > 0)) return h[hi][hi]
  return {
    re: h[hi][hi].re.sub((u * lowerRe + v * lowerIm) / size),
    im: h[hi][hi].im.sub((v * lowerRe - u * lowerIm) / size),
  }
}

function squareRoot(re: number, im: number): [number, number] {
  const size = Math.hypot(re, im)
  const root = Math.sqrt((size + Math.abs(re)) / 2)
  if (root === 0) return [0, 0]
  return re >= 0 ? [root, im / (2 * root)] : [Math.abs(im) / (2 * root), im < 0 ? -root : root]
}

function oddShift(h: readonly Precise[][], hi: number, { of }: Arithmetic): Precise {
  return plus(h[hi][hi], { re: of(0.75 * sizeOf(h[hi][hi - 1])), im: of(0.4 * sizeOf(h[hi][hi - 1])) })
}

/** One step of the rows from `lo` to `hi`: H − shift = Q·R, and R·Q + shift comes back. */
function step(h: Precise[][], lo: number, hi: number, shift: Precise): void {
  for (let k = lo; k <= hi; k++) h[k][k] = minus(h[k][k], shift)
  const rotations: { c: Precise; s: Precise }[] = []
  for (let k = lo; k < hi; k++) {
    const [x, y] = [h[k][k], h[k + 1][k]]
    const size = x.re.mul(x.re).add(x.im.mul(x.im)).add(y.re.mul(y.re)).add(y.im.mul(y.im)).sqrt()
    const over = (v: Precise): Precise => (size.isZero() ? v : { re: v.re.div(size), im: v.im.div(size) })
    const [c, s] = [over(x), over(y)]
    rotations.push({ c, s })
    if (size.isZero()) continue
    const [cc, sc] = [conjugate(c), conjugate(s)]
    for (let j = k; j <= hi; j++) {
      const [a, b] = [h[k][j], h[k + 1][j]]
      h[k][j] = plus(times(cc, a), times(sc, b))
      h[k + 1][j] = minus(times(c, b), times(s, a))
    }
  }
  rotations.forEach(({ c, s }, n) => {
    if (c.re.isZero() && c.im.isZero() && s.re.isZero() && s.im.isZero()) return
    const k = lo + n
    const [cc, sc] = [conjugate(c), conjugate(s)]
    for (let i = lo; i <= Math.min(hi, k + 1); i++) {
      const [a, b] = [h[i][k], h[i][k + 1]]
      h[i][k] = plus(times(a, c), times(b, s))
      h[i][k + 1] = minus(times(b, cc), times(a, sc))
    }
  })
  for (let k = lo; k <= hi; k++) h[k][k] = plus(h[k][k], shift)
}
