import { amplified, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { gainOfQ } from '../equalParts.js'
import { isLowpass } from '../zeros.js'

/** The unity-gain section with equal resistors and capacitors: the amplifier's gain makes the Q. */
export const skEqualLowpass: SectionKind = {
  id: 'sallen-key-equal-lowpass',
  name: 'Sallen–Key low-pass, equal parts',
  makes: 'low-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: ['C_1 = C_2 = C', 'R_1 = R_2 = \\frac{1}{\\omega_0 C}', 'K = 1 + \\frac{R_4}{R_3} = 3 - \\frac{1}{Q}'],
  roles: {
    R1: 'drives the section',
    R2: 'with R1 the frequency',
    C1: 'feeds back near the edge',
    C2: 'shorts what is fast to ground',
    R3: 'with R4 the amplifier’s gain',
    R4: 'over R3 the Q: a little more of it, and it rings',
  },
  fits: (f) => f.poles.length === 2 && isLowpass(f),
  refuses: gainOfQ.refuses(3, 1),
  gains: ({ w0, q }) => gainOfQ.only(3 - 1 / q, w0 * w0),
  numerator: ['(1+R4/R3)/(R1*R2*C1*C2)'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/R1+1/R2)/C1-R4/(R3*R2*C2)', '1'],
  solve(
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R1 = 1 / (w0 * Math.sqrt(C1 * C2)),
      R2 = 1 / (w0 * w0 * R1 * C1 * C2),
      R3 = 1 / (w0 * size),
      R4 = R3 * R2 * C2 * ((1 / R1 + 1 / R2) / C1 - w0 / q),
    },
  ) {
    return R4 > 0 ? { C1, C2, R1, R2, R3, R4 } : null
  },
  entrance: 'R1',
  figure: () =>
    joined(
      [22, 1],
      lying('R2', 0, 7, 0),
      { parts: { C1: [10, -4] } },
      wired([0, 0], [0, -4], [8, -4]),
      wired([12, -4], [22, -4], [22, 1]),
      hung('C2', 7, 0),
      wired([7, 0], [14, 0]),
      amplified(17, 'R4', 'R3'),
    ),
}
