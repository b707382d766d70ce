import { expect, test } from 'vitest'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { abs, complex } from '../numeric/complex.js'
import { formulate } from './mna.js'
import { AcAnalysis } from './signalAnalysis.js'
import { whatItSees } from './whatItSees.js'

const read = (...lines: string[]) => formulate(readNetlist(['t', ...lines, ''].join('\n')).circuit)

// Two equal resistors of 10 kΩ load a capacitor like 5 kΩ: with 1 nF the corner is 31.83 kHz (common practice, no source).
test('a capacitor in a divider: Thévenin’s source and the corner', () => {
  const divider = read('V1 in 0 AC 1', 'R1 in out 10k', 'R2 out 0 10k', 'C1 out 0 1n')
  const seen = whatItSees(divider, 'c1', 1)!
  expect(seen.impedance / 5000).toBeCloseTo(1, 12)
  expect(seen.openVoltage).toBeCloseTo(0.5, 9)
  expect(seen.corner! / 31830.988618).toBeCloseTo(1, 9)
  // R2 sees R1 beside C1, and without it all of the voltage at DC.
  expect(whatItSees(divider, 'R2', 1)!.impedance / 1e4).toBeCloseTo(1, 6)
  expect(whatItSees(divider, 'R2', 1)).toMatchObject({ openVoltage: expect.closeTo(1, 6), corner: null })
  expect(whatItSees(divider, 'V1', 1)).toBeNull()
})

test('over frequency: what a load sees of a source behind a coil and a capacitor', () => {
  const source = read('V1 in 0 AC 1', 'R1 in a 50', 'L1 a out 1m', 'C1 out 0 100n', 'RL out 0 600')
  const f = 20e3
  const w = 2 * Math.PI * f
  // (50 + jωL) beside 1/(jωC)
  const [re, im] = [50, w * 1e-3]
  const y = { re: re / (re * re + im * im), im: -im / (re * re + im * im) + w * 1e-7 }
  const z = new AcAnalysis(source, { output: 'z(RL)' }).at(complex(0, w))
  expect(abs(z) * Math.hypot(y.re, y.im)).toBeCloseTo(1, 11)
  // A coil sees R1 in front and the rest behind.
  expect(whatItSees(source, 'L1', 1e-3)!.impedance / 650).toBeCloseTo(1, 6)
})
