import { follower, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isBandpass } from '../zeros.js'

/** The most that it lets through where it resonates: nearer to 1 its resistors part beyond measure. */
const HIGHEST = 2 / 3
const LEAST_Q = Math.SQRT1_2 / 2

/** A low-pass and a high-pass in one another, with the output fed back to between them through R3. */
export const skBandpass: SectionKind = {
  id: 'sallen-key-bandpass',
  name: 'Sallen–Key band-pass, unity gain',
  makes: 'band-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: [
    'C_1 = C_2 = C',
    'R_1 = \\frac{Q}{k\\,\\omega_0 C}',
    'R_2 = \\frac{2Q}{(1-k)\\,\\omega_0 C}',
    '\\frac{1}{R_3} = \\omega_0^2 C^2 R_2 - \\frac{1}{R_1}',
  ],
  roles: {
    R1: 'takes the input in: the gain',
    R2: 'draws what is slow to ground: the width',
    R3: 'feeds back: the frequency',
    C1: 'shorts what is fast to ground',
    C2: 'keeps DC out',
  },
  fits: (f) => f.poles.length === 2 && isBandpass(f),
  refuses: ({ q }) =>
    q < LEAST_Q
      ? {
          problem: `A Q of ${q.toPrecision(3)} is below the ${LEAST_Q.toPrecision(3)} that a unity-gain band-pass begins at.`,
          fix: 'Take multiple-feedback, which has no such bound.',
        }
      : null,
  gains: ({ w0, q }) => ({ least: 0, most: (q < 1 ? 0.5 : HIGHEST) * (w0 / q) }),
  numerator: ['0', '1/(R1*C1)'],
  denominator: ['(1/R1+1/R3)/(R2*C1*C2)', '(1/R1+1/R2)/C1+1/(R2*C2)', '1'],
  solve(
    { w0, q, n: [, n1] },
    size,
    {
      C1 = size,
      C2 = C1,
      R1 = 1 / (n1 * C1),
      R2 = (1 / C1 + 1 / C2) / (w0 / q - 1 / (R1 * C1)),
      R3 = 1 / (w0 * w0 * R2 * C1 * C2 - 1 / R1),
    },
  ) {
    return R2 > 0 && R3 > 0 ? { C1, C2, R1, R2, R3 } : null
  },
  entrance: 'R1',
  figure: () =>
    joined(
      [29, 1],
      hung('C1', 0, 0),
      lying('C2', 0, 15, 0),
      { parts: { R3: [15, -4] } },
      wired([0, 0], [0, -4], [13, -4]),
      wired([17, -4], [29, -4], [29, 1]),
      hung('R2', 15, 0),
      wired([15, 0], [21, 0]),
      follower(24),
    ),
}
