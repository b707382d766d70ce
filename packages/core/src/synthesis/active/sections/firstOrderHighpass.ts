import { follower, hung, joined, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isHighpass } from '../zeros.js'

/** A capacitor to a follower's input and a resistor from there to ground. */
export const firstOrderHighpass: SectionKind = {
  id: 'first-order-highpass',
  name: 'First order with a follower',
  makes: 'high-pass',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: 1,
  design: ['\\omega_0 = \\frac{1}{R_1 C_1}'],
  roles: { C1: 'keeps DC out', R1: 'discharges C1: with it the pole' },
  fits: (f) => f.poles.length === 1 && isHighpass(f),
  gains: () => ({ least: 1, most: 1 }),
  numerator: ['0', '1'],
  denominator: ['1/(R1*C1)', '1'],
  solve: ({ w0 }, size, { C1 = size, R1 = 1 / (w0 * C1) }) => ({ C1, R1 }),
  entrance: 'C1',
  figure: () => joined([15, 1], hung('R1', 0, 0), wired([0, 0], [7, 0]), follower(10)),
}
