/** What is off at some numbers. */
export interface Off {
  /** One entry a residual. */
  readonly residuals: Float64Array
  /** Derivatives of the residuals, one column a number. */
  slopes(): readonly Float64Array[]
}

export interface LeastSquaresProblem {
  /** null where there is no value. */
  off(at: Float64Array): Off | null
  readonly lower: Float64Array
  readonly upper: Float64Array
  /** A step in each number that is nothing, times 1e11. */
  readonly sizes: Float64Array
}

export interface LeastSquaresResult {
  readonly at: Float64Array
  readonly residuals: Float64Array
  readonly slopes: readonly Float64Array[]
  /** Σ residuals² */
  readonly sum: number
  /** The same at the start. */
  readonly sumBefore: number
  readonly iterations: number
}

const MOST_ITERATIONS = 200
const FIRST_DAMPING = 1e-3
const MOST_DAMPING = 1e20

/** A step, in terms of `sizes`, that is rounding. */
const SETTLED = 1e-11
/** Below this steps shrink evenly, and two of them tell the next, with a digit to spare. */
const CLOSE = 1e-4
/** Sums that differ by less than this part differ by rounding. */
const EVEN = 1e-13

/**
 * The least squares within bounds near a place: Levenberg's damped Gauss–Newton steps with Marquardt's scaling, damped by how well the
 * last step kept what it promised; numbers that stand at a bound and would leave it are held there. Yields after every step.
 *
 * Source: J. J. Moré, "The Levenberg–Marquardt algorithm: implementation and theory", Lecture Notes in Mathematics 630, 1978, 105–116
 * (scaling); H. B. Nielsen, IMM-REP-1999-05, 1999 (damping); both from memory.
 *
 * @returns null where there is no value at the start
 */
export function* leastSquares(
  { off, lower, upper, sizes }: LeastSquaresProblem,
  start: Float64Array,
): Generator<{ readonly sum: number; readonly iterations: number }, LeastSquaresResult | null> {
  const n = start.length
  const held = (x: number, k: number) => Math.min(upper[k], Math.max(lower[k], x))
  let at = start.map(held)
  let here = off(at)
  if (!here) return null
  let slopes = here.slopes()
  const sumBefore = product(here.residuals, here.residuals, 0)
  let sum = sumBefore
  const all = Array.from(at, (_, k) => k)
  const scales = new Float64Array(n)
  let [damping, growth] = [FIRST_DAMPING, 2]
  let iterations = 0
  let lastStep = Infinity
  let nextStep = Infinity
  while (iterations < MOST_ITERATIONS && sum > 0) {
    const squares = products([...slopes, here.residuals])
    const gradient = squares[n]
    const free = all.filter((k) => squares[k][k] > 0 && !(gradient[k] > 0 ? at[k] <= lower[k] : at[k] >= upper[k]))
    if (free.length === 0) break
    for (const k of free) scales[k] = Math.max(scales[k], Math.sqrt(squares[k][k]))
    const picked = [...free, n]
    const upright =
      factored(
        picked.map((i) => picked.map((j) => squares[i][j])),
        free.length,
      ) ??
      triangular(
        free.map((k) => slopes[k]),
        here.residuals,
      )
    let moved = false
    let step = Infinity
    while (!moved && damping < MOST_DAMPING) {
      const change = damped(
        upright,
        free.map((k) => Math.sqrt(damping) * scales[k]),
      )
      const next = at.slice()
      free.forEach((k, j) => (next[k] = held(at[k] - change[j], k)))
      step = free.reduce((most, k) => Math.max(most, Math.abs(next[k] - at[k]) / sizes[k]), 0)
      if (step === 0) break
      const there = off(next)
      const reached = there ? product(there.residuals, there.residuals, 0) : NaN
      const gained = sum - reached
      // Close to the least the sum no longer tells: there the steps must shrink.
      const isEven = Math.abs(gained) <= EVEN * sum
      if (there && (isEven ? step < lastStep / 2 : gained > 0)) {
        const promised = promisedGain(
          squares,
          next.map((v, k) => v - at[k]),
        )
        const kept = isEven || !(promised > 0) ? 1 : gained / promised
        damping *= Math.max(1 / 3, 1 - (2 * kept - 1) ** 3)
        growth = 2
        moved = true
        nextStep = lastStep < CLOSE ? (step * step) / lastStep : Infinity
        lastStep = step
        ;[at, here, sum] = [next, there, reached]
        slopes = here.slopes()
      } else if (isEven) {
        break
      } else {
        damping *= growth
        growth *= 2
      }
      if (step <= SETTLED) break
    }
    iterations++
    yield { sum, iterations }
    if (!moved || step <= SETTLED || nextStep <= SETTLED / 10) break
  }
  return { at, residuals: here.residuals, slopes, sum, sumBefore, iterations }
}

/** Σ r² − Σ (r + J·step)², from the products of the columns of J and r. */
function promisedGain(squares: readonly Float64Array[], step: Float64Array): number {
  const gradient = squares[step.length]
  return -step.reduce(
    (sum, s, k) => sum + s * step.reduce((row, other, j) => row + squares[k][j] * other, 2 * gradient[k]),
    0,
  )
}

/** What is left of columns and a right-hand side by reflections: R, column by column, and Qᵀ·b, each of as many entries as columns. */
export interface Triangular {
  readonly r: readonly Float64Array[]
  readonly right: Float64Array
}

