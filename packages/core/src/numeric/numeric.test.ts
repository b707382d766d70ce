import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { dense, identity, product, rankFactors } from './dense.js'
import { eigenvalues } from './eigenvalues.js'
import fixture from './fixtures/eigenvalues.json' with { type: 'json' }
import { choosePivots, SingularPattern } from './sparse/order.js'
import { PatternBuilder } from './sparse/pattern.js'
import { layProgram } from './sparse/program.js'
import { factorComplex, factorReal, solveComplex, solveReal, solveTransposed } from './sparse/replay.js'

describe('eigenvalues against numpy.linalg.eigvals', () => {
  test.each(fixture.cases)('$name', ({ matrix, eigenvalues: expected, tolerance }) => {
    const n = matrix.length
    const ours = eigenvalues(dense(n, n, Float64Array.from(matrix.flat())))
    expect(ours).toHaveLength(n)
    for (const [re, im] of expected as [number, number][]) {
      const distance = Math.min(...ours.map((p) => Math.hypot(p.re - re, p.im - im)))
      expect(distance).toBeLessThan(tolerance)
    }
  })
})

describe('rank factors', () => {
  test('of products of thin matrices: rank, null spaces and generalised inverse', () => {
    const entry = fc.integer({ min: -3, max: 3 })
    const arb = fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 }), fc.integer({ min: 0, max: 4 }))
    fc.assert(
      fc.property(
        arb.chain(([m, n, r]) =>
          fc.tuple(
            fc.constant([m, n, r] as const),
            fc.array(entry, { minLength: m * r, maxLength: m * r }),
            fc.array(entry, { minLength: n * r, maxLength: n * r }),
          ),
        ),
        ([[m, n, r], left, right]) => {
          const a = product(dense(m, r, Float64Array.from(left)), dense(r, n, Float64Array.from(right)))
          const f = rankFactors(a)
          expect(f.rank).toBeLessThanOrEqual(Math.min(m, n, r))
          const close = (x: Float64Array) => x.forEach((v) => expect(Math.abs(v)).toBeLessThan(1e-9))
          close(product(a, f.right).data)
          close(product(f.left, a).data)
          const aga = product(product(a, f.inverse), a)
          close(aga.data.map((v, k) => v - a.data[k]))
        },
      ),
    )
    expect(rankFactors(identity(3)).rank).toBe(3)
  })
})

describe('sparse elimination', () => {
  /** A random sparse matrix with a shuffled diagonal, as entries; the same seed gives the same matrix. */
  function randomMatrix(n: number, seed: number) {
    let state = seed
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647
    const builder = new PatternBuilder()
    const values: [number, number][] = []
    const put = (r: number, c: number) => (values[builder.slot(r, c)] = [random() - 0.5, random() - 0.5])
    for (let k = 0; k < n; k++) put(k, (k * 7 + 3) % n)
    for (let k = 0; k < 3 * n; k++) put(Math.floor(random() * n), Math.floor(random() * n))
    return {
      pattern: builder.build(n),
      re: Float64Array.from(values, (v) => v[0]),
      im: Float64Array.from(values, (v) => v[1]),
    }
  }

  test.each([1, 5, 29, 150])('size %i: A·x = b and Aᵀ·y = c are solved to rounding', (n) => {
    const { pattern, re, im } = randomMatrix(n, 20261124 + n)
    const program = layProgram(choosePivots(pattern, [{ re, im }]), re.length)
    const fr = new Float64Array(program.slots)
    const fi = new Float64Array(program.slots)
    fr.set(re)
    fi.set(im)
    expect(factorComplex(program, fr, fi)).toBe(-1)
    const rhs = Float64Array.from({ length: n }, (_, k) => Math.sin(k + 1))
    const solve = (transposed: boolean) => {
      const xr = new Float64Array(n)
      const xi = new Float64Array(n)
      const run = transposed ? solveTransposed : solveComplex
      run(program, fr, fi, rhs.slice(), new Float64Array(n), xr, xi)
      const residual = rhs.map((v) => -v)
      const residualIm = new Float64Array(n)
      for (let e = 0; e < re.length; e++) {
        const row = transposed ? pattern.cols[e] : pattern.rows[e]
        const col = transposed ? pattern.rows[e] : pattern.cols[e]
        residual[row] += re[e] * xr[col] - im[e] * xi[col]
        residualIm[row] += re[e] * xi[col] + im[e] * xr[col]
      }
      const size = Math.max(1, ...xr.map(Math.abs), ...xi.map(Math.abs))
      // Backward error of a threshold elimination: a modest multiple of n·ε.
      expect(Math.max(...residual.map(Math.abs), ...residualIm.map(Math.abs))).toBeLessThan(1e-13 * n * size)
    }
    solve(false)
    solve(true)
  })

  test('real replay agrees with complex replay', () => {
    const { pattern, re } = randomMatrix(40, 7)
    const zero = new Float64Array(re.length)
    const program = layProgram(choosePivots(pattern, [{ re, im: zero }]), re.length)
    const a = new Float64Array(program.slots)
    const ar = new Float64Array(program.slots)
    const ai = new Float64Array(program.slots)
    a.set(re)
    ar.set(re)
    factorReal(program, a)
    factorComplex(program, ar, ai)
    const b = Float64Array.from({ length: 40 }, (_, k) => k - 3)
    const x = new Float64Array(40)
    const xr = new Float64Array(40)
    solveReal(program, a, b.slice(), x)
    solveComplex(program, ar, ai, b.slice(), new Float64Array(40), xr, new Float64Array(40))
    // The reciprocal of a pivot rounds differently in the two.
    x.forEach((v, k) => expect(Math.abs(v - xr[k])).toBeLessThan(1e-11 * (1 + Math.abs(v))))
  })

  test('a singular matrix names its column', () => {
    const builder = new PatternBuilder()
    for (const [r, c] of [
      [0, 0],
      [0, 1],
      [1, 0],
      [1, 1],
      [2, 2],
    ] as const)
      builder.slot(r, c)
    const re = Float64Array.from([1, 2, 2, 4, 1])
    const run = () => choosePivots(builder.build(3), [{ re, im: new Float64Array(5) }])
    expect(run).toThrow(SingularPattern)
  })
})
