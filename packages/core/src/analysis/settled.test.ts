import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { commonPeriod } from './commonPeriod.js'
import { exactTransient } from './exactTransient.js'
import { uniformTimes } from './interpolate.js'
import { formulate } from './mna.js'
import { settledState } from './settledState.js'
import { transient } from './transient.js'

const read = (...lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)

describe('after any number of periods', () => {
  test('a square wave behind an RC swings between the levels that its exponentials join', () => {
    // Between ±1, half a period of T: v = tanh(T/(4·RC)) at each end (by hand).
    const [r, c, period] = [1e3, 1e-6, 50e-6]
    const mna = read(`V1 in 0 PULSE(-1 1 0 0 0 ${period / 2} ${period})`, `R1 in out ${r}`, `C1 out 0 ${c}`)
    const top = Math.tanh(period / (4 * r * c))
    const found = exactTransient(mna, { stop: period, points: 5, outputs: ['out'], start: 'settled' })![0]!
    expect(found[0]! / -top).toBeCloseTo(1, 12)
    expect(found[2]! / top).toBeCloseTo(1, 12)
    expect(found[4]! / -top).toBeCloseTo(1, 12)
    // By shooting: the same.
    const state = settledState(mna, period)
    expect(state[mna.circuit.nodes.indexOf('out')]! / -top).toBeCloseTo(1, 5)
  })

  test('a resonator of Q 10 000 driven at its resonance has the amplitude of its AC response', () => {
    const [l, c, f0] = [1e-3, 1e-9, 1 / (2 * Math.PI * Math.sqrt(1e-12))]
    const r = Math.sqrt(l / c) / 1e4
    const mna = read(`V1 in 0 SIN(0 1 ${f0})`, `R1 in a ${r}`, `L1 a out ${l}`, `C1 out 0 ${c}`)
    const found = exactTransient(mna, { stop: 1 / f0, points: 5, outputs: ['out'], start: 'settled' })![0]!
    // Q times the source, a quarter of a period behind.
    expect(found[0]! / -1e4).toBeCloseTo(1, 7)
    expect(Math.abs(found[1]!) / 1e4).toBeLessThan(1e-3)
  })

  test('a peak rectifier of many periods’ time constant hands each period the voltage that it took', () => {
    const lines = ['V1 in 0 SIN(0 5 50)', 'D1 in out d', 'R1 out 0 10k', 'C1 out 0 1m', '.model d d(is=1e-14)']
    const mna = read(...lines)
    const period = commonPeriod(mna)
    const state = settledState(mna, period)
    const out = mna.circuit.nodes.indexOf('out')
    const { end, swings } = transient(mna, { stop: period, outputs: ['out'], reltol: 1e-8, start: state })
    expect(Math.abs(end[out]! - state[out]!)).toBeLessThan(1e-6 * swings[out]!)
    // Waited for: 500 periods, ten time constants.
    const waited = transient(mna, { stop: 500 * period, outputs: ['out'], reltol: 1e-5 }).end
    expect(Math.abs(waited[out]! - state[out]!)).toBeLessThan(2e-2 * swings[out]!)
  })

  test('of several sources the period is the least that holds whole ones of each', () => {
    const two = (f: number) => read('V1 in 0 SIN(0 1 1k)', `V2 b 0 SIN(0 1 ${f})`, 'R1 in b 1k')
    expect(commonPeriod(two(1.5e3))).toBeCloseTo(2e-3, 12)
    expect(commonPeriod(two(7e3))).toBeCloseTo(1e-3, 12)
    expect(() => commonPeriod(two(Math.SQRT2 * 1e3))).toThrow('unrelated')
  })
})

describe('what never settles says so', () => {
  const square = 'V1 in 0 PULSE(-1 1 0 0 0 25u 50u)'
  test.each([
    ['an integrator', [square, 'R1 in a 1k', 'C1 a out 1n', 'E1 out 0 0 a 1e12'], /forgets nothing/],
    ['a lossless resonator', [square, 'L1 in out 1m', 'C1 out 0 1n'], /forgets nothing/],
    ['what grows', [square, 'R1 in out 1k', 'R2 out 0 -500', 'C1 out 0 1n'], /grows without end/],
    ['a step', ['V1 in 0 PULSE(0 1)', 'R1 in out 1k', 'C1 out 0 1n'], /does not come again/],
    ['a late sine', ['V1 in 0 SIN(0 1 1k 1m)', 'R1 in out 1k', 'C1 out 0 1n'], /only after a delay/],
  ] as const)('%s', (_, lines, problem) => {
    const mna = read(...lines)
    expect(() => {
      const exact = exactTransient(mna, { stop: 1e-3, points: 11, outputs: ['out'], start: 'settled' })
      if (!exact) settledState(mna, commonPeriod(mna))
    }).toThrow(problem)
  })

  test('a circuit with devices that falls into a period of its own', () => {
    // A negative resistance between two diodes: it swings by itself, at its own pace, whatever drives it weakly.
    const mna = read(
      'V1 in 0 SIN(0 1m 30k)',
      'R1 in out 1meg',
      'L1 out 0 1m',
      'C1 out 0 1u',
      'G1 out 0 out 0 -0.1',
      'D1 out 0 d',
      'D2 0 out d',
      '.model d d(is=1e-12)',
    )
    expect(() => settledState(mna, commonPeriod(mna))).toThrow(/settles to nothing/)
  })
})

test('a settled run is one of its periods after the other', () => {
  const mna = read('V1 in 0 SIN(0 1 1k)', 'R1 in out 10k', 'C1 out 0 1u')
  const points = 41
  const found = exactTransient(mna, { stop: 2e-3, points, outputs: ['out'], start: 'settled' })![0]!
  const [w, tau] = [2e3 * Math.PI, 1e-2]
  uniformTimes(2e-3, points).forEach((t, k) => {
    const wanted = Math.sin(w * t - Math.atan(w * tau)) / Math.hypot(1, w * tau)
    expect(found[k]).toBeCloseTo(wanted, 13)
  })
})
