import { describe, expect, test } from 'vitest'
import { dot } from './dense.js'
import { type Off, leastSquares, triangular } from './levenbergMarquardt.js'
import { uniform } from './random.js'
import { singularValues } from './singularValues.js'
import { studentT95 } from './studentT.js'

const random = (seed: number, rows: number, cols: number) =>
  Array.from({ length: cols }, (_, j) =>
    Float64Array.from({ length: rows }, (_, i) => uniform(seed, i * cols + j) - 0.5),
  )

describe('Student’s t', () => {
  // M. Abramowitz, I. A. Stegun, Handbook of Mathematical Functions, Table 26.10, column 1 − α/2 = 0.975 (three decimals).
  test.each([
    [1, 12.706],
    [2, 4.303],
    [3, 3.182],
    [4, 2.776],
    [5, 2.571],
    [10, 2.228],
    [29, 2.045],
    [30, 2.042],
    [60, 2.0],
    [120, 1.98],
  ])('of %i degrees of freedom holds 95 %% within %f, as printed', (freedom, printed) => {
    expect(Math.abs(studentT95(freedom) - printed)).toBeLessThanOrEqual(5e-4 * 1.001)
  })

  // scipy.stats.t.ppf(0.975, n), scipy 1.17
  test.each([
    [1, 12.706204736174694],
    [2, 4.302652729749462],
    [3, 3.1824463052837078],
    [10, 2.228138851986274],
    [100, 1.9839715185235518],
    [400, 1.9659123432294627],
    [5000, 1.9604385517065073],
    [1_000_000, 1.959966356814107],
  ])('of %i degrees of freedom agrees with a general-purpose library', (freedom, value) => {
    expect(Math.abs(studentT95(freedom) / value - 1)).toBeLessThan(5e-13)
  })
})

describe('reflections', () => {
  test('leave the lengths of columns and what they have with the right-hand side', () => {
    const a = random(1, 40, 6)
    const b = random(2, 40, 1)[0]
    const { r, right } = triangular(a, b)
    for (let i = 0; i < 6; i++) {
      for (let j = 0; j < 6; j++) expect(dot(r[i], r[j])).toBeCloseTo(dot(a[i], a[j]), 12)
      expect(dot(r[i], right)).toBeCloseTo(dot(a[i], b), 12)
      for (let below = i + 1; below < 6; below++) expect(Math.abs(r[i][below])).toBeLessThan(1e-14)
    }
  })
})

describe('singular values', () => {
  test('of columns at right angles are their lengths; their squares add up to those of all entries', () => {
    expect(
      singularValues([
        [3, 0, 0],
        [0, -5, 0],
      ]).values,
    ).toEqual([5, 3])
    const a = random(3, 12, 5)
    const { values, vectors } = singularValues(a)
    const all = a.reduce((sum, c) => sum + dot(c, c), 0)
    expect(values.reduce((sum, v) => sum + v * v, 0)).toBeCloseTo(all, 12)
    // A·v has the length of its value.
    vectors.forEach((v, k) => {
      const image = Float64Array.from({ length: 12 }, (_, i) => a.reduce((sum, c, j) => sum + c[i] * v[j], 0))
      expect(Math.sqrt(dot(image, image))).toBeCloseTo(values[k], 12)
    })
  })

  test('small ones keep their digits', () => {
    // Columns (1, 0) and (1, 1e-9): σ² are the roots of x² − (2 + 1e-18)·x + 1e-18.
    const { values } = singularValues([
      [1, 0],
      [1, 1e-9],
    ])
    expect(values[1] / (1e-9 / Math.SQRT2) - 1).toBeLessThan(1e-12)
  })
})

function solved(of: (at: Float64Array) => Off | null, start: number[], lower = -Infinity, upper = Infinity) {
  const problem = {
    off: of,
    lower: Float64Array.from(start, () => lower),
    upper: Float64Array.from(start, () => upper),
    sizes: Float64Array.from(start, () => 1),
  }
  const run = leastSquares(problem, Float64Array.from(start))
  for (;;) {
    const next = run.next()
    if (next.done) return next.value!
  }
}

describe('least squares', () => {
  // H. H. Rosenbrock, "An automatic method for finding the greatest or least value of a function", Comput. J. 3, 1960.
  const valley = ([x, y]: Float64Array): Off => ({
    residuals: Float64Array.of(10 * (y - x * x), 1 - x),
    slopes: () => [Float64Array.of(-20 * x, -1), Float64Array.of(10, 0)],
  })

  test('go down a bent valley to its end', () => {
    const { at, sum } = solved(valley, [-1.2, 1])
    expect(at[0]).toBeCloseTo(1, 12)
    expect(at[1]).toBeCloseTo(1, 12)
    expect(sum).toBeLessThan(1e-24)
  })

  test('stop at a bound that lies before it: the least of (1 − x)² + 100·(y − x²)² with x, y ≤ ½ is at x = ½, y = ¼', () => {
    const { at } = solved(valley, [-1.2, 0.4], -2, 0.5)
    expect(at[0]).toBe(0.5)
    expect(at[1]).toBeCloseTo(0.25, 10)
  })

  test('of a straight line are the closed form of regression', () => {
    const x = [0, 1, 2, 3, 4, 5]
    const y = [1.1, 2.9, 5.2, 6.8, 9.1, 11.3]
    const line = ([a, b]: Float64Array): Off => ({
      residuals: Float64Array.from(x, (v, k) => a + b * v - y[k]),
      slopes: () => [Float64Array.from(x, () => 1), Float64Array.from(x)],
    })
    const { at } = solved(line, [0, 0])
    const mean = (v: number[]) => v.reduce((s, w) => s + w, 0) / v.length
    const slope =
      x.reduce((s, v, k) => s + (v - mean(x)) * (y[k] - mean(y)), 0) / x.reduce((s, v) => s + (v - mean(x)) ** 2, 0)
    expect(at[1]).toBeCloseTo(slope, 12)
    expect(at[0]).toBeCloseTo(mean(y) - slope * mean(x), 12)
  })

  test('of numbers that only count together are found all the same, near the start', () => {
    const product = ([a, b]: Float64Array): Off => ({
      residuals: Float64Array.of(a * b - 6, 2 * (a * b - 6)),
      slopes: () => [Float64Array.of(b, 2 * b), Float64Array.of(a, 2 * a)],
    })
    const { at } = solved(product, [1, 2])
    expect(at[0] * at[1]).toBeCloseTo(6, 10)
  })

  test('have no answer where there is nothing at the start', () => {
    expect(solved(() => null, [1])).toBeNull()
  })
})
