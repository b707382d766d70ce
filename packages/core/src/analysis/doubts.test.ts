import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { doubtsOf } from './doubts.js'
import { formulate } from './mna.js'
import { operatingPoint } from './operatingPoint.js'
import { operatingReport } from './operatingReport.js'
import { smallSignal } from './smallSignal.js'

/** A diode-connected transistor of a kind at a drain current. */
const at = (kind: 'NMOS' | 'PMOS', current: number, temperature?: number) => {
  const sign = kind === 'NMOS' ? '' : '-'
  const text = `d\nI1 0 d ${sign}${current}\nM1 d d 0 0 m W=10u L=1u\n.model m ${kind}(KP=100u VTO=${sign}0.7)\n.end\n`
  return formulate(readNetlist(text).circuit, temperature === undefined ? {} : { temperature })
}

describe('a transistor below strong inversion', () => {
  // gm/I = √(2·KP·W/(L·I)) of the square law passes q/kT = 38.68/V (300.15 K) at I = 2·1e-3·(kT/q)² = 1.338 µA.
  test.each([
    ['NMOS', 1e-9, true],
    ['NMOS', 1.33e-6, true],
    ['NMOS', 1.35e-6, false],
    ['NMOS', 1e-4, false],
    ['PMOS', 1e-9, true],
    ['PMOS', 1e-4, false],
  ] as const)('%s at %f A: marked is %s', (kind, current, marked) => {
    const mna = at(kind, current)
    const point = operatingPoint(mna)
    expect(doubtsOf(mna, point)).toHaveLength(marked ? 1 : 0)
    expect('doubt' in operatingReport(mna, point).devices.M1).toBe(marked)
    expect(smallSignal(mna).circuit.warnings).toEqual(doubtsOf(mna, point))
  })

  test('the figures are told, and the bound moves with temperature', () => {
    const mna = at('NMOS', 1e-9)
    expect(doubtsOf(mna, operatingPoint(mna))[0]).toMatch(/^M1: gm\/I comes out as 1410\/V .* q\/kT = 38\.7\/V/)
    const cold = at('NMOS', 1.33e-6, 250)
    expect(doubtsOf(cold, operatingPoint(cold))).toEqual([])
  })

  test('one that is off carries nothing and is not marked', () => {
    const off = 'o\nV1 d 0 3\nM1 d 0 0 0 m W=10u L=1u\n.model m NMOS(KP=100u VTO=0.7)\n.end\n'
    const mna = formulate(readNetlist(off).circuit)
    expect(doubtsOf(mna, operatingPoint(mna))).toEqual([])
  })
})
