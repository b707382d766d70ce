import {
  type Circuit,
  designOfCircuit,
  designOfSpec,
  parseSpec,
  readNetlist,
  realize,
  withPartValue,
  withValue,
} from '@voskel/core'
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

/** A drawn circuit that is judged by the specification. */
const drawnFor = (circuit: Circuit) => ({
  ...designOfSpec('T', spec, 'exact'),
  circuit: { origin: 'drawn' as const, circuit },
})

describe('what the stages show of a design', () => {
  test('ideal and circuit from a specification alone, inside one range and window', () => {
    const result = compute(designOfSpec('T', spec, 'exact'))
    expect(result.idealFailure).toBeNull()
    expect(result.circuitFailure).toBeNull()
    const { ideal, circuit, range, window } = result
    expect(ideal!.frequency.frequency[0]).toBeCloseTo(range!.from, 9)
    expect(circuit!.frequency!.frequency.at(-1)).toBeCloseTo(range!.to, 3)
    expect(circuit!.time!.time.at(-1)).toBeCloseTo(window!, 12)
    // Equal resistors pass half the voltage.
    expect(circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(circuit!.time!.value.at(-1)).toBeCloseTo(0.5, 2)
    expect(circuit!.verdicts.map((v) => v.id).sort()).toEqual(['passband', 'stopband'])
  })

  test('a typed value counts; the level of reference stays the specification’s', () => {
    const result = compute(withPartValue(designOfSpec('T', spec, 'exact'), 'C1', 'capacitance', 1e-9))
    const computed = realize(spec).circuit
    expect(result.circuit!.base).toEqual(computed)
    expect(result.circuit!.circuit.parts.find((p) => p.id === 'C1')).toMatchObject({
      values: { capacitance: 1e-9 },
      exact: computed.parts.find((p) => p.id === 'C1')!.values,
    })
    expect(result.circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(result.circuit!.verdicts.some((v) => !v.met)).toBe(true)
  })

  test('a drawn circuit is judged at the level of the specification’s own', () => {
    const { circuit } = compute(drawnFor(realize(spec).circuit))
    expect(circuit!.referenceDb).toBeCloseTo(20 * Math.log10(0.5), 12)
    expect(circuit!.verdicts.every((v) => v.met)).toBe(true)
  })

  test('an impossible circuit leaves the ideal response; a broken circuit says where', () => {
    const impossible = { ...spec, order: 4 }
    const result = compute(designOfSpec('T', impossible, 'exact'))
    expect(result.ideal).not.toBeNull()
    expect(result.circuit).toBeNull()
    expect(result.circuitFailure).toMatchObject({ code: 'REALIZATION_IMPOSSIBLE', place: { path: 'realization.load' } })
    const broken = withValue(realize(spec).circuit, 'RL', 'resistance', 0)
    const { circuit } = compute(drawnFor(broken))
    expect(circuit!.circuit).toBe(broken)
    expect(circuit!.failures.equations).toMatchObject({ place: { part: 'RL' } })
  })

  test('a circuit without a specification is simulated all the same', () => {
    const result = compute(designOfCircuit(realize(spec).circuit))
    expect(result.ideal).toBeNull()
    expect(result.circuit!.verdicts).toEqual([])
    expect(result.circuit!.roots!.ac.cutoffs[0]).toBeGreaterThan(1000)
  })

  const ladder = (parts: number, waveform = '') => {
    const cards = Array.from({ length: parts / 2 }, (_, k) => `L${k} n${k} n${k + 1} 1u\nC${k} n${k + 1} 0 400p`)
    const ends = [`V1 in 0 AC 1 ${waveform}`, 'RS in n0 50', `RL n${parts / 2} 0 50`, `E1 out 0 n${parts / 2} 0 1`]
    return readNetlist(['t', ...ends, ...cards].join('\n')).circuit
  }

  test.each([
    [200, ''],
    [400, 'PULSE(0 1)'],
  ])('a ladder of %i parts has its curves, without poles, which say why they are missing', (parts, waveform) => {
    const { circuit, range } = compute(designOfCircuit(ladder(parts, waveform)))
    expect(circuit!.roots).toBeNull()
    expect(Object.keys(circuit!.failures)).toEqual(['roots'])
    expect(circuit!.failures.roots!.code).toBe('TOO_LARGE')
    const { frequency, db, phase } = circuit!.frequency!
    // 1/(2π√(LC)) is 7.96 MHz; half the voltage passes far below.
    expect(range!.from).toBeLessThan(1e6)
    expect(range!.to).toBeGreaterThan(16e6)
    expect(db[0]).toBeCloseTo(20 * Math.log10(0.5), 2)
    // Each section turns by 2·asin(ω·√(LC)/2): the curve's own phase, followed from below.
    const [f, p] = [frequency[0]!, phase[0]!]
    expect(p).toBeCloseTo((-360 / Math.PI) * (parts / 2) * Math.asin(Math.PI * f * 2e-8), 0)
    // A matched line hands the step on after half a period of LC a section.
    const { time, value } = circuit!.time!
    expect(value[0]).toBeCloseTo(0, 6)
    const half = time[value.findIndex((v) => v > 0.25)]!
    expect(half / ((parts / 2) * 2e-8)).toBeCloseTo(1, 1)
  })

  test('a read-out is exact at its frequency', () => {
    const { transfer } = compute(designOfSpec('T', spec, 'exact')).circuit!.roots!
    const there = readOut(transfer, 1000)
    expect(there.db).toBeCloseTo(20 * Math.log10(0.5) - 0.5, 9)
    expect(there.gain).toBeCloseTo(10 ** (there.db / 20), 12)
  })
})
