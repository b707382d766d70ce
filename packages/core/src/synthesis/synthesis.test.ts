import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { logarithmicGrid } from '../analysis/sweeps.js'
import { formulate } from '../analysis/mna.js'
import { approximate } from '../approximation/approximate.js'
import { unitDelay } from '../approximation/bessel.js'
import { approximation, approximations } from '../approximation/index.js'
import { endPoint, isDrawn } from '../circuit/drawing/geometry.js'
import { magnitudeDb } from '../numeric/transferFunction.js'
import { type FilterSpecInput, HALF_POWER_DB, parseSpec } from '../specification/filterSpec.js'
import { doublyTerminated, type Ladder, singlyTerminated } from './passive/insertionLoss.js'
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

describe('ladders by insertion loss against published tables', () => {
  const values = (ladder: Ladder | null) => ladder!.arms.map((arm) => arm.l ?? arm.c)
  const half = 5e-5

  // Matthaei, Young, Jones 1964, table 4.07-1: maximally flat delay, unit delay, equal terminations; from memory.
  test.each([
    [2, [1.5774, 0.4226]],
    [3, [1.255, 0.5528, 0.1922]],
    [4, [1.0598, 0.5116, 0.3181, 0.1104]],
    [5, [0.9303, 0.4577, 0.3312, 0.209, 0.0718]],
  ])('maximally flat delay, order %i', (order, printed) => {
    values(doublyTerminated(unitDelay(order), 1, undefined, null)).forEach((g, k) =>
      expect(Math.abs(g! - printed[k])).toBeLessThanOrEqual(half),
    )
  })

  // A. I. Zverev, "Handbook of Filter Synthesis", 1967, Gaussian responses between equal resistances, half power at 1 rad/s;
  // from memory.
  test.each([
    [2, [2.185, 0.4738]],
    [3, [2.2262, 0.8167, 0.2624]],
    [4, [2.245, 0.9321, 0.5302, 0.1772]],
    [5, [2.2533, 0.9782, 0.6485, 0.3896, 0.1312]],
  ])('Gaussian, order %i', (order, printed) => {
    const h = approximation('gaussian').prototype({ order, rippleDb: HALF_POWER_DB, parameters: {} })
    values(doublyTerminated(h, 1, undefined, null)).forEach((g, k) =>
      expect(Math.abs(g! - printed[k])).toBeLessThanOrEqual(half),
    )
  })

  // L. Weinberg, "Network Analysis and Synthesis", 1962: Butterworth with one termination; from memory.
  test.each([
    [3, [1.5, 1.3333, 0.5]],
    [4, [1.5307, 1.5772, 1.0824, 0.3827]],
    [5, [1.5451, 1.6944, 1.382, 0.8944, 0.309]],
  ])('Butterworth of order %i from an ideal source: the last part stands at the load', (order, printed) => {
    const h = approximation('butterworth').prototype({ order, rippleDb: HALF_POWER_DB, parameters: {} })
    values(singlyTerminated(h, 'source'))
      .reverse()
      .forEach((g, k) => expect(Math.abs(g! - printed[k])).toBeLessThanOrEqual(half))
  })

  test('the general way gives what the closed form gives, for unequal resistances', () => {
    for (const order of [3, 6, 9]) {
      const request = { order, rippleDb: 0.3, parameters: {} }
      const h = approximation('chebyshev').prototype(request)
      const closed = ladderElements({ approximation: 'chebyshev', order, rippleDb: 0.3, ratio: 4 })
      const general = doublyTerminated(h, 4, closed.first, null)
      values(general).forEach((g, k) => expect(g! / closed.values[k]).toBeCloseTo(1, 10))
    }
  })
})

