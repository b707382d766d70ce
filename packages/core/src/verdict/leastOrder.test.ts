import { describe, expect, test } from 'vitest'
import { advise, approximate, approximations, idealOf, parseSpec, realize, VoskelError } from '../index.js'
import { evidenceOf } from './evidence.js'
import { ledger } from './ledger.js'
import { verify } from './verify.js'

const asked = (more: object) =>
  parseSpec({ response: 'lowpass', approximation: 'butterworth', passband: { edges: [1000] }, ...more })

const met = (spec: ReturnType<typeof asked>, order: number) => {
  const ideal = approximate({ ...spec, order } as typeof spec)
  return ledger(evidenceOf({ promised: { spec, ideal }, transfer: ideal.transfer })).every((v) => v.met)
}

describe('the least order for any requirement', () => {
  // Butterworth falls by 10·log₁₀(1 + (f/f₃)^2n): 40 dB at twice the edge take n = ln(9999)/(2·ln 2) = 6.64.
  test('attenuation at a place, by the closed form', () => {
    const spec = asked({ requirements: [{ kind: 'attenuation', limit: 40, from: 2000, to: 5000 }] })
    expect(idealOf(spec).order).toBe(7)
  })

  test('overshoot holds an order down and a stop band pushes it up', () => {
    const [order] = [1, 2, 3, 4, 5]
      .filter((n) => met(asked({ requirements: [{ kind: 'overshoot', limit: 9 }] }), n))
      .slice(-1)
    // Overshoot of a Butterworth step: 4.3 % of order 2, 8.2 % of order 3, 10.8 % of order 4 (common practice, no source).
    expect(order).toBe(3)
    const both = { requirements: [{ kind: 'overshoot', limit: 9 }], stopband: { edges: [4000], attenuation: 30 } }
    expect(idealOf(asked(both)).order).toBe(3)
  })

  test('no order less than that which is found meets all', () => {
    for (const requirements of [
      [{ kind: 'delay-variation', limit: 20e-6, from: 10, to: 900 }],
      [{ kind: 'phase-linearity', limit: 0.5, from: 10, to: 900 }],
      [{ kind: 'gain-at', limit: 0.7, at: 500, target: 0 }],
    ]) {
      const spec = asked({ approximation: 'bessel', requirements })
      const { order } = idealOf(spec)
      expect(met(spec, order)).toBe(true)
      for (let n = 1; n < order; n++) expect(met(spec, n)).toBe(false)
    }
  })

  test('what no order meets is told with what comes nearest and what would do', () => {
    const spec = asked({
      requirements: [{ kind: 'phase-linearity', limit: 0.5, from: 10, to: 900 }],
      stopband: { edges: [3000], attenuation: 40 },
    })
    let error: VoskelError | null = null
    try {
      idealOf(spec)
    } catch (thrown) {
      error = thrown as VoskelError
    }
    expect(error).toMatchObject({ code: 'REQUIREMENTS_UNREACHED', place: { path: 'requirements' } })
    expect(error!.message).toMatch(/Phase linearity at most 0.5/)
    expect(error!.remedy).toMatch(/delay equaliser of \d sections? behind order 5/)
  })

  test('other approximations are named with the least order that meets all', () => {
    const requirements = [
      { kind: 'overshoot', limit: 1 },
      { kind: 'attenuation', limit: 15, from: 2500, to: 5000 },
    ]
    const spec = asked({ approximation: 'chebyshev', passband: { edges: [1000], ripple: 3 }, order: 4, requirements })
    const named = advise(spec, approximate(spec))
    expect(named.length).toBeGreaterThan(1)
    for (const text of named) {
      const [, name, order] = /^(.*) of order (\d+)$/.exec(text)!
      const { id } = approximations.find((a) => a.name === name)!
      expect(met({ ...spec, approximation: id } as typeof spec, Number(order))).toBe(true)
    }
  })

  test('what a response does not have is told at once: the step of a band-pass settles at nothing', () => {
    const spec = asked({
      response: 'bandpass',
      passband: { edges: [900, 1100] },
      requirements: [{ kind: 'overshoot', limit: 5 }],
    })
    expect(() => idealOf(spec)).toThrow(/Overshoot at most 5\.000.% \(does not exist\)/)
  })

  test('advice keeps what it says', () => {
    const spec = asked({ order: 5, requirements: [{ kind: 'delay-variation', limit: 10e-6, from: 10, to: 900 }] })
    const [first] = advise(spec, approximate(spec))
    const sections = Number(/of (\d+) section/.exec(first)![1])
    const equalizer = { from: 10, to: 900 }
    expect(met({ ...spec, equalizer: { ...equalizer, sections } } as typeof spec, 5)).toBe(true)
    if (sections > 1)
      expect(met({ ...spec, equalizer: { ...equalizer, sections: sections - 1 } } as typeof spec, 5)).toBe(false)
    expect(advise(asked({ order: 5 }), approximate(asked({ order: 5 })))).toEqual([])
  })

  test('requirements on parts alone leave the order open', () => {
    expect(() => asked({ requirements: [{ kind: 'parts', limit: 9 }] })).toThrow(/no order follows/)
  })
})

