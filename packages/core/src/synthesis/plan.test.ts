import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { approximate } from '../approximation/approximate.js'
import { complex } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'
import { parseSpec } from '../specification/filterSpec.js'
import { SERIES_NAMES } from '../quantity/preferredValues.js'
import { qOf } from './active/factors.js'
import { ordered } from './active/pairing.js'
import { topologies } from './index.js'
import { realize } from './realize.js'
import { drawn } from './Plan.js'
import { SLOT_FIELDS } from './Sketch.js'
import { valuePolicy } from './values.js'

const ELLIPTIC = {
  response: 'lowpass',
  approximation: 'elliptic',
  order: 5,
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { attenuation: 40 },
}

/** A response that each family makes. */
const MADE: Record<string, object> = {
  'lc-ladder': { response: 'lowpass', order: 5 },
  'coupled-resonators': { response: 'bandpass', order: 3, passband: { edges: [980, 1020] } },
  'constant-resistance': { response: 'highpass', order: 1 },
  'bridged-t': { response: 'allpass', order: 3 },
  lattice: { response: 'allpass', order: 3 },
  diplexer: { response: 'lowpass', order: 4 },
  'rlc-section': { response: 'lowpass', order: 2 },
  'image-sections': { response: 'lowpass', order: 3 },
  'sallen-key': { response: 'lowpass', order: 5, gain: -4 },
  'multiple-feedback': { response: 'lowpass', order: 5, gain: 6 },
  deliyannis: { response: 'bandpass', order: 2, passband: { edges: [950, 1050] } },
  'twin-t': { response: 'bandstop', order: 2, passband: { edges: [900, 1100] } },
  'bridged-t-notch': { response: 'bandstop', order: 1, passband: { edges: [900, 1100] } },
  bainter: ELLIPTIC,
  boctor: ELLIPTIC,
  fliege: { response: 'highpass', order: 4 },
  'impedance-converter': ELLIPTIC,
  'state-variable': { response: 'bandpass', order: 2, passband: { edges: [900, 1100] } },
  'two-integrator-loop': ELLIPTIC,
  'akerberg-mossberg': ELLIPTIC,
  'active-allpass': { response: 'allpass', order: 3 },
  'gyrator-ladder': { response: 'lowpass', order: 5, gain: 3 },
  'fdnr-ladder': { response: 'lowpass', order: 5 },
  leapfrog: { response: 'bandpass', order: 2, passband: { edges: [900, 1100] } },
  'active-integrator': { response: 'integrator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } },
  'active-differentiator': { response: 'differentiator', shape: { from: 100, to: 10_000, unity: 1000, error: 1 } },
  'tone-control': { response: 'peaking', shape: { center: 1000, boost: 6, q: 1 } },
  'differential-multiple-feedback': { response: 'lowpass', order: 5 },
  'active-cascade': ELLIPTIC,
}

describe('every topology plans, and draws what is chosen', () => {
  const planOf = (family: string) => {
    const asked = MADE[family]
    const usual = 'shape' in asked ? {} : { approximation: 'butterworth', passband: { edges: [1000] } }
    const spec = parseSpec({ ...usual, realization: { family }, ...asked })
    const topology = topologies.find((t) => t.id === family)!
    return topology.plan({ spec, ideal: approximate(spec), realization: spec.realization! })
  }
  const families = topologies.map((t) => t.id)

  test.each(families)('%s: its slots are the parts that are drawn, each with the value that was solved', (family) => {
    const plan = planOf(family)
    const values = plan.solve({})!
    const { circuit } = plan.draw(values, values)
    expect(new Set(plan.slots.map((s) => s.id)).size).toBe(plan.slots.length)
    expect(Object.keys(values).sort()).toEqual(plan.slots.map((s) => s.id).sort())
    for (const { id, kind } of plan.slots) {
      const part = circuit.parts.find((p) => p.id === id)!
      expect(part.kind).toBe(kind)
      expect(part.values[SLOT_FIELDS[kind]]).toBe(values[id])
      expect(part.exact).toBeUndefined()
    }
  })

  test.each(families)('%s: a value that is held stands in the solution and on the drawing', (family) => {
    const plan = planOf(family)
    const exact = plan.solve({})!
    for (const { id, kind } of plan.slots) {
      const held = { [id]: exact[id] * 1.02 }
      const values = plan.solve(held)
      // Of two that depend on each other, one can be held in one direction only.
      if (values === null) continue
      expect(values[id]).toBe(held[id])
      const part = plan.draw(values, exact).circuit.parts.find((p) => p.id === id)!
      expect(part.values[SLOT_FIELDS[kind]]).toBe(held[id])
      expect(part.exact).toEqual({ [SLOT_FIELDS[kind]]: exact[id] })
    }
  })

  test.each(families)('%s: every series has values for it', (family) => {
    for (const series of SERIES_NAMES) expect(() => drawn(planOf(family), valuePolicy(series))).not.toThrow()
  })
})

describe('a chain of sections', () => {
  test('a response of typed poles, with a source, a load and less gain than its sections have', () => {
    const spec = parseSpec({
      response: 'free',
      shape: { denominator: [1, 2000, 4e6], numerator: [2e6] },
      realization: { family: 'sallen-key', source: 50, load: 1000 },
    })
    const { poles, gain } = polesAndZeros(formulate(realize(spec).circuit)).transfer
    // 2e6/(s² + 2000·s + 4e6), but for the follower's gain of 1 − 1e-8.
    expect(poles[0].re).toBeCloseTo(-1000, 3)
    expect(Math.abs(poles[0].im)).toBeCloseTo(1000 * Math.sqrt(3), 3)
    expect(gain / 2e6).toBeCloseTo(1, 6)
  })

  // 1/(2π·1 kHz·10.55 nF) = 15.086 kΩ leaves 186 Ω beside the source; with the 11 nF of E24 it is 14.469 kΩ.
  test('a series whose nearest values leave nothing for another part is refused, exact values are not', () => {
    const spec = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 1,
      passband: { edges: [1000] },
      realization: { family: 'sallen-key', capacitor: 1.055e-8, source: 14_900 },
    })
    expect(realize(spec).circuit.parts.find((p) => p.id === 'R1')!.values.resistance).toBeCloseTo(185.8, 1)
    expect(() => realize(spec, 'E24')).toThrow(
      expect.objectContaining({ code: 'REALIZATION_IMPOSSIBLE', place: { path: 'values' } }),
    )
  })

  test('a response without poles is refused', () => {
    const spec = parseSpec({
      response: 'free',
      shape: { denominator: [5], numerator: [2] },
      realization: { family: 'sallen-key' },
    })
    expect(() => realize(spec)).toThrow(expect.objectContaining({ place: { path: 'response' } }))
  })

  test('what the first section cannot take up a follower takes, or an amplifier makes up for', () => {
    const made = (realization: object, more: object = {}) => {
      const spec = parseSpec({
        response: 'highpass',
        approximation: 'butterworth',
        order: 2,
        passband: { edges: [1000] },
        realization,
        ...more,
      })
      const { circuit, remarks } = realize(spec)
      const grid = Float64Array.from([100, 1000, 5000])
      const { re, im } = new AcAnalysis(formulate(circuit)).sweep(grid)
      grid.forEach((f, k) => {
        const wanted = evaluate(approximate(spec).transfer, complex(0, 2 * Math.PI * f))
        expect(Math.hypot(re[k] - wanted.re, im[k] - wanted.im)).toBeLessThan(1e-12)
      })
      return { amplifiers: circuit.parts.filter((p) => p.kind === 'opamp').length, remarks }
    }
    expect(made({ family: 'sallen-key' }).amplifiers).toBe(1)
    // A capacitor divides as well as a resistor, as long as nothing stands before it.
    expect(made({ family: 'sallen-key' }, { gain: -3 }).amplifiers).toBe(1)
    expect(made({ family: 'sallen-key', source: 50 }).amplifiers).toBe(2)
    expect(made({ family: 'sallen-key', source: 50 }, { gain: -3 }).remarks).toHaveLength(1)
    expect(made({ family: 'sallen-key', load: 1000, buffer: true }).amplifiers).toBe(2)
    expect(made({ family: 'sallen-key', variant: 'equal-parts' }, { gain: 20 }).remarks).toHaveLength(1)
  })
})

