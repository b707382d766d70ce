import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { approximate } from '../approximation/approximate.js'
import { complex } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'
import { parseSpec } from '../specification/filterSpec.js'
import { SERIES_NAMES } from '../quantity/preferredValues.js'
import { cascade } from './active/cascade.js'
import { type Factor, factorsOf, omegaOf, qOf } from './active/factors.js'
import { firstOrderFollower } from './active/firstOrderFollower.js'
import { sallenKeyLowpass } from './active/sallenKeyLowpass.js'
import { SectionPen } from './active/SectionPen.js'
import type { SectionKind } from './active/SectionKind.js'
import { topologies } from './index.js'
import { Line } from './Line.js'
import { realize } from './realize.js'
import { drawn } from './Plan.js'
import { Sketch, SLOT_FIELDS, type Values } from './Sketch.js'
import { valuePolicy } from './values.js'

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
}

describe('every topology plans, and draws what is chosen', () => {
  const planOf = (family: string) => {
    const spec = parseSpec({
      approximation: 'butterworth',
      passband: { edges: [1000] },
      realization: { family },
      ...MADE[family],
    })
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

describe('sections', () => {
  /** A section alone between an ideal source and an open end, drawn with these values. */
  function alone(kind: SectionKind, factor: Factor, values: Values) {
    const plan = kind.plan(factor, 1e-8)
    const sketch = new Sketch(values)
    const line = new Line(sketch)
    const pen: SectionPen = new SectionPen(
      line,
      (id, x, y, rotation) => {
        const { kind: part } = plan.slots.find((s) => s.id === id)!
        return sketch.valued(id, part, values[id], x, y, rotation)
      },
      () => pen.across(plan.entrance!),
    )
    plan.draw(pen)
    line.finish()
    return { circuit: sketch.circuit(kind.id), transfer: plan.transfer(values) }
  }
  const scattered = fc.array(fc.double({ min: 0.5, max: 2, noNaN: true }), { minLength: 4, maxLength: 4 })

  test.each([
    [firstOrderFollower, { poles: [complex(-3000)], zeros: [] }],
    [sallenKeyLowpass, { poles: [complex(-500, 4000), complex(-500, -4000)], zeros: [] }],
    [sallenKeyLowpass, { poles: [complex(-500), complex(-9000)], zeros: [] }],
  ] as const)('%o: the response in closed form is that of the drawn circuit, whatever its values', (kind, factor) => {
    fc.assert(
      fc.property(scattered, (factors) => {
        const exact = kind.plan(factor, 1e-8).solve({})!
        const values = Object.fromEntries(Object.entries(exact).map(([id, v], k) => [id, v * factors[k]]))
        const { circuit, transfer } = alone(kind, factor, values)
        const grid = Float64Array.from([10, 300, 640, 2000, 9000])
        const { re, im } = new AcAnalysis(formulate(circuit)).sweep(grid)
        grid.forEach((f, k) => {
          const wanted = evaluate(transfer, complex(0, 2 * Math.PI * f))
          // A follower of gain 1 − 1e-8 adds s·R1·C1·1e-8 to the denominator: √(R1·C1/(R2·C2))·1e-8 to 1/Q, and Q² times that
          // to the height of the resonance.
          const { R1, C1, R2 = R1, C2 = C1 } = values
          const more = 1e-8 * Math.sqrt((R1 * C1) / (R2 * C2)) * qOf({ poles: transfer.poles, zeros: [] }) ** 2
          expect(Math.hypot(re[k] - wanted.re, im[k] - wanted.im)).toBeLessThan(1e-7 + 2 * more)
        })
      }),
      { numRuns: 50 },
    )
  })

  test.each([
    [firstOrderFollower, { poles: [complex(-3000)], zeros: [] }],
    [sallenKeyLowpass, { poles: [complex(-500, 4000), complex(-500, -4000)], zeros: [] }],
  ] as const)('%o: chosen capacitors leave the poles where they were', (kind, factor) => {
    const plan = kind.plan(factor, 1e-8)
    const { poles } = plan.transfer(plan.solve(plan.slots.length > 2 ? { C2: 1e-9, C1: 4.7e-7 } : { C1: 4.7e-9 })!)
    const made = { poles, zeros: [] }
    expect(omegaOf(made) / omegaOf(factor)).toBeCloseTo(1, 12)
    expect(qOf(made) / qOf(factor)).toBeCloseTo(1, 12)
  })

  test('capacitors too near to each other for a Q have no solution', () => {
    const plan = sallenKeyLowpass.plan({ poles: [complex(-500, 4000), complex(-500, -4000)], zeros: [] }, 1e-8)
    expect(plan.solve({ C1: 1e-8, C2: 1e-8 })).toBeNull()
  })
})

describe('a chain takes any section that describes itself', () => {
  /** A capacitor to a follower's input and a resistor from there to ground: common practice, no source. */
  const firstOrderHighpass: SectionKind = {
    id: 'toy',
    shape: 'high-pass',
    source: 'common practice, no source',
    makes: ({ poles, zeros }) => poles.length === 1 && zeros.length === 1,
    plan: (factor, capacitor) => ({
      slots: [
        { id: 'C1', kind: 'capacitor' },
        { id: 'R1', kind: 'resistor' },
      ],
      entrance: null,
      solve: ({ C1 = capacitor, R1 = 1 / (omegaOf(factor) * C1) }) => ({ C1, R1 }),
      transfer: ({ R1, C1 }) => ({ poles: [complex(-1 / (R1 * C1))], zeros: [complex(0)], gain: 1 }),
      draw(pen) {
        pen.across('C1')
        pen.down('R1')
        pen.follower()
      },
    }),
  }
  const family = cascade({
    id: 'toy-family',
    name: 'Toy',
    character: '',
    source: '',
    formulas: [],
    sections: [firstOrderFollower, firstOrderHighpass],
  })
  const planOf = (more: object, realization: Record<string, unknown> = {}) => {
    const spec = parseSpec({
      response: 'highpass',
      approximation: 'butterworth',
      order: 1,
      passband: { edges: [1000] },
      ...more,
    })
    const ideal = approximate(spec)
    return {
      ideal,
      made: () =>
        drawn(family.plan({ spec, ideal, realization: { family: family.id, ...realization } }), valuePolicy('exact')),
    }
  }

  test('one that is driven through a capacitor', () => {
    const { ideal, made } = planOf({})
    const grid = Float64Array.from([100, 1000, 5000])
    const { re, im } = new AcAnalysis(formulate(made().circuit)).sweep(grid)
    grid.forEach((f, k) => {
      const wanted = evaluate(ideal.transfer, complex(0, 2 * Math.PI * f))
      expect(Math.hypot(re[k] - wanted.re, im[k] - wanted.im)).toBeLessThan(1e-7)
    })
  })

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

  test.each([
    [{}, { source: 50 }, 'realization.source'],
    [{ gain: -3 }, {}, 'gain'],
    [{ order: 2 }, {}, 'response'],
  ])('what it cannot have is refused where it was asked: %j %j', (more, realization, path) => {
    expect(planOf(more, realization).made).toThrow(expect.objectContaining({ place: { path } }))
  })
})

describe('factors of a response', () => {
  const factors = (more: object) => {
    const spec = parseSpec({ approximation: 'butterworth', passband: { edges: [1000], ripple: 1 }, ...more })
    const { transfer } = approximate(spec)
    return { transfer, factors: factorsOf(transfer) }
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