describe('each side of a band-pass with its own attenuation', () => {
  const bandpass = (attenuation: unknown, more: object = {}) =>
    parseSpec({
      response: 'bandpass',
      approximation: 'butterworth',
      passband: { edges: [110e3, 150e3] },
      stopband: { edges: [80e3, 220e3], attenuation },
      ...more,
    })

  // |H|² = 1/(1 + Ω^2n): the order of each side by hand.
  test('the order is the larger of what each side needs', () => {
    const omega = (f: number) => Math.abs((f - (110e3 * 150e3) / f) / 40e3)
    const needs = (db: number, f: number) => Math.ceil(Math.log(10 ** (db / 10) - 1) / (2 * Math.log(omega(f))))
    for (const [below, above] of [
      [60, 20],
      [20, 60],
      [35, 50],
    ])
      expect(approximate(bandpass([below, above])).order).toBe(Math.max(needs(below, 80e3), needs(above, 220e3)))
  })

  test('each is judged by itself', () => {
    const spec = bandpass([30, 62], { order: 5, realization: { family: 'lc-ladder', source: 600, load: 600 } })
    const sides = verify(spec, realize(spec).circuit).filter((v) => v.id.startsWith('stopband'))
    expect(sides.map((v) => [v.limit, v.at]).sort()).toEqual([
      [30, 80e3],
      [62, 220e3],
    ])
  })

  test('two attenuations for one stop band, or three, are refused in words', () => {
    expect(() => asked({ stopband: { edges: [2000], attenuation: [40, 30] } })).toThrow(/has one stop band/)
    expect(() => bandpass([40, 30, 20])).toThrow(/one for each side/)
    expect(() => bandpass(-3)).toThrow(/above 0 dB/)
    expect(() => bandpass(400)).toThrow(/at most 300 dB/)
  })
})

describe('ringing and impedance', () => {
  // A pair with damping ζ swings back by e^(−2πζ/√(1−ζ²)) after its overshoot of e^(−πζ/√(1−ζ²)).
  test('ringing of a second order is its overshoot squared', () => {
    const spec = asked({
      approximation: 'chebyshev',
      order: 2,
      passband: { edges: [1000], ripple: 2 },
      requirements: [
        { kind: 'ringing', limit: 1 },
        { kind: 'overshoot', limit: 1 },
      ],
    })
    const ideal = approximate(spec)
    const found = ledger(evidenceOf({ promised: { spec, ideal }, transfer: ideal.transfer }))
    const value = (id: string) => found.find((v) => v.id === id)!.achieved! / 100
    expect(value('ringing')).toBeCloseTo(value('overshoot') ** 2, 9)
  })

  test('impedance: the source sees both resistances at DC of a low-pass, more or less beyond', () => {
    const spec = asked({
      order: 3,
      realization: { family: 'lc-ladder', source: 75, load: 75, first: 'series' },
      requirements: [
        { kind: 'impedance-least', limit: 100, from: 1, to: 2 },
        { kind: 'impedance-most', limit: 100, from: 1e4, to: 1e5 },
      ],
    })
    const verdicts = verify(spec, realize(spec).circuit)
    expect(verdicts.find((v) => v.id === 'impedance-least')).toMatchObject({ met: true })
    expect(verdicts.find((v) => v.id === 'impedance-least')!.achieved).toBeCloseTo(150, 2)
    expect(verdicts.find((v) => v.id === 'impedance-most')).toMatchObject({ met: false, at: 1e5 })
  })
})
