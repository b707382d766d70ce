import { follower, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isHighpass } from '../zeros.js'

/** C1 and C2 to a follower's input, R1 from between them to its output, R2 from its input to ground. */
export const skHighpass: SectionKind = {
  id: 'sallen-key-highpass',
  name: 'Sallen–Key high-pass, unity gain',
  makes: 'high-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: ['C_1 = C_2 = C', 'R_1 = \\frac{1}{2Q\\,\\omega_0 C}', 'R_2 = \\frac{2Q}{\\omega_0 C}'],
  roles: {
    C1: 'keeps DC out',
    C2: 'with C1 the frequency',
    R1: 'feeds back near the edge: R2 over it the Q',
    R2: 'draws what is slow to ground',
  },
  fits: (f) => f.poles.length === 2 && isHighpass(f),
  gains: () => ({ least: 1, most: 1 }),
  numerator: ['0', '0', '1'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/C1+1/C2)/R2', '1'],
  solve: (
    { w0, q },
    size,
    { C1 = size, C2 = C1, R2 = (q * (1 / C1 + 1 / C2)) / w0, R1 = 1 / (w0 * w0 * R2 * C1 * C2) },
  ) => ({ C1, C2, R2, R1 }),
  entrance: 'C1',
  figure: () =>
    joined(
      [22, 1],
      lying('C2', 0, 8, 0),
      { parts: { R1: [10, -4] } },
      wired([0, 0], [0, -4], [8, -4]),
      wired([12, -4], [22, -4], [22, 1]),
      hung('R2', 8, 0),
      wired([8, 0], [14, 0]),
      follower(17),
    ),
}
