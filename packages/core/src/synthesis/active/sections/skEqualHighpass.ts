import { amplified, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { gainOfQ } from '../equalParts.js'
import { isHighpass } from '../zeros.js'

/** The unity-gain section with equal resistors and capacitors: the amplifier's gain makes the Q. */
export const skEqualHighpass: SectionKind = {
  id: 'sallen-key-equal-highpass',
  name: 'Sallen–Key high-pass, equal parts',
  makes: 'high-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: ['C_1 = C_2 = C', 'R_1 = R_2 = \\frac{1}{\\omega_0 C}', 'K = 1 + \\frac{R_4}{R_3} = 3 - \\frac{1}{Q}'],
  roles: {
    C1: 'keeps DC out',
    C2: 'with C1 the frequency',
    R1: 'feeds back near the edge',
    R2: 'draws what is slow to ground',
    R3: 'with R4 the amplifier’s gain',
    R4: 'over R3 the Q: a little more of it, and it rings',
  },
  fits: (f) => f.poles.length === 2 && isHighpass(f),
  refuses: gainOfQ.refuses(3, 1),
  gains: ({ q }) => gainOfQ.only(3 - 1 / q, 1),
  numerator: ['0', '0', '1+R4/R3'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/C1+1/C2)/R2-R4/(R3*R1*C1)', '1'],
  solve(
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R1 = 1 / (w0 * Math.sqrt(C1 * C2)),
      R2 = 1 / (w0 * w0 * R1 * C1 * C2),
      R3 = 1 / (w0 * size),
      R4 = R3 * R1 * C1 * ((1 / C1 + 1 / C2) / R2 - w0 / q),
    },
  ) {
    return R4 > 0 ? { C1, C2, R1, R2, R3, R4 } : null
  },
  entrance: 'C1',
  figure: () =>
    joined(
      [22, 1],
      lying('C2', 0, 7, 0),
      { parts: { R1: [10, -4] } },
      wired([0, 0], [0, -4], [8, -4]),
      wired([12, -4], [22, -4], [22, 1]),
      hung('R2', 7, 0),
      wired([7, 0], [14, 0]),
      amplified(17, 'R4', 'R3'),
    ),
}
