import { hung, joined, lying, over, summing } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isBandpass } from '../zeros.js'

/** Two capacitors and R3 around an amplifier that turns over; R1 and R2 divide the input down. */
export const mfbBandpass: SectionKind = {
  id: 'multiple-feedback-bandpass',
  name: 'Multiple-feedback band-pass',
  makes: 'band-pass',
  source: 'L. P. Huelsman, Theory and Design of Active RC Circuits, McGraw-Hill 1968 (from memory)',
  amplifiers: 1,
  sign: -1,
  design: [
    'C_1 = C_2 = C,\\quad R_3 = \\frac{2Q}{\\omega_0 C}',
    'R_1 = \\frac{Q}{k\\,\\omega_0 C}',
    '\\frac{1}{R_2} = \\omega_0^2 R_3 C^2 - \\frac{1}{R_1}',
  ],
  roles: {
    R1: 'takes the input in: the gain',
    R2: 'divides the input down: with R1 the frequency',
    R3: 'over R1 and R2 the Q',
    C1: 'feeds the output back',
    C2: 'lets through what changes',
  },
  fits: (f) => f.poles.length === 2 && isBandpass(f),
  gains: ({ w0, q }) => ({ least: 0, most: 2 * q * w0 }),
  numerator: ['0', '1/(R1*C1)'],
  denominator: ['(1/R1+1/R2)/(R3*C1*C2)', '(1/C1+1/C2)/R3', '1'],
  solve({ w0, q, n: [, n1] }, size, { C1 = size, C2 = C1, R3 = (q * (1 / C1 + 1 / C2)) / w0, R1 = 1 / (n1 * C1), R2 }) {
    const left = 1 - 1 / (w0 * w0 * R3 * C1 * C2 * R1)
    if (left < -1e-9) return null
    const values = { C1, C2, R3, R1 }
    // At the greatest gain nothing is divided down.
    return left < 1e-9 && R2 === undefined ? values : { ...values, R2: R2 ?? 1 / (w0 * w0 * R3 * C1 * C2 * left) }
  },
  entrance: 'R1',
  figure: (has) =>
    joined(
      [19, 1],
      has('R2') ? hung('R2', 0, 0) : {},
      lying('C2', 0, 8, 0),
      summing(8, 'R3'),
      over('C1', [0, 0], [19, -4], -8),
    ),
}
