import { hung, inverter, joined, lying, over, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isBandpass } from '../zeros.js'

/** Q of the network before it is raised: between wide resistors and a narrow difference (common practice, no source). */
const OWN_Q = 1.5

/** The multiple-feedback band-pass with part of its output at the other input, which raises its Q. */
export const deliyannis: SectionKind = {
  id: 'deliyannis',
  name: 'Band-pass with positive feedback',
  makes: 'band-pass',
  source:
    'T. Deliyannis, "High-Q factor circuit with reduced sensitivity", Electronics Letters 4, 1968, 577–579 (from memory)',
  amplifiers: 1,
  sign: -1,
  design: [
    'C_1 = C_2 = C,\\quad Q_0 = 1.5',
    'R_3 = \\frac{2Q_0}{\\omega_0 C},\\quad \\frac{1}{R_1} + \\frac{1}{R_2} = 2Q_0\\,\\omega_0 C',
    '\\frac{R_5}{R_4} = \\frac{1}{2Q_0}\\left(\\frac{1}{Q_0} - \\frac{1}{Q}\\right)',
    'R_1 = \\frac{Q\\,(1 + R_5/R_4)}{k\\,\\omega_0 C}',
  ],
  roles: {
    R1: 'takes the input in: the gain',
    R2: 'with R1 the frequency',
    R3: 'with R1 and R2 the Q before it is raised',
    R4: 'brings part of the output to the other input',
    R5: 'over R4 what raises the Q',
    C1: 'feeds the output back',
    C2: 'lets through what changes',
  },
  fits: (f) => f.poles.length === 2 && isBandpass(f),
  refuses: ({ q }) =>
    q > OWN_Q
      ? null
      : {
          problem: `A Q of ${q.toPrecision(3)} needs no positive feedback, which begins above ${OWN_Q}.`,
          fix: 'Take multiple-feedback.',
        },
  gains: ({ w0, q }) => ({ least: 0, most: 2 * OWN_Q * w0 * (1 + (1 / OWN_Q - 1 / q) / (2 * OWN_Q)) }),
  numerator: ['0', '(1+R5/R4)/(R1*C1)'],
  denominator: ['(1/R1+1/R2)/(R3*C1*C2)', '(1/C1+1/C2)/R3-R5/R4*(1/R1+1/R2)/C1', '1'],
  solve(
    { w0, q, n: [, n1] },
    size,
    { C1 = size, C2 = C1, R3 = (OWN_Q * (1 / C1 + 1 / C2)) / w0, R4 = 1 / (w0 * size), R5, R1, R2 },
  ) {
    const conductance = w0 * w0 * R3 * C1 * C2
    const r5 = R5 ?? (((1 / C1 + 1 / C2) / R3 - w0 / q) * R4 * C1) / conductance
    if (!(r5 > 0)) return null
    const r1 = R1 ?? (1 + r5 / R4) / (n1 * C1)
    const left = conductance - 1 / r1
    if (left < -1e-9 * conductance) return null
    const values = { C1, C2, R3, R4, R5: r5, R1: r1 }
    return left < 1e-9 * conductance && R2 === undefined ? values : { ...values, R2: R2 ?? 1 / left }
  },
  entrance: 'R1',
  figure: (has) =>
    joined(
      [21, 1],
      has('R2') ? hung('R2', 0, 0) : {},
      lying('C2', 0, 8, 0),
      wired([8, 0], [10, 0]),
      inverter(10, 'R3'),
      over('C1', [0, 0], [21, -4], -8),
      wired([13, 2], [9, 2], [9, 7]),
      hung('R5', 9, 7),
      lying('R4', 9, 19, 7),
      wired([19, 7], [21, 7], [21, 1]),
    ),
}
