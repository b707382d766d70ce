import { follower, hung, joined, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isLowpass } from '../zeros.js'

/** A resistor to a follower's input and a capacitor from there to ground. */
export const firstOrderLowpass: SectionKind = {
  id: 'first-order-lowpass',
  name: 'First order with a follower',
  makes: 'low-pass',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: 1,
  design: ['\\omega_0 = \\frac{1}{R_1 C_1}'],
  roles: { R1: 'charges C1: with it the pole', C1: 'shorts what is fast to ground' },
  fits: (f) => f.poles.length === 1 && isLowpass(f),
  gains: ({ w0 }) => ({ least: w0, most: w0 }),
  numerator: ['1/(R1*C1)'],
  denominator: ['1/(R1*C1)', '1'],
  solve: ({ w0 }, size, { C1 = size, R1 = 1 / (w0 * C1) }) => ({ C1, R1 }),
  entrance: 'R1',
  figure: () => joined([15, 1], hung('C1', 0, 0), wired([0, 0], [7, 0]), follower(10)),
}
