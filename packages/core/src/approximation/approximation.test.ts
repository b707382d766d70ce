import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { groupDelay, magnitudeDb, phase, evaluate } from '../numeric/transferFunction.js'
import { HALF_POWER_DB, parseSpec } from '../specification/filterSpec.js'
import { approximate } from './approximate.js'
import fixture from './fixtures/prototypes.json' with { type: 'json' }
import { approximation, approximations } from './index.js'

describe('prototypes against scipy.signal (buttap, cheb1ap)', () => {
  test.each(fixture.cases)('$approximation order $order, $ripple dB', ({ approximation: id, order, ripple, poles }) => {
    const ours = approximation(id).prototype({ order, rippleDb: ripple }).poles
    expect(ours).toHaveLength(poles.length)
    // Both compute closed forms in doubles; the library's own rounding is a few ulp of the largest pole.
    for (const [re, im] of poles as [number, number][]) {
      const distance = Math.min(...ours.map((p) => Math.hypot(p.re - re, p.im - im)))
      expect(distance).toBeLessThan(1e-13 * Math.hypot(re, im) + 2e-15)
    }
  })
})

describe.each(approximations.map((a) => [a.id, a] as const))('%s', (_, family) => {
  test('the loss first reaches the ripple at the edge and the passband touches 0 dB', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.double({ min: 0.001, max: 6, noNaN: true }),
        (order, rippleDb) => {
          const h = family.prototype({ order, rippleDb })
          expect(magnitudeDb(h, 1)).toBeCloseTo(-rippleDb, 9)
          const grid = Array.from({ length: 2001 }, (_, k) => magnitudeDb(h, k / 2000))
          expect(Math.max(...grid)).toBeLessThanOrEqual(1e-9)
          // A grid of 2000 points misses the top of the narrowest ripple of order 20 by less than a thousandth of it.
          expect(Math.max(...grid)).toBeGreaterThan(-0.001 * rippleDb - 1e-12)
          expect(Math.min(...grid)).toBeGreaterThan(-rippleDb - 1e-9)
        },
      ),
    )
  })

  test('needed order and stop-band ratio are each other’s inverse', () => {
    for (const order of [1, 2, 5, 8, 20]) {
      const edgeRatio = family.stopbandRatio({ order, rippleDb: 0.5, attenuationDb: 40 })
      expect(family.neededOrder({ rippleDb: 0.5, attenuationDb: 40, edgeRatio })).toBeCloseTo(order, 9)
      expect(magnitudeDb(family.prototype({ order, rippleDb: 0.5 }), edgeRatio)).toBeCloseTo(-40, 8)
    }
  })
})

describe('approximate', () => {
  const base = { response: 'lowpass', approximation: 'butterworth', passband: { edges: [1000] } }

  test('takes the least order that meets the stop band', () => {
    // n ≥ log10(10^4 − 1)/(2·log10 2) = 6.64 for 40 dB one octave up (Butterworth, closed form)
    const ideal = approximate(parseSpec({ ...base, stopband: { edges: [2000], attenuation: 40 } }))
    expect(ideal.order).toBe(7)
    expect(ideal.passbandEdge).toBe(1000)
  })

  test('names the order that would be needed when it is above 20', () => {
    expect(() => approximate(parseSpec({ ...base, stopband: { edges: [1100], attenuation: 60 } }))).toThrow(/order 73/)
  })

  test('refuses a Chebyshev response without ripple, at the field', () => {
    const spec = parseSpec({ ...base, approximation: 'chebyshev', order: 3 })
    expect(() => approximate(spec)).toThrow(expect.objectContaining({ place: { path: 'passband.ripple' } }))
  })

  test('gives the stop-band edge that follows from order and attenuation', () => {
    const ideal = approximate(parseSpec({ ...base, order: 4, stopband: { attenuation: 60 } }))
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * ideal.stopbandEdge!)).toBeCloseTo(-60, 9)
  })

  test('puts gain and half-power loss where they were asked', () => {
    const ideal = approximate(parseSpec({ ...base, order: 5, gain: 6 }))
    expect(magnitudeDb(ideal.transfer, 0)).toBeCloseTo(6, 12)
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * 1000)).toBeCloseTo(6 - HALF_POWER_DB, 12)
  })
})

describe('responses from poles and zeros', () => {
  test('phase is minus the integral of the group delay, and agrees with the complex value', () => {
    const { transfer } = approximate(
      parseSpec({ response: 'lowpass', approximation: 'chebyshev', order: 7, passband: { edges: [1], ripple: 1 } }),
    )
    for (const omega of [0.1, 2, 6, 6.3, 20]) {
      const h = 1e-5 * omega
      const slope = (phase(transfer, omega + h) - phase(transfer, omega - h)) / (2 * h)
      expect(groupDelay(transfer, omega)).toBeCloseTo(-slope, 6)
      const value = evaluate(transfer, { re: 0, im: omega })
      expect(Math.cos(phase(transfer, omega))).toBeCloseTo(value.re / Math.hypot(value.re, value.im), 12)
      expect(magnitudeDb(transfer, omega)).toBeCloseTo(20 * Math.log10(Math.hypot(value.re, value.im)), 10)
    }
  })

  test('neither overflows nor underflows at order 20 and 100 GHz', () => {
    const { transfer } = approximate(
      parseSpec({ response: 'lowpass', approximation: 'butterworth', order: 20, passband: { edges: [1e11] } }),
    )
    const value = evaluate(transfer, { re: 0, im: 2 * Math.PI * 1e11 })
    expect(Math.hypot(value.re, value.im)).toBeCloseTo(Math.SQRT1_2, 12)
  })
})
