import { joined, summing } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isLowpass } from '../zeros.js'

/** An integrator with a resistor beside its capacitor. */
export const inverterLowpass: SectionKind = {
  id: 'inverter-lowpass',
  name: 'First order, inverting',
  makes: 'low-pass',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: -1,
  design: ['\\omega_0 = \\frac{1}{R_2 C_1}', 'H_0 = \\frac{R_2}{R_1}'],
  roles: {
    R1: 'takes the input in: R2 over it is the gain',
    R2: 'bounds the gain at DC: with C1 the pole',
    C1: 'sums up over time',
  },
  fits: (f) => f.poles.length === 1 && isLowpass(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['1/(R1*C1)'],
  denominator: ['1/(R2*C1)', '1'],
  solve: ({ w0, gain }, size, { C1 = size, R2 = 1 / (w0 * C1), R1 = 1 / (gain * C1) }) => ({ C1, R2, R1 }),
  entrance: 'R1',
  figure: () => joined([11, 1], summing(0, 'R2', 'C1')),
}