describe('factors of a response', () => {
  const factors = (more: object) => {
    const spec = parseSpec({ approximation: 'butterworth', passband: { edges: [1000], ripple: 1 }, ...more })
    const { transfer } = approximate(spec)
    return { transfer, factors: ordered(transfer, [], 'as-listed', () => 0) }
  }
  test.each([
    [{ response: 'lowpass', order: 7 }],
    [{ response: 'highpass', order: 5 }],
    [{ response: 'bandpass', order: 4, passband: { edges: [900, 1100], ripple: 1 } }],
    [{ response: 'bandpass', order: 1, passband: { edges: [100, 9000], ripple: 1 } }],
    [{ response: 'bandstop', order: 3, passband: { edges: [900, 1100], ripple: 1 } }],
    [{ response: 'lowpass', approximation: 'elliptic', order: 7, stopband: { attenuation: 40 } }],
    [{ response: 'allpass', approximation: 'bessel', order: 5 }],
  ])('%j: all its poles and zeros, in pairs, the lowest Q first', (more) => {
    const { transfer, factors: found } = factors(more)
    const sorted = (roots: readonly { re: number; im: number }[]) => roots.map((r) => `${r.re} ${r.im + 0}`).sort()
    expect(sorted(found.flatMap((f) => f.poles))).toEqual(sorted(transfer.poles))
    expect(sorted(found.flatMap((f) => f.zeros))).toEqual(sorted(transfer.zeros))
    for (const { poles, zeros } of found) {
      expect(zeros.length).toBeLessThanOrEqual(poles.length)
      for (const roots of [poles, zeros]) expect(roots.reduce((sum, r) => sum + r.im, 0)).toBeCloseTo(0, 9)
    }
    const second = found.filter((f) => f.poles.length === 2).map(qOf)
    expect(second).toEqual([...second].sort((a, b) => a - b))
  })
})