/** Least pivot of the products of columns of one length: their digits suffice for a step, since steps follow each other. */
const LEAST_PIVOT = 1e-8

/** As `triangular` without a right-hand side, by the products of the columns where these are well apart: a third of the work. */
export const reduced = (columns: readonly Float64Array[]): Triangular =>
  factored(products(columns), columns.length) ?? triangular(columns, new Float64Array(0))

/**
 * Cholesky's factor of columns of one length each, and what is left of the right-hand side.
 *
 * @param squares products of the columns, then of the right-hand side if there is one, with each other
 * @returns null where the columns are too close to each other
 */
function factored(squares: readonly ArrayLike<number>[], n: number): Triangular | null {
  const sizes = Array.from({ length: n }, (_, k) => Math.sqrt(squares[k][k]))
  const r = sizes.map(() => new Float64Array(n))
  const right = new Float64Array(n)
  for (let j = 0; j < n; j++) {
    for (let i = 0; i <= j; i++) {
      let sum = squares[i][j] / sizes[i] / sizes[j]
      for (let k = 0; k < i; k++) sum -= r[i][k] * r[j][k]
      if (i < j) r[j][i] = sum / r[i][i]
      else if (!(sum >= LEAST_PIVOT)) return null
      else r[j][j] = Math.sqrt(sum)
    }
    let sum = (squares[n]?.[j] ?? 0) / sizes[j]
    for (let k = 0; k < j; k++) sum -= r[j][k] * right[k]
    right[j] = sum / r[j][j]
  }
  r.forEach((column, j) => {
    for (let i = 0; i <= j; i++) column[i] *= sizes[j]
  })
  return { r, right }
}

/** Householder's reflections. @param columns at least as long as there are columns, or filled up with zeros */
export function triangular(columns: readonly Float64Array[], right: Float64Array): Triangular {
  const n = columns.length
  const m = Math.max(n, columns[0]?.length ?? 0, right.length)
  const all = [...columns, right].map((column) => {
    const grown = new Float64Array(m)
    grown.set(column)
    return grown
  })
  for (let k = 0; k < n; k++) {
    const v = all[k]
    const size = Math.sqrt(product(v, v, k))
    if (size === 0) continue
    const turned = v[k] > 0 ? -size : size
    v[k] -= turned
    const square = product(v, v, k)
    for (let j = k + 1; j <= n; j++) {
      const other = all[j]
      const factor = (2 * product(v, other, k)) / square
      for (let i = k; i < m; i++) other[i] -= factor * v[i]
    }
    v[k] = turned
    v.fill(0, k + 1)
  }
  return { r: all.slice(0, n).map((c) => c.slice(0, n)), right: all[n].slice(0, n) }
}

/** Σ a·b from an entry on; four sums at a time, so that none waits for the one before. */
function product(a: Float64Array, b: Float64Array, from: number): number {
  let s0 = 0
  let s1 = 0
  let s2 = 0
  let s3 = 0
  let i = from
  for (; i + 3 < a.length; i += 4) {
    s0 += a[i] * b[i]
    s1 += a[i + 1] * b[i + 1]
    s2 += a[i + 2] * b[i + 2]
    s3 += a[i + 3] * b[i + 3]
  }
  for (; i < a.length; i++) s0 += a[i] * b[i]
  return s0 + s1 + (s2 + s3)
}

/** Σ a·b of every two columns. */
function products(columns: readonly Float64Array[]): Float64Array[] {
  const n = columns.length
  const all = columns.map(() => new Float64Array(n))
  for (let i = 0; i < n; i += 2) {
    for (let j = i; j < n; j += 2) {
      const [i2, j2] = [Math.min(i + 1, n - 1), Math.min(j + 1, n - 1)]
      const [ac, ad, bc, bd] = fourProducts(columns[i], columns[i2], columns[j], columns[j2])
      all[i][j] = all[j][i] = ac
      all[i][j2] = all[j2][i] = ad
      all[i2][j] = all[j][i2] = bc
      all[i2][j2] = all[j2][i2] = bd
    }
  }
  return all
}

/** Σ a·c, a·d, b·c and b·d: what is loaded serves twice. */
function fourProducts(
  a: Float64Array,
  b: Float64Array,
  c: Float64Array,
  d: Float64Array,
): [ac: number, ad: number, bc: number, bd: number] {
  let ac = 0
  let ad = 0
  let bc = 0
  let bd = 0
  for (let k = 0; k < a.length; k++) {
    ac += a[k] * c[k]
    ad += a[k] * d[k]
    bc += b[k] * c[k]
    bd += b[k] * d[k]
  }
  return [ac, ad, bc, bd]
}

/** The x that makes Σ (R·x − b)² + Σ (weight·x)² least. */
function damped({ r, right }: Triangular, weights: readonly number[]): Float64Array {
  const n = r.length
  const columns = r.map((c, k) => {
    const all = new Float64Array(2 * n)
    all.set(c)
    all[n + k] = weights[k]
    return all
  })
  const b = new Float64Array(2 * n)
  b.set(right)
  return solveTriangular(triangular(columns, b))
}

/** x of R·x = b; a number that R does not tell is 0. */
function solveTriangular({ r, right }: Triangular): Float64Array {
  const x = right.slice()
  for (let k = r.length - 1; k >= 0; k--) {
    for (let j = k + 1; j < r.length; j++) x[k] -= r[j][k] * x[j]
    x[k] = r[k][k] === 0 ? 0 : x[k] / r[k][k]
  }
  return x
}