describe('every approximation × response × termination: the ladder is the response, or theory forbids it', () => {
  const cases = approximations.flatMap((a) =>
    (['lowpass', 'highpass', 'bandpass', 'bandstop'] as const).map((response) => [a.id, response] as const),
  )
  test.each(cases)('%s, %s', (id, response) => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 11 }),
        fc.double({ min: 0.1, max: 2, noNaN: true }),
        fc.double({ min: 30, max: 70, noNaN: true }),
        fc.constantFrom<readonly [number, number | 'open']>([50, 50], [50, 130], [600, 75], [0, 50], [75, 'open']),
        (order, ripple, attenuation, [source, load]) => {
          const edges = response.startsWith('band') ? [110e3, 150e3] : [120e3]
          const spec = parseSpec({
            response,
            approximation: id,
            order,
            passband: { edges, ripple },
            stopband: { attenuation },
            realization: { family: 'lc-ladder', source, load },
          })
          const ideal = approximate(spec)
          let made
          try {
            made = realize(spec, 'exact', ideal)
          } catch (error) {
            // What theory forbids: even orders that do not fall to nothing, or lie down at DC; zeros too far out.
            expect(error).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE' })
            const shaped = id === 'elliptic' || id === 'inverse-chebyshev'
            expect(shaped || (id === 'chebyshev' && order % 2 === 0) || id === 'linear-phase').toBe(true)
            if (id === 'elliptic') expect(order % 2).toBe(0)
            return
          }
          const grid = Float64Array.from({ length: 49 }, (_, k) => 12e3 * 10 ** (k / 24))
          const { re, im } = new AcAnalysis(formulate(made.circuit)).sweep(grid)
          const unit = 10 ** (made.referenceDb / 20)
          grid.forEach((f, k) => {
            const wanted = 10 ** (magnitudeDb(ideal.transfer, 2 * Math.PI * f) / 20)
            expect(Math.abs(Math.hypot(re[k], im[k]) / unit - wanted)).toBeLessThan(1e-8)
          })
          for (const part of made.circuit.parts)
            if (part.kind === 'capacitor' || part.kind === 'inductor')
              expect(Object.values(part.values)[0]).toBeGreaterThan(0)
        },
      ),
      // The first: so sharp that rounding takes its digits at the passband's edge alone.
      { numRuns: 12, examples: [[11, 1.5566033630532692, 30.000000000000018, [50, 130]]] },
    )
  })

  // R. Feldtkeller: a lossless two-port reflects what it does not pass, |S11|² + |S21|² = 1.
  test('what does not pass is reflected', () => {
    for (const id of ['elliptic', 'bessel', 'inverse-chebyshev']) {
      const spec = parseSpec({
        response: 'bandpass',
        approximation: id,
        order: 5,
        passband: { edges: [110e3, 150e3], ripple: 0.5 },
        stopband: { attenuation: 45 },
        realization: { family: 'lc-ladder', source: 600, load: 300 },
      })
      const { circuit } = realize(spec)
      const mna = formulate(circuit)
      const grid = Float64Array.from({ length: 41 }, (_, k) => 60e3 * 10 ** (k / 55))
      const out = new AcAnalysis(mna).sweep(grid)
      const z = new AcAnalysis(mna, { output: 'z(V1)' }).sweep(grid)
      grid.forEach((_, k) => {
        // z(V1) holds the source resistance: reflection (Z − R)/(Z + R) of Z = z − R.
        const [re, im] = [z.re[k] - 600, z.im[k]]
        const reflected = ((re - 600) ** 2 + im ** 2) / ((re + 600) ** 2 + im ** 2)
        const passed = 4 * (600 / 300) * (out.re[k] ** 2 + out.im[k] ** 2)
        expect(reflected + passed).toBeCloseTo(1, 9)
      })
    }
  })
})

// Of n alternating parts the ends' kind is one more where n is odd (common practice, no source).
test('the fewest coils or capacitors: the ladder begins with the other kind', () => {
  const coils = (response: string, approximation: string, fewest?: string) => {
    const spec = parseSpec({
      response,
      approximation,
      order: 7,
      passband: { edges: [1e4], ripple: 0.5 },
      ...(approximation === 'elliptic' && { stopband: { attenuation: 50 } }),
      realization: { family: 'lc-ladder', source: 50, load: 50, fewest },
    })
    return realize(spec).circuit.parts.filter((p) => p.kind === 'inductor').length
  }
  for (const response of ['lowpass', 'highpass'])
    for (const approximation of ['chebyshev', 'bessel', 'elliptic']) {
      expect(coils(response, approximation, 'inductors')).toBe(3)
      expect(coils(response, approximation, 'capacitors')).toBe(approximation === 'elliptic' ? 7 : 4)
    }
})

