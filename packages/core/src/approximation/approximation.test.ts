import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { Decimal } from 'decimal.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { Complex } from '../numeric/complex.js'
import { groupDelay, magnitudeDb, phase, evaluate } from '../numeric/transferFunction.js'
import { type FilterSpecInput, HALF_POWER_DB, parseSpec } from '../specification/filterSpec.js'
import { approximate, stopbandRatio } from './approximate.js'
import fixture from './fixtures/prototypes.json' with { type: 'json' }
import { approximation, approximations } from './index.js'
import { legendreLoss } from './legendre.js'

const request = (order: number, rippleDb: number, attenuationDb?: number, parameters = {}) => ({
  order,
  rippleDb,
  attenuationDb,
  parameters,
})

const Exact = Decimal.clone({ precision: 60 })

/** Largest distance of a root of one list from the nearest of the other, in parts of its size. */
function distance(ours: readonly Complex[], theirs: readonly number[][]): number {
  expect(ours).toHaveLength(theirs.length)
  const worst = theirs.map(
    ([re, im]) => Math.min(...ours.map((p) => Math.hypot(p.re - re, p.im - im))) / Math.hypot(re, im),
  )
  return Math.max(0, ...worst)
}

describe('prototypes against scipy.signal (buttap, cheb1ap, cheb2ap, ellipap)', () => {
  test.each(fixture.cases)('$approximation order $order, $ripple dB', (reference) => {
    const { approximation: id, order, ripple, attenuation } = reference
    const { poles, zeros } = approximation(id).prototype(request(order, ripple, attenuation))
    // Both compute closed forms in doubles; those of the elliptic functions pass through integrals near their end.
    const tolerance = id === 'elliptic' ? 1e-9 : 2e-13
    expect(distance(poles, reference.poles)).toBeLessThan(tolerance)
    expect(distance(zeros, reference.zeros)).toBeLessThan(tolerance)
  })

  test('the fifth-order elliptic response of 0.1 and 40 dB (library value, references)', () => {
    const { poles, zeros } = approximation('elliptic').prototype(request(5, 0.1, 40))
    const printed = [
      [-0.67059, 0],
      [-0.41191, 0.79348],
      [-0.10668, 1.06365],
    ]
    for (const [re, im] of printed)
      expect(Math.min(...poles.map((p) => Math.hypot(p.re - re, p.im - im)))).toBeLessThan(1e-5)
    expect(zeros.filter((z) => z.im > 0).map((z) => z.im.toFixed(5))).toEqual(['1.46909', '2.17266'])
  })
})

describe('Bessel', () => {
  test.each(fixture.bessel.map((poles, k) => [k + 1, poles] as const))(
    'order %i: poles of unit delay against mpmath with 40 digits',
    (order, poles) => {
      expect(distance(approximation('bessel').unscaled!(order).transfer.poles, poles)).toBeLessThan(1e-15)
    },
  )

  // Poles at 3.01 dB (W. E. Thomson; table values from memory, references).
  test('third order at half power', () => {
    const { poles } = approximation('bessel').prototype(request(3, HALF_POWER_DB))
    expect(
      distance(poles, [
        [-1.3227, 0],
        [-1.0474, 0.9993],
        [-1.0474, -0.9993],
      ]),
    ).toBeLessThan(4e-5)
  })

  test('a given delay rules: the delay at DC is that, whatever the edge', () => {
    const spec = parseSpec({
      response: 'lowpass',
      approximation: 'bessel',
      order: 6,
      delay: 25e-6,
      passband: { edges: [1000] },
    })
    const ideal = approximate(spec)
    expect(groupDelay(ideal.transfer, 0)).toBeCloseTo(25e-6, 18)
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * ideal.passbandEdges[0])).toBeCloseTo(-HALF_POWER_DB, 9)
  })
})

