import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { AcAnalysis, logarithmicGrid } from '../analysis/ac.js'
import { formulate } from '../analysis/mna.js'
import { approximate } from '../approximation/approximate.js'
import { endPoint, isDrawn } from '../circuit/geometry.js'
import { magnitudeDb } from '../numeric/transferFunction.js'
import { type FilterSpecInput, HALF_POWER_DB, parseSpec } from '../specification/filterSpec.js'
import { ladderElements } from './passive/ladderElements.js'
import { realize } from './realize.js'

describe('ladder element values against published tables', () => {
  /** The tables print four decimals. */
  const HALF_LAST_DIGIT = 5e-5
  const agree = (ours: number[], printed: number[]) => {
    expect(ours).toHaveLength(printed.length)
    ours.forEach((g, k) => expect(Math.abs(g - printed[k])).toBeLessThanOrEqual(HALF_LAST_DIGIT))
  }
  const equal = (approximation: 'butterworth' | 'chebyshev', order: number, rippleDb: number) =>
    ladderElements({ approximation, order, rippleDb, ratio: 1 }).values

  // Matthaei, Young, Jones 1964, tables 4.05-1(a) and 4.05-2(a); values from memory, recomputed from their closed form.
  test('Butterworth, order 5', () => agree(equal('butterworth', 5, HALF_POWER_DB), [0.618, 1.618, 2, 1.618, 0.618]))
  test('Chebyshev 0.1 dB, order 5', () => agree(equal('chebyshev', 5, 0.1), [1.1468, 1.3712, 1.975, 1.3712, 1.1468]))
  test('Chebyshev 0.5 dB, order 3', () => agree(equal('chebyshev', 3, 0.5), [1.5963, 1.0967, 1.5963]))
  test('Chebyshev 0.5 dB, order 5', () => agree(equal('chebyshev', 5, 0.5), [1.7058, 1.2296, 2.5408, 1.2296, 1.7058]))
  test('Chebyshev 3 dB, order 3', () => agree(equal('chebyshev', 3, 3), [3.3487, 0.7117, 3.3487]))
  test('Chebyshev 0.5 dB, order 4, load 1.9841', () => {
    const epsilon = Math.sqrt(10 ** 0.05 - 1)
    const load = (epsilon + Math.hypot(1, epsilon)) ** 2
    expect(load).toBeCloseTo(1.9841, 4)
    const series = ladderElements({ approximation: 'chebyshev', order: 4, rippleDb: 0.5, ratio: load })
    expect(series.first).toBe('series')
    agree(series.values, [1.6703, 1.1926, 2.3661, 0.8419])
  })

  test('equally terminated ladders of odd order are symmetric', () => {
    const values = equal('chebyshev', 15, 0.2)
    values.forEach((g, k) => expect(g / values[14 - k]).toBeCloseTo(1, 12))
  })
})

/** Deviation of a realised circuit from its ideal response over the passband and beyond, in parts of the passband. */
function deviation(input: FilterSpecInput): number {
  const spec = parseSpec(input)
  const ideal = approximate(spec)
  const { circuit, referenceDb } = realize(spec)
  const edge = ideal.passbandEdges[0]
  const sweep = new AcAnalysis(formulate(circuit)).sweep(logarithmicGrid(edge / 100, edge * 10, 25))
  let worst = 0
  sweep.frequency.forEach((f, k) => {
    const wanted = 10 ** ((magnitudeDb(ideal.transfer, 2 * Math.PI * f) + referenceDb) / 20)
    const unit = 10 ** (referenceDb / 20)
    worst = Math.max(worst, Math.abs(Math.hypot(sweep.re[k], sweep.im[k]) - wanted) / unit)
  })
  return worst
}

