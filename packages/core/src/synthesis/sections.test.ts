import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  AcAnalysis,
  approximate,
  formulate,
  parseSpec,
  readNetlist,
  realize,
  topologies,
  writeNetlist,
} from '../index.js'
import { complex } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'

/** The circuit's response over the ideal one, complex, at some frequencies: all of these must be the same number. */
function quotients(input: unknown, frequencies: readonly number[], throughNetlist = false) {
  const spec = parseSpec(input)
  const ideal = approximate(spec)
  const made = realize(spec, 'exact', ideal)
  const circuit = throughNetlist ? readNetlist(writeNetlist(made.circuit).text).circuit : made.circuit
  const { re, im } = new AcAnalysis(formulate(circuit)).sweep(Float64Array.from(frequencies))
  return frequencies.map((f, k) => {
    const { re: a, im: b } = evaluate(ideal.transfer, complex(0, 2 * Math.PI * f))
    const unit = 10 ** (made.referenceDb / 20) * (made.inverting ? -1 : 1) * (a * a + b * b)
    return { re: (re[k] * a + im[k] * b) / unit, im: (im[k] * a - re[k] * b) / unit }
  })
}

function expectOne(input: unknown, frequencies: readonly number[]): void {
  for (const netlist of [false, true]) {
    for (const { re, im } of quotients(input, frequencies, netlist)) {
      expect(re).toBeCloseTo(1, 8)
      expect(im).toBeCloseTo(0, 8)
    }
  }
}

/** Away from where a notch leaves nothing. */
const grid = (center: number) => [0.011, 0.13, 0.41, 0.83, 1.27, 2.9, 7.7, 93].map((k) => k * center)

test.each(topologies.map((t) => t.id))('%s needs no more than its name', (family) => {
  const responses = ['lowpass', 'bandpass', 'bandstop', 'allpass'] as const
  const approximated = responses.map((response) => ({
    response,
    approximation: family === 'constant-resistance' ? 'critically-damped' : 'butterworth',
    order: family === 'bridged-t' || family === 'rlc-section' ? 2 : 3,
    passband: { edges: response.startsWith('band') ? [950, 1050] : [1000] },
  }))
  const shaped = [
    { response: 'peaking', shape: { center: 1000, boost: 6, q: 1 } },
    { response: 'integrator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } },
    { response: 'differentiator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } },
  ]
  const made = [...approximated, ...shaped].map((asked) => {
    const spec = parseSpec({ ...asked, realization: { family } })
    try {
      return realize(spec).circuit.parts.length
    } catch (error) {
      // A response that the family cannot have; never a field that is missing.
      expect(error).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE' })
      return 0
    }
  })
  expect(Math.max(...made)).toBeGreaterThan(0)
})

describe('sections of constant resistance are the response in magnitude and phase', () => {
  const chain = { family: 'constant-resistance', resistance: 600 }

  test('bells, dips and notches', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.double({ min: 0.2, max: 20, noNaN: true }),
        fc.double({ min: 1, max: 6, noNaN: true }),
        (boost, q, decade) => {
          fc.pre(Math.abs(boost) > 0.01)
          const center = 10 ** decade
          expectOne({ response: 'peaking', shape: { center, boost, q }, realization: chain }, grid(center))
        },
      ),
      { numRuns: 15 },
    )
    expectOne({ response: 'notch', shape: { center: 50, width: 4 }, realization: chain }, grid(50))
    expectOne({ response: 'notch', shape: { center: 50, width: 4, depth: 30 }, realization: chain }, [50, ...grid(50)])
  })

  test.each([
    ['low-shelf', { corner: 300, boost: 9, order: 1 }],
    ['low-shelf', { corner: 300, boost: -9, order: 1 }],
    ['high-shelf', { corner: 3000, boost: 12, order: 1 }],
    ['high-shelf', { corner: 3000, boost: -12, order: 1 }],
    ['a-weighting', {}],
    ['c-weighting', { class: '2' }],
    ['disc-reproduction', {}],
    ['disc-reproduction', { rumble: 'with' }],
    ['integrator', { from: 100, to: 1e4, unity: 1000, error: 2 }],
    ['differentiator', { from: 100, to: 1e4, unity: 1000, error: 2 }],
  ])('%s %j', (response, shape) => expectOne({ response, shape, realization: chain }, grid(700)))

  test('each looks like its termination: the source sees twice the resistance at every frequency', () => {
    const spec = parseSpec({ response: 'a-weighting', shape: {}, realization: chain })
    const { re, im } = new AcAnalysis(formulate(realize(spec).circuit), { output: 'z(V1)' }).sweep(
      Float64Array.from(grid(1000)),
    )
    grid(1000).forEach((_, k) => {
      expect(re[k]).toBeCloseTo(1200, 6)
      expect(im[k]).toBeCloseTo(0, 6)
    })
  })

  test('what they cannot be is said with what can', () => {
    const made = (input: object) => () => realize(parseSpec({ ...input, realization: chain }))
    expect(made({ response: 'low-shelf', shape: { corner: 300, boost: 9, order: 3 } })).toThrow(/one pair of poles/)
    expect(made({ response: 'phase-shifter', shape: { frequency: 1e3, lag: 90 } })).toThrow(/right of the axis/)
  })
})

