import { joined, lying, summing } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isHighpass } from '../zeros.js'

/** A differentiator with a resistor before its capacitor. */
export const inverterHighpass: SectionKind = {
  id: 'inverter-highpass',
  name: 'First order, inverting',
  makes: 'high-pass',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: -1,
  design: ['\\omega_0 = \\frac{1}{R_1 C_1}', 'H_\\infty = \\frac{R_2}{R_1}'],
  roles: {
    R1: 'bounds the gain at high frequencies: with C1 the pole',
    C1: 'lets through what changes',
    R2: 'over R1 the gain',
  },
  fits: (f) => f.poles.length === 1 && isHighpass(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['0', 'R2/R1'],
  denominator: ['1/(R1*C1)', '1'],
  solve: ({ w0, gain }, size, { C1 = size, R1 = 1 / (w0 * C1), R2 = gain * R1 }) => ({ C1, R1, R2 }),
  entrance: 'R1',
  figure: () => joined([17, 1], lying('C1', 0, 6, 0), summing(6, 'R2')),
}