describe('the realised response equals the ideal one, whatever is asked', () => {
  const approximationArb = fc.oneof(
    fc.record({ approximation: fc.constant('butterworth'), ripple: fc.double({ min: 0.01, max: 3, noNaN: true }) }),
    fc.record({ approximation: fc.constant('chebyshev'), ripple: fc.double({ min: 0.01, max: 3, noNaN: true }) }),
  )
  const edgeArb = fc.double({ min: -1, max: 9, noNaN: true }).map((d) => 10 ** d)

  test('LC ladders of order 1 … 15 between any two resistors', () => {
    fc.assert(
      fc.property(
        approximationArb,
        fc.integer({ min: 1, max: 15 }),
        edgeArb,
        fc.double({ min: 0.5, max: 5, noNaN: true }).map((d) => 10 ** d),
        fc.double({ min: -1.5, max: 1.5, noNaN: true }).map((d) => 10 ** d),
        fc.constantFrom('shunt' as const, 'series' as const),
        ({ approximation, ripple }, order, edge, source, ratio, first) => {
          const epsilon = Math.sqrt(10 ** (ripple / 10) - 1)
          const least = (epsilon + Math.hypot(1, epsilon)) ** 2
          fc.pre(order % 2 === 1 || approximation === 'butterworth' || Math.max(ratio, 1 / ratio) > least)
          const spec = {
            response: 'lowpass' as const,
            approximation,
            order,
            passband: { edges: [edge], ripple },
            realization: { family: 'lc-ladder', source, load: source * ratio, ...(order % 2 === 1 && { first }) },
          }
          // Values are exact to rounding; what is left is the elimination's own rounding.
          expect(deviation(spec)).toBeLessThan(1e-9)
          for (const part of realize(parseSpec(spec)).circuit.parts) {
            if (part.kind === 'capacitor' || part.kind === 'inductor')
              expect(Object.values(part.values)[0]).toBeGreaterThan(0)
          }
        },
      ),
      { numRuns: 150 },
    )
  })

  test('unity-gain sections of order 1 … 12, with source resistance, load and gain below unity', () => {
    fc.assert(
      fc.property(
        approximationArb,
        fc.integer({ min: 1, max: 12 }),
        edgeArb,
        fc.double({ min: -20, max: 0, noNaN: true }),
        fc.constantFrom(0, 50),
        fc.constantFrom('open' as const, 1000),
        ({ approximation, ripple }, order, edge, gain, source, load) => {
          const capacitor = 1e-5 / edge
          const realization = { family: 'sallen-key', capacitor, source, load }
          const spec = {
            response: 'lowpass' as const,
            approximation,
            order,
            passband: { edges: [edge], ripple },
            gain,
            realization,
          }
          // A follower of gain 1 − 1e-8 changes 1/Q by 2Q·1e-8, and the height of the resonance by twice Q²·1e-8.
          const highestQ = Math.max(
            ...approximate(parseSpec(spec)).transfer.poles.map((p) => Math.hypot(p.re, p.im) / (-2 * p.re)),
          )
          expect(deviation(spec)).toBeLessThan(1e-7 + 4e-8 * highestQ ** 2)
        },
      ),
      { numRuns: 100 },
    )
  })
})

