import { hung, joined, lying, over, summing } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isHighpass } from '../zeros.js'

/** C1, C2 and R2 around an amplifier that turns over, C3 back from its output, R1 to ground. */
export const mfbHighpass: SectionKind = {
  id: 'multiple-feedback-highpass',
  name: 'Multiple-feedback high-pass',
  makes: 'high-pass',
  source: 'L. P. Huelsman, Theory and Design of Active RC Circuits, McGraw-Hill 1968 (from memory)',
  amplifiers: 1,
  sign: -1,
  design: [
    'C_1 = C_2 = C,\\quad C_3 = \\frac{C}{k}',
    'R_2 = \\frac{Q\\,(C_1 + C_2 + C_3)}{\\omega_0 C_2 C_3}',
    'R_1 = \\frac{1}{\\omega_0^2 R_2 C_2 C_3}',
  ],
  roles: {
    C1: 'takes the input in: over C3 the gain',
    C2: 'lets through what changes',
    C3: 'feeds the output back',
    R1: 'draws what is slow to ground: the frequency',
    R2: 'the Q',
  },
  fits: (f) => f.poles.length === 2 && isHighpass(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['0', '0', 'C1/C3'],
  denominator: ['1/(R1*R2*C2*C3)', '(C1+C2+C3)/(R2*C2*C3)', '1'],
  solve: (
    { w0, q, gain },
    size,
    {
      C1 = size,
      C2 = C1,
      C3 = C1 / gain,
      R2 = (q * (C1 + C2 + C3)) / (w0 * C2 * C3),
      R1 = 1 / (w0 * w0 * R2 * C2 * C3),
    },
  ) => ({ C1, C2, C3, R2, R1 }),
  entrance: 'C1',
  figure: () =>
    joined([19, 1], hung('R1', 0, 0), lying('C2', 0, 8, 0), summing(8, 'R2'), over('C3', [0, 0], [19, -4], -8)),
}