describe('Legendre', () => {
  test.each(fixture.legendre.map((c, k) => [k + 1, c] as const))(
    'order %i: the loss is Papoulis’ polynomial, integrated exactly by sympy',
    (order, coefficients) => {
      const exact = (w2: number) => coefficients.reduceRight((sum, c) => sum.mul(w2).add(c), new Exact(0)).toNumber()
      for (const w2 of [0.1, 0.5, 0.9, 1, 1.5, 3]) {
        expect(legendreLoss(order, { re: w2, im: 0 }).re / exact(w2)).toBeCloseTo(1, 11)
        const h = approximation('legendre').prototype(request(order, 0.7))
        const loss = -magnitudeDb(h, Math.sqrt(w2))
        expect(loss / (10 * Math.log10(1 + (10 ** 0.07 - 1) * exact(w2)))).toBeCloseTo(1, 8)
      }
    },
  )
})

describe('Gaussian, linear phase, transitional, critically damped', () => {
  test('the Gaussian loss is that of the exponential’s first terms', () => {
    for (const order of [1, 2, 5, 10, 20]) {
      const h = approximation('gaussian').prototype(request(order, HALF_POWER_DB))
      // x at half power: Σ xᵏ/k! = 2
      const sum = (x: number) =>
        Array.from({ length: order }, (_, k) => k).reduceRight((v, k) => 1 + (v * x) / (k + 1), 1)
      let [low, high] = [0, 2]
      for (let k = 0; k < 60; k++) {
        const middle = (low + high) / 2
        if (sum(middle) < 2) low = middle
        else high = middle
      }
      for (const w of [0.3, 1, 2, 5]) expect(-magnitudeDb(h, w)).toBeCloseTo(10 * Math.log10(sum(low * w * w)), 9)
    }
  })

  test.each([
    [4, 6],
    [6, 12],
    [9, 6],
    [20, 12],
  ])(
    'order %i keeps the Gaussian curve to %i dB within 0.05 dB, then falls faster than the plain one',
    (order, breakDb) => {
      const h = approximation('gaussian').prototype(request(order, HALF_POWER_DB, undefined, { breakDb }))
      const top = Math.max(...Array.from({ length: 500 }, (_, k) => magnitudeDb(h, k / 500)))
      expect(top).toBeLessThan(1e-4)
      // The curve's own scale, from the edge's loss: both ripples are within the figure.
      const unit = HALF_POWER_DB
      for (let k = 1; k <= 100; k++) {
        const w = (Math.sqrt(breakDb / unit) * k) / 100
        expect(Math.abs(-magnitudeDb(h, w) - unit * w * w)).toBeLessThan(0.05 * (1 + breakDb / unit))
      }
      const plain = approximation('gaussian').prototype(request(order, HALF_POWER_DB))
      expect(magnitudeDb(h, 6)).toBeLessThan(magnitudeDb(plain, 6) - 3)
    },
  )

  test.each([1, 2, 3, 5, 8, 13, 20].flatMap((n) => [[n, 0.05] as const, [n, 0.5] as const]))(
    'linear phase of order %i: the error touches ±%d° as often as theory lets it, and no more',
    (order, degrees) => {
      const h = approximation('linear-phase').prototype(
        request(order, HALF_POWER_DB, undefined, { phaseRipple: degrees }),
      )
      const far = 8
      const n = 40_000
      const grid = Array.from({ length: n + 1 }, (_, k) => ((k + 1e-6) * far) / n)
      const delays = grid.map((w) => groupDelay(h, w))
      const error = (tau: number, k: number) => ((tau * grid[k] + phase(h, grid[k])) * 180) / Math.PI
      // The line's slope is the one for which the first summit of the error is as high as asked.
      const first = (-1) ** order
      const summit = (tau: number) => {
        const k = delays.findIndex((d) => first * (d - tau) > 0)
        return k < 0 ? Infinity : first * error(tau, k)
      }
      let [low, high] = [0, 0.3]
      for (let k = 0; k < 60; k++) {
        const middle = (low + high) / 2
        if (summit(delays[0] * (1 + first * middle)) < degrees) low = middle
        else high = middle
      }
      const tau = delays[0] * (1 + first * high)
      let [extremes, sign] = [0, 0]
      for (let k = 0; k <= n && Math.abs(error(tau, k)) <= degrees * 1.003; k++) {
        const e = error(tau, k)
        if (Math.abs(e) > degrees * 0.99 && Math.sign(e) !== sign) [extremes, sign] = [extremes + 1, Math.sign(e)]
      }
      expect(extremes).toBe(order + 1)
    },
  )

  test('the mix ends at its two families', () => {
    for (const order of [2, 5, 9]) {
      const at = (mix: number) => approximation('transitional').prototype(request(order, 1, undefined, { mix })).poles
      const of = (id: string) =>
        approximation(id)
          .prototype(request(order, 1))
          .poles.map((p) => [p.re, p.im])
      expect(distance(at(0), of('butterworth'))).toBeLessThan(1e-12)
      expect(distance(at(1), of('bessel'))).toBeLessThan(1e-12)
    }
  })

  test('equal real poles never overshoot: |H|² = (1 + ω²/a²)⁻ⁿ', () => {
    const h = approximation('critically-damped').prototype(request(7, 1))
    const a2 = 1 / (10 ** (1 / 70) - 1)
    for (const w of [0.2, 1, 4]) expect(-magnitudeDb(h, w)).toBeCloseTo(70 * Math.log10(1 + (w * w) / a2), 10)
  })
})

