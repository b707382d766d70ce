import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { AcAnalysis, approximate, formulate, parseSpec, readNetlist, realize, writeNetlist } from '../index.js'
import { complex } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'

/** The circuit's response over the ideal one, complex, at some frequencies: all of these must be the same number. */
function quotients(input: unknown, frequencies: readonly number[], throughNetlist = false) {
  const spec = parseSpec(input)
  const ideal = approximate(spec)
  const made = realize(spec, 'exact', ideal)
  const circuit = throughNetlist ? readNetlist(writeNetlist(made.circuit)).circuit : made.circuit
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
