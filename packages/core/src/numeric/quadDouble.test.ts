import { Decimal } from 'decimal.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { QuadDouble } from './quadDouble.js'
import { QUAD_DOUBLES, type Real } from './real.js'

// The reference library with more digits than four doubles have.
const Reference = Decimal.clone({ precision: 90 })

/** The four doubles, each exactly. */
const exactly = (value: Real): Decimal =>
  Object.values(value as object).reduce(
    (sum: Decimal, part) => sum.add(new Reference((part as number).toPrecision(100))),
    new Reference(0),
  )

/** A number that fills all four doubles. */
const number = fc
  .tuple(
    fc.double({ min: 0.5, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.integer({ min: -60, max: 60 }),
    fc.boolean(),
  )
  .map(([a, b, c, d, power, turned]) => {
    const sum = [b * 2 ** -54, c * 2 ** -108, d * 2 ** -160].reduce((q, v) => q.add(v), QuadDouble.of(a))
    return sum.mul(2 ** power * (turned ? -1 : 1))
  })

describe('four doubles, against decimals of 90 digits', () => {
  const near = (found: Real, wanted: Decimal, size = wanted) =>
    expect(exactly(found).sub(wanted).abs().lte(size.abs().mul(QUAD_DOUBLES.epsilon))).toBe(true)

  test('sums, products, quotients and roots are right to 62 digits', () => {
    fc.assert(
      fc.property(number, number, (x, y) => {
        const [a, b] = [exactly(x), exactly(y)]
        // A difference of nearly equal numbers is right to the digits that these had.
        near(x.add(y), a.add(b), a.abs().add(b.abs()))
        near(x.sub(y), a.sub(b), a.abs().add(b.abs()))
        near(x.mul(y), a.mul(b))
        near(x.div(y), a.div(b))
        near(x.abs().sqrt(), a.abs().sqrt())
        expect(x.lt(y)).toBe(a.lt(b))
        expect(x.gt(y)).toBe(a.gt(b))
      }),
      { numRuns: 2000 },
    )
  })

  test('whole numbers from their digits, and nothing', () => {
    const digits = '12345678901234567890123456789012345678901234567890'
    expect(exactly(QuadDouble.ofDigits(digits)).toFixed()).toBe(digits)
    expect(exactly(QuadDouble.ofDigits('700')).toNumber()).toBe(700)
    const one = QuadDouble.of(1).div(3)
    expect(one.sub(one).isZero()).toBe(true)
    expect(QuadDouble.of(0).sqrt().isZero()).toBe(true)
    expect(QuadDouble.of(0).mul(one).isZero()).toBe(true)
  })
})
