import { parseSpec, realize, withValue } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { compute, readOut } from './compute'

const spec = parseSpec({
  response: 'lowpass',
  approximation: 'chebyshev',
  order: 5,
  passband: { edges: [1000], ripple: 0.5 },
  stopband: { edges: [2000], attenuation: 40 },
  realization: { family: 'lc-ladder', source: 50, load: 50 },
})

describe('what the stages show of a design', () => {
  test('ideal and circuit from a specification alone, inside one range and window', () => {
    const result = compute({ specification: spec, values: 'exact', circuit: null })
    expect(result.idealFailure).toBeNull()
    expect(result.circuitFailure).toBeNull()
    const { ideal, circuit, range, window } = result
    expect(ideal!.frequency.frequency[0]).toBeCloseTo(range!.from, 9)
    expect(circuit!.frequency.frequency.at(-1)).toBeCloseTo(range!.to, 3)
    expect(circuit!.time!.time.at(-1)).toBeCloseTo(window!, 12)
    // Equal resistors pass half the voltage.
    expect(circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(circuit!.time!.value.at(-1)).toBeCloseTo(0.5, 2)
    expect(circuit!.verdicts.map((v) => v.id).sort()).toEqual(['passband', 'stopband'])
  })

  test('a typed value counts; the level of reference stays the specification’s', () => {
    const circuit = withValue(realize(spec).circuit, 'C1', 'capacitance', 1e-9)
    const result = compute({ specification: spec, values: 'exact', circuit })
    expect(result.circuit!.circuit).toBe(circuit)
    expect(result.circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(result.circuit!.verdicts.some((v) => !v.met)).toBe(true)
  })

  test('an impossible circuit leaves the ideal response; a broken circuit says where', () => {
    const impossible = { ...spec, order: 4 }
    const result = compute({ specification: impossible, values: 'exact', circuit: null })
    expect(result.ideal).not.toBeNull()
    expect(result.circuit).toBeNull()
    expect(result.circuitFailure).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE', place: { path: 'realization.load' } })
    const broken = withValue(realize(spec).circuit, 'RL', 'resistance', 0)
    expect(compute({ specification: spec, values: 'exact', circuit: broken }).circuitFailure).toMatchObject({
      place: { part: 'RL' },
    })
  })

  test('a circuit without a specification is simulated all the same', () => {
    const result = compute({ specification: null, values: 'exact', circuit: realize(spec).circuit })
    expect(result.ideal).toBeNull()
    expect(result.circuit!.verdicts).toEqual([])
    expect(result.circuit!.ac.cutoffs[0]).toBeGreaterThan(1000)
  })

  test('a read-out is exact at its frequency', () => {
    const { transfer } = compute({ specification: spec, values: 'exact', circuit: null }).circuit!
    const there = readOut(transfer, 1000)
    expect(there.db).toBeCloseTo(20 * Math.log10(0.5) - 0.5, 9)
    expect(there.gain).toBeCloseTo(10 ** (there.db / 20), 12)
  })
})
