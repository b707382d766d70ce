import { follower, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isLowpass } from '../zeros.js'

/** Capacitors this little too near to each other, relative, are rounding. */
const ROUNDING = 1e-12

/** R1 and R2 to a follower's input, C1 from between them to its output, C2 from its input to ground. */
export const skLowpass: SectionKind = {
  id: 'sallen-key-lowpass',
  name: 'Sallen–Key low-pass, unity gain',
  makes: 'low-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: [
    'C_1 = 2Q\\,C,\\quad C_2 = \\frac{C}{2Q}',
    'R_1 = R_2 = \\frac{1}{\\omega_0 C}',
    'R_1,\\,R_2 = \\frac{1 \\pm \\sqrt{1 - 4Q^2 C_2/C_1}}{2Q\\,\\omega_0 C_2}',
  ],
  roles: {
    R1: 'drives the section',
    R2: 'with R1 the frequency',
    C1: 'feeds back near the edge: over C2 the Q',
    C2: 'shorts what is fast to ground',
  },
  fits: (f) => f.poles.length === 2 && isLowpass(f),
  gains: ({ w0 }) => ({ least: w0 * w0, most: w0 * w0 }),
  numerator: ['1/(R1*R2*C1*C2)'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/R1+1/R2)/C1', '1'],
  solve({ w0, q }, size, { C2 = size / (2 * q), C1 = 4 * q * q * C2, R1, R2 }) {
    const left = 1 - (4 * q * q * C2) / C1
    if (left < -ROUNDING) return null
    const root = left > ROUNDING ? Math.sqrt(left) : 0
    const half = 1 / (2 * q * w0 * C2)
    return { C2, C1, R1: R1 ?? half * (1 + root), R2: R2 ?? half * (1 - root) }
  },
  atLeast: ['C1'],
  entrance: 'R1',
  figure: () =>
    joined(
      [22, 1],
      lying('R2', 0, 8, 0),
      { parts: { C1: [10, -4] } },
      wired([0, 0], [0, -4], [8, -4]),
      wired([12, -4], [22, -4], [22, 1]),
      hung('C2', 8, 0),
      wired([8, 0], [14, 0]),
      follower(17),
    ),
}