describe('coupled resonators', () => {
  const made = (approximation: string, order: number, width: number, more: object = {}) => {
    const spec = parseSpec({
      response: 'bandpass',
      approximation,
      order,
      passband: {
        edges: [
          1e6 * Math.sqrt(1 + (width * width) / 4) - 5e5 * width,
          1e6 * Math.sqrt(1 + (width * width) / 4) + 5e5 * width,
        ],
        ripple: 0.5,
      },
      realization: { family: 'coupled-resonators', source: 50, load: 200, inductor: 4e-6, ...more },
    })
    const ideal = approximate(spec)
    return { ideal, ...realize(spec, 'exact', ideal) }
  }

  // Couplings hold at the centre: their error is that of the frequency's part of the band, first order in the width.
  test.each(['butterworth', 'chebyshev'].flatMap((id) => [1, 2, 3, 4, 6].map((n) => [id, n] as const)))(
    '%s of order %i: the narrower the band, the nearer to the specification',
    (id, order) => {
      const error = (width: number) => {
        const { ideal, circuit, referenceDb } = made(id, order, width)
        const [low, high] = ideal.passbandEdges
        const grid = Float64Array.from({ length: 81 }, (_, k) => low + ((high - low) * (k + 4)) / 88)
        const { re, im } = new AcAnalysis(formulate(circuit)).sweep(grid)
        return Math.max(
          ...grid.map((f, k) => {
            const db = 20 * Math.log10(Math.hypot(re[k], im[k])) - referenceDb
            return Math.abs(db - magnitudeDb(ideal.transfer, 2 * Math.PI * f))
          }),
        )
      }
      const [wide, narrow] = [error(0.02), error(0.002)]
      expect(narrow).toBeLessThan(0.1)
      expect(narrow).toBeLessThan(wide / 4)
    },
  )

  test('coupled by coils, all capacitors are equal, and the response is as near', () => {
    const { ideal, circuit, referenceDb } = made('chebyshev', 3, 0.004, { coupling: 'inductive' })
    const capacitors = circuit.parts.filter((p) => p.kind === 'capacitor').map((p) => p.values.capacitance)
    expect(new Set(capacitors.map((c) => c.toPrecision(9))).size).toBe(1)
    expect(circuit.parts.filter((p) => p.kind === 'inductor')).toHaveLength(7)
    const [low, high] = ideal.passbandEdges
    const grid = Float64Array.from({ length: 41 }, (_, k) => low + ((high - low) * k) / 40)
    const { re, im } = new AcAnalysis(formulate(circuit)).sweep(grid)
    grid.forEach((f, k) => {
      const db = 20 * Math.log10(Math.hypot(re[k], im[k])) - referenceDb
      expect(Math.abs(db - magnitudeDb(ideal.transfer, 2 * Math.PI * f))).toBeLessThan(0.15)
    })
  })

  test('all coils are the chosen one', () => {
    const coils = made('chebyshev', 4, 0.03).circuit.parts.filter((p) => p.kind === 'inductor')
    expect(coils.map((p) => p.values.inductance)).toEqual([4e-6, 4e-6, 4e-6, 4e-6])
  })

  test('too wide a band, and coils too small for the ends, say what would do', () => {
    expect(() => made('butterworth', 3, 0.3)).toThrow(/suit up to 20 %/)
    expect(() => made('butterworth', 3, 0.1, { inductor: 1e-9 })).toThrow(/end couplings cannot reach/)
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
      /at least 1\.98\d+ or at most 0\.50\d+, take order 3 or 5, or the even order’s form c \(evenOrder\)/,
    ],
    [
      { family: 'lc-ladder', source: 50, load: 150, first: 'shunt' },
      {},
      'realization.first',
      /needs a load resistance below/,
      /Begin with a series part/,
    ],
    [{ family: 'lc-ladder', source: 50, load: 150 }, { gain: 6 }, 'gain', /no gain of its own/, /0 dB/],
    [{ family: 'lc-ladder', source: 0, load: 'open' }, {}, 'realization.load', /ring for ever/, /source resistance/],
    [{ family: 'lc-ladder', source: 50, load: 0 }, {}, 'realization.load', /takes all/, /above 0/],
    [
      { family: 'lc-ladder', source: 50, load: 50 },
      { response: 'allpass' },
      'response',
      /zeros lie on the axis/,
      /lattice or an active section/,
    ],
    [
      { family: 'lc-ladder', source: 50, load: 50 },
      { approximation: 'elliptic', stopband: { attenuation: 40 } },
      'order',
      /does not fall to nothing at infinity/,
      /order 3 or 5/,
    ],
    [
      { family: 'lc-ladder', source: 50, load: 50 },
      { approximation: 'inverse-chebyshev', order: 13, stopband: { attenuation: 50 } },
      'approximation',
      /positive values/,
      /equal resistances, another order/,
    ],
    [
      { family: 'sallen-key', capacitor: 1e-8 },
      { approximation: 'elliptic', order: 5, stopband: { attenuation: 40 } },
      'approximation',
      /no stop-band zeros/,
      /lc-ladder/,
    ],
    [
      { family: 'sallen-key' },
      { response: 'bandstop', passband: { edges: [900, 1100], ripple: 1 } },
      'response',
      /no stop-band zeros/,
      /lc-ladder.*twin-t/,
    ],
    [{ family: 'deliyannis' }, {}, 'response', /band-pass sections/, /lc-ladder/],
    [{ family: 'active-allpass' }, {}, 'response', /all-pass sections/, /lc-ladder/],
    [
      { family: 'sallen-key' },
      { response: 'allpass', stopband: undefined },
      'response',
      /cannot be all-pass/,
      /active-allpass/,
    ],
    [{ family: 'lc-ladder', source: 50, load: 'shut' }, {}, 'realization.load', /resistance/, /Its fields are/],
    [
      { family: 'lc-ladder', source: 50, load: 99, colour: 1 },
      {},
      'realization.colour',
      /not a field/,
      /source, load, matched, quality, first, fewest/,
    ],
    [{ family: 'sallen-key', capacitor: 1e-8 }, { gain: 6 }, 'gain', /cannot amplify/, /lower by at least 5\.5/],
    [
      { family: 'gyrator' },
      {},
      'realization.family',
      /not offered/,
      /lc-ladder, coupled-resonators, constant-resistance, bridged-t, lattice, diplexer, rlc-section, image-sections, sallen-key/,
    ],
    [
      { family: 'coupled-resonators', source: 50, load: 50, inductor: 1e-6 },
      {},
      'response',
      /make band-passes/,
      /bandpass/,
    ],
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
    ['lc-ladder', { source: 75, load: 75 }, 7, 'lowpass', 'butterworth'],
    ['lc-ladder', { source: 75, load: 75, first: 'shunt' }, 5, 'lowpass', 'elliptic'],
    ['lc-ladder', { source: 75, load: 75, first: 'series' }, 5, 'highpass', 'elliptic'],
    ['lc-ladder', { source: 0, load: 75 }, 5, 'bandpass', 'elliptic'],
    ['lc-ladder', { source: 75, load: 'open' }, 4, 'bandstop', 'bessel'],
    ['lc-ladder', { source: 75, load: 75, first: 'series' }, 7, 'bandstop', 'elliptic'],
    ['sallen-key', { capacitor: 1e-8, source: 50, load: 1000 }, 5, 'lowpass', 'butterworth'],
  ] as const)('%s %j, order %i, %s, %s: every wire runs along the grid between two places', (...drawn) => {
    const [family, rest, order, response, id] = drawn
    const { circuit } = realize(
      parseSpec({
        response,
        approximation: id,
        order,
        passband: { edges: response.startsWith('band') ? [1e4, 2e4] : [1e4], ripple: 0.5 },
        stopband: { attenuation: 40 },
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
