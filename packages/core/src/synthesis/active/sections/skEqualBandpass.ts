import { amplified, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { gainOfQ } from '../equalParts.js'
import { isBandpass } from '../zeros.js'

/** Three equal resistors and two equal capacitors: the amplifier's gain makes the Q. */
export const skEqualBandpass: SectionKind = {
  id: 'sallen-key-equal-bandpass',
  name: 'Sallen–Key band-pass, equal parts',
  makes: 'band-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: [
    'C_1 = C_2 = C',
    'R_1 = R_2 = R_3 = \\frac{\\sqrt{2}}{\\omega_0 C}',
    'K = 1 + \\frac{R_5}{R_4} = 4 - \\frac{\\sqrt{2}}{Q}',
  ],
  roles: {
    R1: 'takes the input in',
    R2: 'draws what is slow to ground',
    R3: 'feeds back',
    C1: 'shorts what is fast to ground',
    C2: 'keeps DC out',
    R4: 'with R5 the amplifier’s gain',
    R5: 'over R4 the Q: a little more of it, and it rings',
  },
  fits: (f) => f.poles.length === 2 && isBandpass(f),
  refuses: gainOfQ.refuses(4, Math.SQRT2),
  gains: ({ w0, q }) => gainOfQ.only(4 - Math.SQRT2 / q, w0 / Math.SQRT2),
  numerator: ['0', '(1+R5/R4)/(R1*C1)'],
  denominator: ['(1/R1+1/R3)/(R2*C1*C2)', '(1/R1+1/R2)/C1+1/(R2*C2)-R5/(R4*R3*C1)', '1'],
  solve(
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R1 = Math.SQRT2 / (w0 * C1),
      R3 = R1,
      R2 = (1 / R1 + 1 / R3) / (w0 * w0 * C1 * C2),
      R4 = 1 / (w0 * size),
      R5 = R4 * R3 * C1 * ((1 / R1 + 1 / R2) / C1 + 1 / (R2 * C2) - w0 / q),
    },
  ) {
    return R5 > 0 ? { C1, C2, R1, R3, R2, R4, R5 } : null
  },
  entrance: 'R1',
  figure: () =>
    joined(
      [29, 1],
      hung('C1', 0, 0),
      lying('C2', 0, 14, 0),
      { parts: { R3: [15, -4] } },
      wired([0, 0], [0, -4], [13, -4]),
      wired([17, -4], [29, -4], [29, 1]),
      hung('R2', 14, 0),
      wired([14, 0], [21, 0]),
      amplified(24, 'R5', 'R4'),
    ),
}
