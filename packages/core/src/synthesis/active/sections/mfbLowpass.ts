import { hung, joined, lying, over, summing } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isLowpass } from '../zeros.js'

/** Capacitors this little too near to each other, relative, are rounding. */
const ROUNDING = 1e-12

/** R1, R2 and C2 around an amplifier that turns over, R3 back from its output, C1 to ground. */
export const mfbLowpass: SectionKind = {
  id: 'multiple-feedback-lowpass',
  name: 'Multiple-feedback low-pass',
  makes: 'low-pass',
  source: 'L. P. Huelsman, Theory and Design of Active RC Circuits, McGraw-Hill 1968 (from memory)',
  amplifiers: 1,
  sign: -1,
  design: [
    'C_1 = 2Q\\sqrt{1+k}\\,C,\\quad C_2 = \\frac{C}{2Q\\sqrt{1+k}}',
    'R_2 = \\frac{1 + \\sqrt{1 - 4Q^2(1+k)\\,C_2/C_1}}{2Q(1+k)\\,\\omega_0 C_2}',
    'R_3 = \\frac{1}{\\omega_0^2 R_2 C_1 C_2},\\quad R_1 = \\frac{R_3}{k}',
  ],
  roles: {
    R1: 'takes the input in: R3 over it is the gain at DC',
    R2: 'with C2 the inner integrator',
    R3: 'feeds the output back',
    C1: 'shorts what is fast to ground: over C2 the Q',
    C2: 'sums up over time',
  },
  fits: (f) => f.poles.length === 2 && isLowpass(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['1/(R1*R2*C1*C2)'],
  denominator: ['1/(R2*R3*C1*C2)', '(1/R1+1/R2+1/R3)/C1', '1'],
  solve(
    { w0, q, gain },
    size,
    { C2 = size / (2 * q * Math.sqrt(1 + gain / (w0 * w0))), C1 = 4 * q * q * (1 + gain / (w0 * w0)) * C2, R2, R3, R1 },
  ) {
    const k = gain / (w0 * w0)
    const left = 1 - (4 * q * q * (1 + k) * C2) / C1
    if (left < -ROUNDING) return null
    const root = left > ROUNDING ? Math.sqrt(left) : 0
    const r2 = R2 ?? (1 + root) / (2 * q * (1 + k) * w0 * C2)
    const r3 = R3 ?? 1 / (w0 * w0 * r2 * C1 * C2)
    return { C2, C1, R2: r2, R3: r3, R1: R1 ?? r3 / k }
  },
  atLeast: ['C1'],
  entrance: 'R1',
  figure: () =>
    joined([19, 1], hung('C1', 0, 0), lying('R2', 0, 8, 0), summing(8, 'C2'), over('R3', [0, 0], [19, -4], -8)),
}
