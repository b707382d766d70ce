import { describe, expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { uniform } from '../numeric/random.js'
import { AcAnalysis } from './signalAnalysis.js'
import { logarithmicGrid } from './sweeps.js'
import { formulate } from './mna.js'
import { ValueSweep } from './valueSweep.js'

const circuit = (...lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)
const GRID = logarithmicGrid(1, 1e7, 40)

/** Every draw by the sweep against a fresh analysis of the same values. */
function agrees(nominal: string[], draws: readonly string[][], output: string): ValueSweep {
  const sweep = new ValueSweep(circuit(...nominal), { output }, GRID)
  for (const lines of draws) {
    const mna = circuit(...lines)
    const { re, im } = sweep.run(mna)
    const fresh = new AcAnalysis(mna, { output }).sweep(GRID)
    fresh.re.forEach((r, k) => {
      const size = Math.hypot(r, fresh.im[k]!)
      expect(Math.hypot(re[k]! - r, im[k]! - fresh.im[k]!)).toBeLessThanOrEqual(1e-9 * size)
    })
  }
  return sweep
}

describe('many values of one structure', () => {
  test('the current of a part whose own value is drawn follows that value', () => {
    const divider = (r: number) => ['V1 in 0 AC 1', `R1 in out ${r}`, 'R2 out 0 1k']
    const sweep = agrees(divider(1e3), [500, 1e3, 3e3].map(divider), 'i(R1)')
    // 1 V over 3 kΩ and 1 kΩ.
    expect(sweep.run(circuit(...divider(3e3))).re[0]).toBeCloseTo(0.25e-3, 15)
    expect(sweep.plain).toBe(0)
  })

  test.each(['out', 'i(R1)', 'i(C1)', 'i(L1)', 'v(a,out)'])('%s over random draws of every part', (output) => {
    let place = 0
    const drawn = () => 0.5 + uniform(3, place++)
    const ladder = () => [
      'V1 in 0 AC 1',
      `R1 in a ${1e3 * drawn()}`,
      `L1 a out ${1e-3 * drawn()}`,
      `C1 out 0 ${1e-9 * drawn()}`,
      `R2 out 0 ${1e3 * drawn()}`,
    ]
    agrees(ladder(), Array.from({ length: 20 }, ladder), output)
  })

  test.each(['out', 'i(C1)', 'i(C2)'])('%s: a draw that adds or removes a storage place is noticed', (output) => {
    const rc = (c1: number, c2: number) => [
      'V1 in 0 AC 1',
      'R1 in out 1k',
      `C1 out 0 ${c1}`,
      'R2 out 0 1k',
      `C2 in out ${c2}`,
    ]
    const draws = [rc(0, 1e-9), rc(1e-9, 0), rc(1e-9, 2e-9), rc(2e-9, 1e-9)]
    agrees(rc(1e-9, 1e-9), draws, output)
    if (output === 'out') {
      agrees(rc(0, 1e-9), draws, output)
      agrees(rc(1e-9, 0), draws, output)
    }
  })
})
