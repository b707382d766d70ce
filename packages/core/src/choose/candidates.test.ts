import { describe, expect, test } from 'vitest'
import { approximations } from '../approximation/index.js'
import { parseSpec } from '../specification/filterSpec.js'
import { verify } from '../verdict/verify.js'
import { realize } from '../synthesis/realize.js'
import { candidates } from './candidates.js'

const asked = (more: object = {}) =>
  parseSpec({
    response: 'lowpass',
    approximation: 'bessel',
    order: 3,
    passband: { edges: [1000], ripple: 0.5 },
    stopband: { edges: [2000], attenuation: 40 },
    realization: { family: 'lc-ladder', source: 50, load: 50 },
    ...more,
  })

describe('candidates', () => {
  test('every family and order once, low orders first, each with its own specification', () => {
    const found = [...candidates(asked(), 4)]
    expect(found).toHaveLength(4 * approximations.length)
    expect(new Set(found.map((c) => `${c.approximation} ${c.order}`)).size).toBe(found.length)
    expect(found.map((c) => c.order)).toEqual(found.map((c) => c.order).sort((a, b) => a - b))
    for (const c of found) expect(c.specification).toMatchObject({ approximation: c.approximation, order: c.order })
  })

  test('whether all is met is what the ledger of the realised circuit says', () => {
    for (const c of candidates(asked({ requirements: [{ kind: 'overshoot', limit: 12 }] }), 6)) {
      if (c.without !== null) {
        expect(c.met).toBe(false)
        continue
      }
      const { circuit } = realize(c.specification)
      expect(c.met).toBe(verify(c.specification, circuit).every((v) => v.met))
    }
  })

  test('where the circuit is only near to the response, it is the circuit that is judged', () => {
    const near = parseSpec({
      response: 'bandpass',
      approximation: 'butterworth',
      order: 3,
      passband: { edges: [13_000, 15_500], ripple: 0.5 },
      stopband: { edges: [8_000, 22_000], attenuation: 40 },
      realization: { family: 'coupled-resonators', source: 600, load: 600, inductor: 1e-2 },
    })
    let missed = 0
    for (const c of candidates(near, 8)) {
      if (c.without !== null) continue
      const { circuit } = realize(c.specification)
      const own = verify(c.specification, circuit)
      expect(c.verdicts.map((v) => [v.id, v.met])).toEqual(own.map((v) => [v.id, v.met]))
      const [passband] = c.verdicts.filter((v) => v.id === 'passband')
      expect(passband!.achieved).toBeCloseTo(own.find((v) => v.id === 'passband')!.achieved!, 9)
      if (!c.met) missed++
    }
    expect(missed).toBeGreaterThan(0)
  })

  // Least orders for 0.5 dB to 1 kHz and 40 dB from 2 kHz by the closed forms.
  test('the first order of each family that meets the stop band is the closed form’s', () => {
    const all = [...candidates(asked(), 10)]
    const first = (id: string) =>
      all.find((c) => c.approximation === id && c.figures.attenuationMargin! >= -1e-6)!.order
    const [e, a] = [Math.sqrt(10 ** 0.05 - 1), Math.sqrt(1e4 - 1)]
    expect(first('butterworth')).toBe(Math.ceil(Math.log(a / e) / Math.log(2)))
    expect(first('chebyshev')).toBe(Math.ceil(Math.acosh(a / e) / Math.acosh(2)))
    expect(first('inverse-chebyshev')).toBe(Math.ceil(Math.acosh(a / e) / Math.acosh(2)))
    expect(first('elliptic')).toBeLessThan(first('chebyshev'))
  })

  test('figures of a circuit that is known: a third-order Butterworth ladder', () => {
    const spec = asked({ passband: { edges: [1000] }, stopband: undefined })
    const c = [...candidates(spec, 3)].find((k) => k.approximation === 'butterworth' && k.order === 3)!
    expect(c.figures.highestQ).toBeCloseTo(1, 12)
    expect(c.figures.parts).toBe(5)
    // g = 1, 2, 1 and 50 Ω: one coil of 2·50/ω.
    expect(c.figures.inductance! / (100 / (2000 * Math.PI))).toBeCloseTo(1, 12)
    expect(c.figures.spread).toBeCloseTo(1, 12)
    expect(c.figures.attenuationMargin).toBeNull()
  })

  test('families that a response cannot have are left out', () => {
    const spec = parseSpec({ response: 'allpass', approximation: 'bessel', order: 2, passband: { edges: [1000] } })
    const ids = new Set([...candidates(spec, 2)].map((c) => c.approximation))
    expect(ids.has('elliptic')).toBe(false)
    expect(ids.has('bessel')).toBe(true)
  })
})