describe('all-pass sections', () => {
  const families = ['bridged-t', 'lattice']

  test.each(families)('%s: phase shifters', (family) => {
    for (const lag of [20, 90, 150, 400])
      expectOne(
        { response: 'phase-shifter', shape: { frequency: 1000, lag }, realization: { family, resistance: 75 } },
        grid(1000),
      )
  })

  // Bessel pairs have Q below and above 1 from order 6 on: coupled and uncoupled coils in one chain.
  test.each(families.flatMap((family) => [1, 2, 3, 6, 8].map((order) => [family, order] as const)))(
    '%s: the all-pass of Bessel poles of order %i',
    (family, order) => {
      const allpass = { response: 'allpass', approximation: 'bessel', order, passband: { edges: [1000], ripple: 1 } }
      expectOne({ ...allpass, realization: { family, resistance: 600 } }, grid(1000))
    },
  )

  test('no other response', () => {
    const lowpass = { response: 'lowpass', approximation: 'bessel', order: 3, passband: { edges: [1000] } }
    for (const family of families)
      expect(() => realize(parseSpec({ ...lowpass, realization: { family, resistance: 600 } }))).toThrow(
        /this response does not/,
      )
  })
})

describe('diplexer', () => {
  const spec = (response: string, order: number, ripple?: number) => ({
    response,
    approximation: 'butterworth',
    order,
    passband: { edges: [1000], ...(ripple && { ripple }) },
    realization: { family: 'diplexer', resistance: 600 },
  })

  test.each([1, 2, 3, 5, 8])('order %i: each output is its response, and the source sees a resistance', (order) => {
    for (const response of ['lowpass', 'highpass']) {
      expectOne(spec(response, order), grid(1000))
      expectOne(spec(response, order, 1), grid(1000))
      const { circuit } = realize(parseSpec(spec(response, order)))
      const { re, im } = new AcAnalysis(formulate(circuit), { output: 'z(V1)' }).sweep(Float64Array.from(grid(1000)))
      grid(1000).forEach((_, k) => {
        expect(re[k]).toBeCloseTo(1200, 5)
        expect(im[k]).toBeCloseTo(0, 5)
      })
    }
  })

  test('what it cannot be is said', () => {
    const made = (more: object) => () => realize(parseSpec({ ...spec('lowpass', 3, 0.5), ...more }))
    expect(made({ approximation: 'chebyshev' })).toThrow(/Only a Butterworth/)
    expect(made({ response: 'bandpass', passband: { edges: [900, 1100] } })).toThrow(/parts low from high/)
  })
})

