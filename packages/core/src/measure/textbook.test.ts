import { describe, expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { acMeasures } from './acMeasures.js'
import { stepMeasures } from './stepMeasures.js'
import { textbook } from './textbook.js'

/** Circuits whose measures the formulas must meet: the two roads have nothing in common but the roots. */
const circuits: [string, string[], number][] = [
  ['RC low-pass', ['R1 in out 10k', 'C1 out 0 10n'], 4],
  ['RC high-pass', ['C1 in out 10u', 'R1 out 0 10k'], 1],
  ['RL low-pass', ['L1 in out 1m', 'R1 out 0 100'], 4],
  ['loaded RC', ['R1 in out 10k', 'R2 out 0 10k', 'C1 out 0 1n'], 4],
  ['resonant low-pass, Q 2', ['R1 in a 50', 'L1 a out 1m', 'C1 out 0 100n'], 3],
  ['damped low-pass', ['R1 in a 500', 'L1 a out 1m', 'C1 out 0 100n'], 1],
  ['low-pass that is nearly flat', ['R1 in a 155', 'L1 a out 1m', 'C1 out 0 100n'], 2],
  ['high-pass, Q 2', ['R1 in a 50', 'C1 a out 100n', 'L1 out 0 1m'], 2],
  ['band-pass', ['L1 in a 1m', 'C1 a out 100n', 'R1 out 0 20'], 6],
]

describe.each(circuits)('%s', (_, lines, count) => {
  const mna = formulate(readNetlist(['t', 'V1 in 0 AC 1', ...lines, ''].join('\n')).circuit)
  const { transfer } = polesAndZeros(mna)
  const measured = { ac: acMeasures(transfer), step: stepMeasures(transfer) }
  const rows = textbook(transfer, mna.circuit)

  test('formulas and measures agree', () => {
    expect(rows).toHaveLength(count)
    for (const { path, value, formula } of rows) {
      const found = path
        .replaceAll(/\[(\d)\]/g, '.$1')
        .split('.')
        .reduce<unknown>((at, step) => (at as Record<string, unknown>)[step], measured) as number
      expect(value / found, `${path}: ${formula}`).toBeCloseTo(1, 9)
    }
  })
})

test('the parts are named where they alone make it', () => {
  const of = (...lines: string[]) => {
    const mna = formulate(readNetlist(['t', 'V1 in 0 AC 1', ...lines, ''].join('\n')).circuit)
    return textbook(polesAndZeros(mna).transfer, mna.circuit).map((r) => r.formula)
  }
  // Two equal resistors of 10 kΩ load a capacitor like 5 kΩ (common practice, no source).
  expect(of('R1 in out 10k', 'R2 out 0 10k', 'C1 out 0 1n')[0]).toBe('1/(2π·τ), τ = R·C1, R = 5.000\u00a0kΩ seen by C1')
  expect(of('R1 in a 50', 'L1 a out 1m', 'C1 out 0 100n')[0]).toContain('1/(2π·√(L1·C1)) = 15.92\u00a0kHz')
  // Of a third order textbooks have no formula.
  expect(of('R1 in a 1k', 'C1 a 0 1n', 'R2 a b 1k', 'C2 b 0 1n', 'R3 b out 1k', 'C3 out 0 1n')).toEqual([])
})
