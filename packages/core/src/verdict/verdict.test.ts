import { describe, expect, test } from 'vitest'
import { setValue } from '../circuit/edit/setValue.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { verify } from './verify.js'

const spec = (more: object = {}) =>
  parseSpec({
    response: 'lowpass',
    approximation: 'chebyshev',
    order: 5,
    passband: { edges: [1000], ripple: 0.5 },
    stopband: { edges: [2000], attenuation: 40 },
    realization: { family: 'lc-ladder', source: 50, load: 50 },
    ...more,
  })

describe('verdicts', () => {
  test('an exact ladder uses its ripple up, and has the stop band that its polynomial gives', () => {
    const verdicts = verify(spec(), realize(spec()).circuit)
    const byId = Object.fromEntries(verdicts.map((v) => [v.id, v]))
    expect(byId.passband).toMatchObject({ limit: 0.5, met: true, atUnit: 'Hz' })
    expect(byId.passband.achieved).toBeCloseTo(0.5, 9)
    // 10·log10(1 + ε²·T₅²(2)), T₅(2) = 362
    expect(byId.stopband.achieved).toBeCloseTo(10 * Math.log10(1 + (10 ** 0.05 - 1) * 362 ** 2), 6)
    expect(byId.stopband.margin! - (byId.stopband.achieved! - 40)).toBeCloseTo(0, 12)
    expect(byId.stopband.at).toBeCloseTo(2000, 6)
  })

  test('what is not met comes first, with a negative margin and where it fails', () => {
    const circuit = setValue.apply(realize(spec()).circuit, { part: 'C3', field: 'capacitance', value: 1e-6 })
    const verdicts = verify(spec(), circuit)
    expect(verdicts[0].met).toBe(false)
    expect(verdicts[0].margin).toBeLessThan(0)
    expect(verdicts.map((v) => v.met)).toEqual([...verdicts.map((v) => v.met)].sort())
  })

  test('limits on the step response: second order by its closed form', () => {
    const asked = spec({
      approximation: 'butterworth',
      order: 2,
      stopband: undefined,
      passband: { edges: [1000] },
      requirements: [
        { kind: 'overshoot', limit: 5 },
        { kind: 'rise-time', limit: 1e-3 },
        { kind: 'settling-time', limit: 1e-6 },
        { kind: 'step-delay', limit: 1e-3 },
      ],
    })
    const byId = Object.fromEntries(verify(asked, realize(asked).circuit).map((v) => [v.id, v]))
    // exp(−πζ/√(1 − ζ²)) with ζ = 1/√2
    expect(byId.overshoot.achieved).toBeCloseTo(100 * Math.exp(-Math.PI), 8)
    expect(byId.overshoot.met).toBe(true)
    expect(byId['settling-time'].met).toBe(false)
    expect(Object.keys(byId).sort()).toEqual(['overshoot', 'passband', 'rise-time', 'settling-time', 'step-delay'])
  })

  test('what is asked at places, in bands and of the parts', () => {
    const edge = 1000
    const asked = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: 1,
      passband: { edges: [edge] },
      realization: { family: 'lc-ladder', source: 0, load: 1000 },
      requirements: [
        { kind: 'attenuation', from: 5000, to: 20000, limit: 14 },
        { kind: 'attenuation', from: 20000, to: 50000, limit: 30 },
        { kind: 'gain-at', at: 2000, target: -7, limit: 0.1 },
        { kind: 'phase-at', at: edge, target: -45, limit: 0.5 },
        { kind: 'phase-linearity', from: 100, to: 3000, limit: 3 },
        { kind: 'delay-variation', from: 100, to: 1000, limit: 1e-4 },
        { kind: 'delay-at', at: 500, limit: 1e-3 },
        { kind: 'cutoff', target: 1010, limit: 2 },
        { kind: 'parts', limit: 2 },
        { kind: 'largest-inductor', limit: 0.1 },
        { kind: 'value-spread', limit: 1 },
      ],
    })
    const byId = Object.fromEntries(verify(asked, realize(asked).circuit).map((v) => [v.id, v]))
    // First order: loss 10·log10(1 + x²), phase −arctan x, delay 1/(ω₀(1 + x²)), x = f/f₀.
    const tau = 1 / (2 * Math.PI * edge)
    expect(byId.attenuation.achieved).toBeCloseTo(10 * Math.log10(26), 9)
    expect(byId['attenuation 2'].achieved).toBeCloseTo(10 * Math.log10(401), 9)
    expect(byId['attenuation 2'].met).toBe(false)
    expect(byId['gain-at'].achieved).toBeCloseTo(Math.abs(-10 * Math.log10(5) + 7), 9)
    expect(byId['phase-at'].achieved).toBeCloseTo(0, 9)
    expect(byId['delay-at'].achieved! / (tau / 1.25)).toBeCloseTo(1, 9)
    expect(byId['delay-variation'].achieved! / (tau / 1.01 - tau / 2)).toBeCloseTo(1, 9)
    expect(byId.cutoff.achieved).toBeCloseTo(100 * (1 - 1000 / 1010), 6)
    expect(byId.parts).toMatchObject({ achieved: 2, met: true })
    expect(byId['largest-inductor'].achieved).toBeCloseTo(1000 / (2 * Math.PI * edge), 9)
    expect(byId['value-spread'].achieved).toBe(1)
    // Chebyshev's line for a convex curve: parallel to the chord, half-way to the tangent.
    const [a, b] = [100, 3000]
    const phase = (f: number) => (-Math.atan(f / edge) * 180) / Math.PI
    const slope = (phase(b) - phase(a)) / (b - a)
    const touch = edge * Math.sqrt(-180 / Math.PI / (slope * edge) - 1)
    const height = Math.abs(phase(touch) - (phase(a) + slope * (touch - a))) / 2
    expect(byId['phase-linearity'].achieved).toBeCloseTo(height, 3)
  })

  test.each([
    [{ kind: 'phase-at', limit: 1, target: 0 }, 'requirements.0.at'],
    [{ kind: 'phase-at', limit: 1, at: 100 }, 'requirements.0.target'],
    [{ kind: 'parts', limit: 1, at: 100 }, 'requirements.0.at'],
    [{ kind: 'attenuation', limit: 1, from: 200, to: 100 }, 'requirements.0.to'],
    [{ kind: 'colour', limit: 1 }, 'requirements.0.kind'],
  ])('%j is refused at %s', (requirement, path) => {
    expect(() => spec({ requirements: [requirement] })).toThrow(expect.objectContaining({ place: { path } }))
  })
})