describe('ladders of typed poles and zeros', () => {
  // Poles and zeros of an elliptic response of order 5, 0.1 dB and 40 dB, edge at 1 rad/s (library values, references.md).
  const typed = {
    poles: [[-0.67059, 0], [-0.41191, 0.79348], [-0.41191, -0.79348], [-0.10668, 1.06365], [-0.10668, -1.06365]],
    zeros: [[0, 1.46909], [0, -1.46909], [0, 2.17266], [0, -2.17266]],
  } // prettier-ignore
  const free = (shape: object, realization: object = {}) => ({
    response: 'free',
    shape: { ...shape, factor: 3 },
    realization: { family: 'lc-ladder', source: 50, load: 'open', ...realization },
  })

  test('zeros where they were typed, singly and doubly terminated', () => {
    const frequencies = grid(1 / (2 * Math.PI))
    expectOne(free(typed), frequencies)
    expectOne(free(typed, { source: 0, load: 75 }), frequencies)
    expectOne(free({ denominator: [1, 2, 2, 1] }, { load: 50 }), frequencies)
    expectOne(free({ denominator: [1, 3, 3, 1] }, { load: 200 }), frequencies)
    const { circuit } = realize(parseSpec(free(typed)))
    const resonances = ['2', '4'].map((n) => {
      const value = (id: string) => Object.values(circuit.parts.find((p) => p.id === id)!.values)[0]
      return 1 / Math.sqrt(value(`L${n}`) * value(`C${n}`))
    })
    resonances.sort((a, b) => a - b)
    expect(resonances[0]).toBeCloseTo(1.46909, 9)
    expect(resonances[1]).toBeCloseTo(2.17266, 9)
  })

  test('zeros off the axis or at DC are refused', () => {
    const made = (shape: object) => () => realize(parseSpec(free(shape)))
    expect(made({ numerator: [1, 1, 9], denominator: [1, 2, 2, 1] })).toThrow(/zeros on the axis/)
    expect(made({ numerator: [1, 0], denominator: [1, 2, 2, 1] })).toThrow(/zeros on the axis/)
  })
})

describe('Norton transformations', () => {
  const bandpass = (approximation: string, order: number, realization: object) => ({
    response: 'bandpass',
    approximation,
    order,
    passband: { edges: [110e3, 150e3], ripple: 0.5 },
    realization: { family: 'lc-ladder', source: 600, load: 600, first: 'series', ...realization },
  })

  test.each([
    ['chebyshev', 3, 1200],
    ['chebyshev', 3, 250],
    ['butterworth', 2, 900],
    ['bessel', 5, 3000],
    ['bessel', 5, 75],
  ])('%s of order %i made for %i Ω: the response stays, all values are positive', (id, order, matched) => {
    const spec = bandpass(id, order, { matched })
    expectOne(spec, grid(128e3))
    const { circuit } = realize(parseSpec(spec))
    expect(circuit.parts.find((p) => p.id === 'RL')!.values.resistance).toBeCloseTo(matched, 9)
    for (const part of circuit.parts)
      if (part.kind === 'capacitor' || part.kind === 'inductor')
        expect(Object.values(part.values)[0]).toBeGreaterThan(0)
  })

  test('what they do not reach is refused with the most that they do', () => {
    const made = (order: number, more: object) => () => realize(parseSpec(bandpass('butterworth', order, more)))
    expect(made(2, { matched: 1e9 })).toThrow(/raise the load of this ladder by at most/)
    expect(made(1, { matched: 1200 })).toThrow(/No capacitor in the line/)
    expect(() =>
      realize(
        parseSpec({ ...bandpass('butterworth', 2, { matched: 1e3 }), response: 'lowpass', passband: { edges: [1e3] } }),
      ),
    ).toThrow(/band-pass ladder/)
  })
})

describe('predistortion for lossy parts', () => {
  const lowpass = (approximation: string, order: number, realization: object) => ({
    response: 'lowpass',
    approximation,
    order,
    passband: { edges: [10e3], ripple: 0.5 },
    realization: { family: 'lc-ladder', ...realization },
  })

  test.each([
    ['butterworth', 3, { source: 50, load: 'open' }],
    ['butterworth', 5, { source: 0, load: 50 }],
    ['bessel', 4, { source: 0, load: 600 }],
    ['chebyshev', 3, { source: 50, load: 1000 }],
    ['butterworth', 3, { source: 50, load: 500 }],
  ])('%s of order %i, %j: with the losses the response is what is asked', (id, order, ends) => {
    const spec = lowpass(id, order, { ...ends, quality: 25 })
    expectOne(spec, grid(1e4))
    const made = realize(parseSpec(spec))
    expect(made.circuit.parts.find((p) => p.kind === 'inductor')!.values.seriesResistance).toBeGreaterThan(0)
    expect(made.remarks).toHaveLength(1)
  })

  // By hand: a single coil of L = R/ω with r = δ·L in series into R loses 1 + δ at DC.
  test('the insertion loss of one coil is that of its resistance', () => {
    const { circuit, referenceDb } = realize(
      parseSpec({
        ...lowpass('butterworth', 1, { source: 0, load: 50, quality: 10 }),
        passband: { edges: [10e3] },
      }),
    )
    const { inductance, seriesResistance } = circuit.parts.find((p) => p.kind === 'inductor')!.values
    expect(referenceDb).toBeCloseTo(20 * Math.log10(50 / (50 + seriesResistance)), 9)
    expect(seriesResistance / inductance).toBeCloseTo((2 * Math.PI * 10e3) / 10, 4)
  })

  test('too low a quality, equal resistances and zeros are refused with what would do', () => {
    const made = (spec: object) => () => realize(parseSpec(spec))
    expect(made(lowpass('chebyshev', 5, { source: 50, load: 'open', quality: 3 }))).toThrow(/more than the poles/)
    expect(made(lowpass('butterworth', 5, { source: 50, load: 50, quality: 25 }))).toThrow(/pass more elsewhere/)
    const elliptic = {
      ...lowpass('elliptic', 5, { source: 50, load: 'open', quality: 90 }),
      stopband: { attenuation: 50 },
    }
    expect(made(elliptic)).toThrow(/off the axis/)
  })
})

