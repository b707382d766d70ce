import { describe, expect, test } from 'vitest'
import { AcAnalysis } from '../../analysis/signalAnalysis.js'
import { formulate } from '../../analysis/mna.js'
import { polesAndZeros } from '../../analysis/poles.js'
import { sensitivity } from '../../analysis/sensitivity.js'
import { transient } from '../../analysis/transient.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { evaluate } from '../../numeric/transferFunction.js'
import type { Circuit, Part } from '../circuit.js'
import { flatten } from '../flatten.js'

const netlist = (...lines: string[]) => readNetlist(['t', ...lines, ''].join('\n')).circuit

describe('coupled inductors', () => {
  const three = (...k: number[]) =>
    netlist(
      'V1 in 0 AC 1',
      'R1 in a 50',
      'L1 a 0 1m',
      'L2 b 0 1m',
      'L3 out 0 1m',
      'R2 b 0 50',
      'R3 out 0 50',
      `K1 L1 L2 ${k[0]}`,
      `K2 L2 L3 ${k[1]}`,
      `K3 L1 L3 ${k[2]}`,
    )

  // The matrix of couplings is positive where 1 + 2·k₁k₂k₃ ≥ k₁² + k₂² + k₃².
  test.each([
    [0.9, 0.9, -0.9, false],
    [0.9, 0.9, 0.9, true],
    [0.9, 0.9, 0.61, false],
    [0.9, 0.9, 0.63, true],
    [1, 1, 1, true],
    [1, 1, 0.99, false],
    [-0.5, 0.5, 0.5, true],
    [-0.6, 0.6, 0.6, false],
  ])('%d, %d and %d', (a, b, c, possible) => {
    const determinant = 1 + 2 * a * b * c - a * a - b * b - c * c
    expect(determinant >= -1e-12).toBe(possible)
    const make = () => formulate(three(a, b, c))
    if (!possible) expect(make).toThrow('No coils have the couplings K1, K2, K3')
    else expect(polesAndZeros(make()).transfer.poles.every((p) => p.re <= 0)).toBe(true)
  })

  test('a pair is coupled once, and by two inductors of one sign', () => {
    const pair =
      (...more: string[]) =>
      () =>
        flatten(netlist('V1 a 0 AC 1', 'L1 a 0 1m', 'L2 b 0 1m', 'R1 b 0 1', 'K1 L1 L2 0.5', ...more))
    expect(pair()).not.toThrow()
    expect(pair('K2 L2 L1 0.3')).toThrow('K1 and K2 both couple L2 and L1')
    expect(pair('K2 L1 L1 0.3')).toThrow('with itself')
    expect(pair('L3 b 0 -1m', 'K2 L3 L1 0.3')).toThrow('of which one is negative')
    const circuit = netlist('V1 a 0 1', 'L1 a 0 1m', 'L2 a 0 1m', 'K1 L1 L2 0.5')
    const alone = { ...circuit, parts: circuit.parts.map((p) => (p.id === 'K1' ? { ...p, refs: ['L1'] } : p)) }
    expect(() => flatten(alone)).toThrow('K1 names 1 other parts')
  })
})

describe('a current sensed through a real coil is the whole one', () => {
  const REAL = { inductance: 1e-3, parallelCapacitance: 1e-9, seriesResistance: 10, parallelResistance: 2e4 }
  /** A source over 1 kΩ into the coil; the coil's current, sensed, into 1 Ω at out. */
  const sensing = (kind: 'cccs' | 'ccvs', sensed: 'L1' | 'V2'): Circuit => {
    const plain = netlist(
      'V1 in 0 AC 1 PULSE(0 1)',
      'R1 in a 1k',
      'V2 a b 0',
      'L1 b 0 1m',
      'R2 out 0 1',
      'V3 c 0 0',
      'F1 0 out V3 2',
      'R9 c 0 1',
    )
    const parts = plain.parts.map((p): Part => {
      if (p.id === 'L1') return { ...p, values: REAL }
      if (p.id !== 'F1') return p
      return { ...p, kind, values: kind === 'cccs' ? { gain: 2 } : { transresistance: -2 }, refs: [sensed] }
    })
    return { ...plain, parts }
  }

  test.each(['cccs', 'ccvs'] as const)('%s: as through a source of 0 V in series with it', (kind) => {
    const [coil, source] = (['L1', 'V2'] as const).map((name) => formulate(sensing(kind, name)))
    const [a, b] = [coil!, source!].map((mna) => new AcAnalysis(mna))
    for (const f of [1, 1e3, 1e5, 159_154.9, 1e6, 1e8]) {
      const [x, y] = [a!, b!].map((ac) => ac.point(2 * Math.PI * f).value)
      expect(Math.hypot(x!.re - y!.re, x!.im - y!.im)).toBeLessThan(1e-11 * Math.hypot(y!.re, y!.im))
    }
    // Poles and zeros, and the course in time, on the same road.
    const [p, q] = [coil!, source!].map((mna) => polesAndZeros(mna).transfer)
    for (const f of [1e3, 1e5, 1e6]) {
      const s = { re: 0, im: 2 * Math.PI * f }
      const [x, y] = [evaluate(p!, s), evaluate(q!, s)]
      expect(Math.hypot(x.re - y.re, x.im - y.im)).toBeLessThan(1e-9 * Math.hypot(y.re, y.im))
    }
    const runs = [coil!, source!].map((mna) => transient(mna, { stop: 5e-5, outputs: ['out'], reltol: 1e-6 }))
    expect(runs[0]!.outputs[0]!.at(-1)).toBeCloseTo(runs[1]!.outputs[0]!.at(-1)!, 8)
    const at = sensitivity(coil!, [2e5]).components
    const same = sensitivity(source!, [2e5]).components
    for (const part of ['R1', 'L1', 'R2']) expect(at[part]!.magnitude[0]).toBeCloseTo(same[part]!.magnitude[0]!, 8)
  })

  test('the poles and zeros of such a current say what the sweep says', () => {
    const mna = formulate(sensing('cccs', 'V2'))
    const { transfer } = polesAndZeros(mna, { output: 'i(L1)' })
    const ac = new AcAnalysis(mna, { output: 'i(L1)' })
    for (const f of [10, 1e4, 159_154.9, 1e6]) {
      const [x, y] = [evaluate(transfer, { re: 0, im: 2 * Math.PI * f }), ac.point(2 * Math.PI * f).value]
      expect(Math.hypot(x.re - y.re, x.im - y.im)).toBeLessThan(1e-9 * Math.hypot(y.re, y.im))
    }
  })
})