describe.each(approximations.map((a) => [a.id, a] as const))('%s', (_, family) => {
  test('the loss first reaches the ripple at the edge and the passband touches 0 dB', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        // A phase in equal ripples leaves the magnitude a bump of hundredths of a decibel: less is no passband.
        fc.double({ min: family.id === 'linear-phase' ? 0.1 : 0.001, max: 6, noNaN: true }),
        (order, rippleDb) => {
          const h = family.prototype(request(order, rippleDb, rippleDb + 40))
          expect(magnitudeDb(h, 1)).toBeCloseTo(-rippleDb, 7)
          const grid = Array.from({ length: 2001 }, (_, k) => magnitudeDb(h, k / 2000))
          expect(Math.max(...grid)).toBeLessThanOrEqual(1e-7)
          // A grid of 2000 points misses the top of the narrowest ripple of order 20 by less than a hundredth of it.
          expect(Math.max(...grid)).toBeGreaterThan(-0.01 * rippleDb - 1e-12)
          expect(Math.min(...grid)).toBeGreaterThan(-rippleDb - 1e-7)
          expect(h.poles.every((p) => p.re < 0)).toBe(true)
        },
      ),
      { numRuns: 40 },
    )
  })

  test('needed order and stop-band ratio are each other’s inverse, and the attenuation is met there and beyond', () => {
    for (const order of [1, 2, 5, 8, 12]) {
      const asked = { ...request(order, 0.5), attenuationDb: 40 }
      const edgeRatio = stopbandRatio(family, asked)
      const needed = family.neededOrder?.({ rippleDb: 0.5, attenuationDb: 40, edgeRatio })
      if (needed !== undefined) expect(needed).toBeCloseTo(order, 8)
      const h = family.prototype(asked)
      expect(magnitudeDb(h, edgeRatio)).toBeCloseTo(-40, 6)
      for (let k = 0; k <= 200; k++) expect(magnitudeDb(h, edgeRatio * 1.03 ** k)).toBeLessThan(-40 + 1e-6)
    }
  })
})

