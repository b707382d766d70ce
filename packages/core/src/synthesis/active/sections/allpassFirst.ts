import { hung, joined, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isMirrored } from '../zeros.js'

/** The input twice: turned over through resistors, and through a low-pass at the other input. */
export const allpassFirst: SectionKind = {
  id: 'allpass-first',
  name: 'First-order all-pass',
  makes: 'all-pass',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: -1,
  design: ['H = \\frac{\\omega_0 - s}{\\omega_0 + s}', '\\omega_0 = \\frac{1}{R_1 C_1}', 'R_2 = R_3'],
  roles: {
    R1: 'with C1 the frequency of 90° lag',
    C1: 'holds the upper input back as it gets faster',
    R2: 'takes the input in to be turned over',
    R3: 'as large as R2: every frequency passes alike',
  },
  fits: (f) => f.poles.length === 1 && isMirrored(f),
  gains: () => ({ least: 1, most: 1 }),
  // What it gives is −(s − ω₀)/(s + ω₀).
  numerator: ['-1/(R1*C1)', 'R3/R2'],
  denominator: ['1/(R1*C1)', '1'],
  solve: ({ w0 }, size, { C1 = size, R1 = 1 / (w0 * C1), R2 = R1, R3 = R2 }) => ({ C1, R1, R2, R3 }),
  entrance: null,
  figure: () =>
    joined(
      [23, 1],
      { parts: { R1: [6, 0], R2: [6, -5], R3: [16, -5] }, amplifiers: [[18, -1, 'over']] },
      wired([0, 0], [4, 0]),
      wired([2, 0], [2, -5], [4, -5]),
      wired([8, 0], [15, 0]),
      wired([8, -5], [14, -5]),
      wired([12, -5], [12, -2], [15, -2]),
      wired([18, -5], [23, -5], [23, 1]),
      wired([21, -1], [23, -1]),
      hung('C1', 10, 0),
    ),
}