describe('refusals say what would be possible', () => {
  const spec = (realization: object, more: object = {}) =>
    parseSpec({
      response: 'lowpass',
      approximation: 'chebyshev',
      order: 4,
      passband: { edges: [1000], ripple: 0.5 },
      realization: { family: '', ...realization },
      ...more,
    })
  test.each([
    [
      { family: 'lc-ladder', source: 50, load: 50 },
      {},
      'realization.load',
      /between equal resistors/,
      /at least 1\.98\d+ or at most 0\.50\d+, or take order 3 or 5/,
    ],
    [
      { family: 'lc-ladder', source: 50, load: 150, first: 'shunt' },
      {},
      'realization.first',
      /needs a load resistance below/,
      /Begin with a series part/,
    ],
    [{ family: 'lc-ladder', source: 50, load: 150 }, { gain: 6 }, 'gain', /no gain of its own/, /0 dB/],
    [{ family: 'lc-ladder', source: 0, load: 150 }, {}, 'realization.source', /not offered yet/, /above 0/],
    [{ family: 'lc-ladder', source: 50 }, {}, 'realization.load', /resistance/, /Its fields are/],
    [
      { family: 'lc-ladder', source: 50, load: 99, colour: 1 },
      {},
      'realization.colour',
      /not a field/,
      /source, load, first/,
    ],
    [{ family: 'sallen-key', capacitor: 1e-8 }, { gain: 6 }, 'gain', /cannot amplify/, /lower by at least 5\.5/],
    [
      { family: 'sallen-key', capacitor: 1e-6, source: 1e5 },
      {},
      'realization.capacitor',
      /more than the/,
      /capacitor below/,
    ],
    [{ family: 'gyrator' }, {}, 'realization.family', /not offered/, /lc-ladder, sallen-key/],
  ])('%j', (realization, more, path, why, remedy) => {
    let error: unknown
    try {
      realize(spec(realization, more))
    } catch (e) {
      error = e
    }
    expect(error).toMatchObject({
      place: { path },
      message: expect.stringMatching(why),
      remedy: expect.stringMatching(remedy),
    })
  })
})

describe('drawings', () => {
  test.each([
    ['lc-ladder', { source: 75, load: 75 }, 7],
    ['sallen-key', { capacitor: 1e-8, source: 50, load: 1000 }, 5],
  ])('%s: every wire runs along the grid between two places', (family, rest, order) => {
    const { circuit } = realize(
      parseSpec({
        response: 'lowpass',
        approximation: 'butterworth',
        order,
        passband: { edges: [1e4] },
        gain: family === 'sallen-key' ? -6 : 0,
        realization: { family, ...rest },
      }),
    )
    expect(isDrawn(circuit)).toBe(true)
    for (const wire of circuit.wires) {
      const points = [endPoint(circuit, wire.ends[0])!, ...(wire.bends ?? []), endPoint(circuit, wire.ends[1])!]
      for (let k = 1; k < points.length; k++) {
        expect(points[k].x === points[k - 1].x || points[k].y === points[k - 1].y).toBe(true)
      }
    }
    const places = circuit.parts.map((p) => `${p.at!.x},${p.at!.y}`)
    expect(new Set(places).size).toBe(places.length)
  })
})

describe('preferred values', () => {
  test('every part except the terminations has one, and remembers what was computed', () => {
    const spec = parseSpec({
      response: 'lowpass',
      approximation: 'chebyshev',
      order: 6,
      passband: { edges: [1e4], ripple: 1 },
      realization: { family: 'sallen-key', capacitor: 4.7e-9 },
    })
    const { circuit } = realize(spec, 'E24')
    const r = circuit.parts.filter((p) => p.kind === 'resistor')
    expect(r.length).toBe(7)
    for (const part of r) {
      expect([
        1, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2, 2.2, 2.4, 2.7, 3, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2,
        9.1,
      ]).toContain(Number(part.values.resistance.toExponential().split('e')[0]))
      // The widest gap of E24, 1.3 to 1.5, puts its middle 7.4 % away.
      expect(Math.abs(part.values.resistance / part.exact!.resistance - 1)).toBeLessThan(0.075)
    }
    // The capacitors were taken first, so the resistors still give the response before their own rounding.
    expect(deviationRounded(spec)).toBeLessThan(0.08)
  })

  function deviationRounded(spec: ReturnType<typeof parseSpec>): number {
    const ideal = approximate(spec)
    const sweep = new AcAnalysis(formulate(realize(spec, 'E96').circuit)).sweep(logarithmicGrid(1000, 5000, 20))
    return Math.max(
      ...sweep.frequency.map((f, k) =>
        Math.abs(Math.hypot(sweep.re[k], sweep.im[k]) - 10 ** (magnitudeDb(ideal.transfer, 2 * Math.PI * f) / 20)),
      ),
    )
  }
})