describe('bands', () => {
  const spec = (response: string, edges: number[], more = {}) =>
    parseSpec({
      response,
      approximation: 'elliptic',
      order: 5,
      passband: { edges, ripple: 0.5 },
      stopband: { attenuation: 50 },
      ...more,
    })

  test('every response is the prototype at the frequency that its transform says', () => {
    const [f1, f2] = [110e3, 150e3]
    const center = f1 * f2
    const transforms: [string, number[], (f: number) => number][] = [
      ['highpass', [f1], (f) => f1 / f],
      ['bandpass', [f1, f2], (f) => (f - center / f) / (f2 - f1)],
      ['bandstop', [f1, f2], (f) => (f2 - f1) / (f - center / f)],
    ]
    for (const id of ['elliptic', 'bessel', 'chebyshev']) {
      for (const order of [1, 4, 9, 20]) {
        for (const [response, edges, map] of transforms) {
          const ideal = approximate(spec(response, edges, { approximation: id, order }))
          for (const f of [3e3, 60e3, 109e3, 115e3, 131e3, 149e3, 200e3, 4e6]) {
            const expected = magnitudeDb(ideal.prototype!, Math.abs(map(f)))
            expect(magnitudeDb(ideal.transfer, 2 * Math.PI * f)).toBeCloseTo(expected, 7)
          }
          for (const edge of edges) expect(magnitudeDb(ideal.transfer, 2 * Math.PI * edge)).toBeCloseTo(-0.5, 7)
        }
      }
    }
  })

  test('stop-band edges follow where they are not given: the attenuation is just reached there', () => {
    for (const [response, edges] of [
      ['highpass', [1000]],
      ['bandpass', [900, 1100]],
      ['bandstop', [500, 2000]],
    ] as const) {
      const ideal = approximate(spec(response, [...edges]))
      expect(ideal.stopbandEdges).toHaveLength(edges.length)
      for (const edge of ideal.stopbandEdges!)
        expect(magnitudeDb(ideal.transfer, 2 * Math.PI * edge)).toBeCloseTo(-50, 6)
    }
  })

  test('the least order meets the nearer of two stop-band edges', () => {
    const asked = (edges: number[]) =>
      approximate(
        parseSpec({
          response: 'bandpass',
          approximation: 'butterworth',
          passband: { edges: [900, 1100], ripple: 1 },
          stopband: { edges, attenuation: 40 },
        }),
      )
    const { order, transfer } = asked([700, 1300])
    for (const f of [700, 1300]) expect(magnitudeDb(transfer, 2 * Math.PI * f)).toBeLessThan(-40)
    const less = approximate(
      parseSpec({
        response: 'bandpass',
        approximation: 'butterworth',
        order: order - 1,
        passband: { edges: [900, 1100], ripple: 1 },
      }),
    )
    expect(magnitudeDb(less.transfer, 2 * Math.PI * 1300)).toBeGreaterThan(-40)
  })

  test.each([1e-9, 1e-12, 1e-15, 1e-300])('a ripple of %d dB, that rounding hides, ends the search', (ripple) => {
    for (const id of ['butterworth', 'bessel', 'gaussian', 'legendre', 'critically-damped', 'transitional']) {
      for (const order of [1, 2, 5]) {
        const spec = parseSpec({
          response: 'lowpass',
          approximation: id,
          order,
          passband: { edges: [1000], ripple },
        } as FilterSpecInput)
        // A response, or a refusal with its reason; never a search without end.
        let roots: readonly { re: number }[] = []
        try {
          roots = approximate(spec).transfer.poles
        } catch (error) {
          expect(error).toBeInstanceOf(VoskelError)
        }
        expect(roots.every((p) => Number.isFinite(p.re) && p.re < 0)).toBe(true)
      }
    }
  })

  test('a pinned stop-band edge is met, the passband then better than asked', () => {
    const ideal = approximate(
      parseSpec({
        response: 'lowpass',
        approximation: 'inverse-chebyshev',
        pin: 'stopband',
        passband: { edges: [1000], ripple: 1 },
        stopband: { edges: [2000], attenuation: 40 },
      }),
    )
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * 2000)).toBeCloseTo(-40, 8)
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * 1000)).toBeGreaterThan(-1)
  })

  test('an all-pass has magnitude 1 everywhere and twice the delay of its poles', () => {
    const all = approximate(
      parseSpec({ response: 'allpass', approximation: 'bessel', order: 4, passband: { edges: [1000] } }),
    )
    const low = approximate(
      parseSpec({ response: 'lowpass', approximation: 'bessel', order: 4, passband: { edges: [1000] } }),
    )
    for (const w of [0, 1e3, 6e3, 1e5]) {
      expect(magnitudeDb(all.transfer, w)).toBeCloseTo(0, 12)
      expect(groupDelay(all.transfer, w)).toBeCloseTo(2 * groupDelay(low.transfer, w), 15)
    }
    expect(evaluate(all.transfer, { re: 0, im: 0 }).re).toBeCloseTo(1, 12)
  })

  test.each([
    [{ response: 'bandpass', passband: { edges: [1000] } }, 'passband.edges'],
    [{ response: 'bandpass', passband: { edges: [2000, 1000] } }, 'passband.edges'],
    [
      { response: 'highpass', passband: { edges: [1000] }, stopband: { edges: [1500], attenuation: 40 } },
      'stopband.edges.0',
    ],
    [
      { response: 'bandpass', passband: { edges: [900, 1100] }, stopband: { edges: [950, 1300], attenuation: 40 } },
      'stopband.edges.0',
    ],
    [
      { response: 'bandstop', passband: { edges: [900, 1100] }, stopband: { edges: [950, 1300], attenuation: 40 } },
      'stopband.edges.1',
    ],
    [{ response: 'lowpass', passband: { edges: [1000] }, mix: 0.5 }, 'mix'],
    [{ response: 'lowpass', passband: { edges: [1000] }, pin: 'stopband' }, 'pin'],
    [{ response: 'comb', passband: { edges: [1000] } }, 'response'],
  ])('%j is refused at %s', (more, path) => {
    expect(() => parseSpec({ approximation: 'butterworth', order: 3, ...more })).toThrow(
      expect.objectContaining({ place: { path } }),
    )
  })
})

