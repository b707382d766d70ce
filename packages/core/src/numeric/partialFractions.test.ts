import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { complex } from './complex.js'
import { cleanDifference, cleanProduct, dense, rankFactors } from './dense.js'
import { keepsDigits, partialFractions } from './partialFractions.js'
import { evaluate, withConjugates } from './transferFunction.js'

describe('partial fractions', () => {
  test('their sum is the response, wherever it is looked at', () => {
    const size = fc.double({ min: 0.1, max: 10, noNaN: true })
    fc.assert(
      fc.property(size, size, size, size, size, (a, b, c, d, gain) => {
        const h = { poles: withConjugates([complex(-a, b)], [-c - 11]), zeros: withConjugates([complex(0, d)]), gain }
        const f = partialFractions(h)!
        for (const s of [complex(0, 0.3), complex(0, 5), complex(2, 1)]) {
          let [re, im] = [f.direct, 0]
          f.poles.forEach((p, k) => {
            const q = complex(s.re - p.re, s.im - p.im)
            const n = q.re ** 2 + q.im ** 2
            re += (f.residues[k].re * q.re + f.residues[k].im * q.im) / n
            im += (f.residues[k].im * q.re - f.residues[k].re * q.im) / n
          })
          const wanted = evaluate(h, s)
          const scale = f.residues.reduce((sum, r) => sum + Math.hypot(r.re, r.im), 1)
          expect(Math.hypot(re - wanted.re, im - wanted.im)).toBeLessThan(1e-12 * scale)
        }
      }),
    )
  })

  test('as many zeros as poles leave a direct part; more, or a multiple pole, have no fractions', () => {
    expect(partialFractions({ poles: [complex(-1)], zeros: [complex(-3)], gain: 2 })).toMatchObject({
      direct: 2,
      residues: [{ re: 4, im: 0 }],
    })
    expect(partialFractions({ poles: [], zeros: [complex(0)], gain: 1 })).toBeNull()
    expect(partialFractions({ poles: [complex(-1), complex(-1)], zeros: [], gain: 1 })).toBeNull()
    // The same object, too.
    const twice = complex(-1)
    expect(partialFractions({ poles: [twice, complex(-2), twice], zeros: [], gain: 1 })).toBeNull()
  })

  test('crowded poles are told by how many digits they would cost', () => {
    const near = partialFractions({ poles: [complex(-1), complex(-1 - 1e-9)], zeros: [], gain: 1 })!
    expect(
      keepsDigits(
        near.residues.map((r) => Math.abs(r.re)),
        near.crowding,
        1,
      ),
    ).toBe(false)
    const far = partialFractions({ poles: [complex(-1), complex(-5)], zeros: [], gain: 5 })!
    expect(
      keepsDigits(
        far.residues.map((r) => Math.abs(r.re)),
        far.crowding,
        1,
      ),
    ).toBe(true)
  })
})

describe('rank decisions are blind to rounding', () => {
  test('sums and differences that have cancelled are zero', () => {
    const a = dense(1, 3, Float64Array.of(0.1, 0.2, -0.3))
    expect(cleanProduct(a, dense(3, 1, Float64Array.of(1, 1, 1))).data[0]).toBe(0)
    expect(cleanProduct(a, dense(3, 1, Float64Array.of(1, 1, 1 + 1e-9))).data[0]).toBeCloseTo(-3e-10, 15)
    expect(cleanDifference(dense(1, 1, Float64Array.of(0.1 + 0.2)), dense(1, 1, Float64Array.of(0.3))).data[0]).toBe(0)
  })

  test('a matrix whose rows depend on each other but for rounding has the lower rank', () => {
    const third = 1 / 3
    const m = dense(3, 3, Float64Array.of(0.1, 0.7, third, 0.3, 2.1, 1, 1, 0, 5))
    const f = rankFactors(m)
    expect(f.rank).toBe(2)
    // left·A = 0 and A·right = 0
    expect(Math.max(...cleanProduct(f.left, m).data.map(Math.abs))).toBe(0)
    expect(Math.max(...cleanProduct(m, f.right).data.map(Math.abs))).toBeLessThan(1e-15)
  })
})