describe('image-parameter sections', () => {
  const composite = (more: object = {}) => ({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 5,
    passband: { edges: [1000] },
    realization: { family: 'image-sections', resistance: 600, sections: 2, ...more },
  })
  const level = (spec: object, frequencies: number[]) => {
    const { re, im } = new AcAnalysis(formulate(realize(parseSpec(spec)).circuit)).sweep(Float64Array.from(frequencies))
    return frequencies.map((_, k) => 20 * Math.log10(2 * Math.hypot(re[k], im[k])))
  }

  // Constant-k: L = R/(π·f), C = 1/(π·f·R) (Matthaei, Young, Jones, § 3.05).
  test('values of a section by the book', () => {
    const { parts } = realize(parseSpec(composite())).circuit
    expect(parts.find((p) => p.id === 'C3')!.values.capacitance).toBeCloseTo(1 / (Math.PI * 1000 * 600), 15)
    expect(parts.find((p) => p.id === 'L2')!.values.inductance).toBeCloseTo((0.8 * 600) / (Math.PI * 1000), 12)
  })

  test('m-derived ends keep the loss below 1 dB to 0.9 of the cutoff, and make a zero at 1.25 of it', () => {
    expect(Math.min(...level(composite(), [50, 300, 600, 800, 900]))).toBeGreaterThan(-1)
    // f∞ = f/√(1 − m²) = 1.25·f for m = 0.6.
    expect(level(composite(), [1250])[0]).toBeLessThan(-150)
    expect(level(composite(), [3000])[0]).toBeLessThan(-40)
  })

  test('high-pass and band-pass follow by the same transforms', () => {
    expect(level({ ...composite(), response: 'highpass' }, [800])[0]).toBeLessThan(-150)
    const band = { ...composite(), response: 'bandpass', passband: { edges: [900, 1100] } }
    expect(level(band, [Math.sqrt(900 * 1100)])[0]).toBeCloseTo(0, 6)
  })
})

describe('one resistor with coil and capacitor', () => {
  const section = { family: 'rlc-section', resistor: 1000 }
  const banded = (response: string, order: number) => ({
    response,
    approximation: 'butterworth',
    order,
    passband: { edges: response.startsWith('band') ? [900, 1200] : [1000] },
    realization: section,
  })

  test.each([
    ['lowpass', 1],
    ['lowpass', 2],
    ['highpass', 1],
    ['highpass', 2],
    ['bandpass', 1],
    ['bandstop', 1],
  ])('%s of order %i', (response, order) => {
    expectOne(banded(response, order), grid(1000))
    expectOne({ ...banded(response, order), realization: { ...section, with: 'inductor' } }, grid(1000))
  })

  // Common practice: 1 kΩ and 100 nF have their cutoff at 1.59 kHz.
  test('1 kΩ at 1591.5 Hz takes 100 nF', () => {
    const spec = { ...banded('lowpass', 1), passband: { edges: [1591.5494309189535] } }
    const { circuit } = realize(parseSpec(spec))
    expect(circuit.parts.find((p) => p.kind === 'capacitor')!.values.capacitance).toBeCloseTo(100e-9, 15)
  })

  test('a third order is refused with the families that have it', () => {
    expect(() => realize(parseSpec(banded('lowpass', 3)))).toThrow(/order 1 or 2|first and second order/)
  })
})