describe('approximate', () => {
  const base = { response: 'lowpass', approximation: 'butterworth', passband: { edges: [1000] } }

  test('takes the least order that meets the stop band', () => {
    // n ≥ log10(10^4 − 1)/(2·log10 2) = 6.64 for 40 dB one octave up (Butterworth, closed form)
    const ideal = approximate(parseSpec({ ...base, stopband: { edges: [2000], attenuation: 40 } }))
    expect(ideal.order).toBe(7)
    expect(ideal.passbandEdges[0]).toBe(1000)
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
    expect(magnitudeDb(ideal.transfer, 2 * Math.PI * ideal.stopbandEdges![0])).toBeCloseTo(-60, 9)
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

// e^x expanded to n terms on 0 … b: of order 1 it is e^h·(I₀(h) + 2·I₁(h)·t), which reaches 0 where I₀(h) = 2·I₁(h). From the tables
// (Abramowitz & Stegun, table 9.8) that is near h = 1.16, a break of 10.1 dB.
test('a Gaussian that follows its curve further than its order can is refused, at once', () => {
  const spec = (order: number | undefined, breakDb: number, response = 'lowpass') => {
    const edges = response === 'bandstop' ? [1e3, 2e3] : [1e3]
    return parseSpec({
      response,
      approximation: 'gaussian',
      passband: { edges, ripple: 0.07 },
      breakDb,
      ...(order && { order }),
    })
  }
  for (const response of ['lowpass', 'highpass', 'bandstop']) {
    expect(() => approximate(spec(1, 15.5, response))).toThrow('at least order 2')
    expect(approximate(spec(2, 15.5, response)).prototype!.poles.every((p) => p.re < 0)).toBe(true)
  }
  expect(approximate(spec(1, 10)).order).toBe(1)
  expect(() => approximate(spec(1, 10.2))).toThrow('at least order 2')
})
