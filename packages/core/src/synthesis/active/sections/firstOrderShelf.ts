import { joined, summing, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isReal } from '../zeros.js'

/** A resistor and a capacitor side by side into an amplifier, and back over it: a pole and a zero, both real. */
export const firstOrderShelf: SectionKind = {
  id: 'first-order-shelf',
  name: 'First order with pole and zero',
  makes: 'shelf',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: -1,
  design: ['\\omega_0 = \\frac{1}{R_2 C_2}', '\\omega_z = \\frac{1}{R_1 C_1}', 'H_0 = \\frac{R_2}{R_1}'],
  roles: {
    R1: 'with C1 the zero',
    C1: 'lets more in as it gets faster',
    R2: 'with C2 the pole; over R1 the gain at DC',
    C2: 'takes gain away as it gets faster',
  },
  fits: (f) => f.poles.length === 1 && isReal(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['1/(R1*C2)', 'C1/C2'],
  denominator: ['1/(R2*C2)', '1'],
  solve: ({ w0, n: [n0, n1] }, size, { C2 = size, C1 = n1 * C2, R2 = 1 / (w0 * C2), R1 = 1 / (n0 * C2) }) => ({
    C2,
    C1,
    R2,
    R1,
  }),
  entrance: null,
  figure: () =>
    joined(
      [23, 1],
      { parts: { R1: [6, 0], C1: [6, -4] } },
      wired([0, 0], [4, 0]),
      wired([8, 0], [12, 0]),
      wired([2, 0], [2, -4], [4, -4]),
      wired([8, -4], [10, -4], [10, 0]),
      summing(12, 'R2', 'C2'),
    ),
}
