import { describe, expect, test } from 'vitest'
import { withValue } from '../circuit/circuit.js'
import { parseSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { verify } from './ledger.js'

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
    const circuit = withValue(realize(spec()).circuit, 'C3', 'capacitance', 1e-6)
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
})
