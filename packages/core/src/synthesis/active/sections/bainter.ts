import { follower, hung, joined, lying, onwards, summing, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isDip } from '../zeros.js'

/** Gains this near to 1 need no capacitor to ground. */
const ALIKE = 1e-9

/** The input through C2 and, turned over and integrated, through R5 at one follower; its output back into the integrator. */
export const bainter: SectionKind = {
  id: 'bainter',
  name: 'Bainter notch',
  makes: 'notch',
  source:
    'J. R. Bainter, "Active filter has stable notch, and response can be regulated", Electronics 48, 1975, 115–117 (from memory)',
  amplifiers: 3,
  sign: 1,
  design: [
    'C_1 = C,\\quad C_2 = kC,\\quad C_3 = (1-k)\\,C',
    'R_5 = \\frac{Q}{\\omega_0 C},\\quad R_3 = R_4 = \\frac{1}{Q\\,\\omega_0 C}',
    '\\text{something left: } R_6 = \\frac{1}{n_1 C},\\quad \\frac{1}{R_5} = \\frac{\\omega_0 C}{Q} - \\frac{1}{R_6}',
    '\\frac{R_2}{R_1} = k\\,\\frac{\\omega_z^2}{\\omega_0^2}',
  ],
  roles: {
    R1: 'takes the input in to be turned over',
    R2: 'over R1 where the notch lies against the poles',
    R3: 'brings the input to the integrator',
    R4: 'brings the output to the integrator: with R5 the frequency',
    R5: 'brings both to the output: the Q',
    C1: 'sums up over time',
    C2: 'brings the input straight to the output',
    C3: 'divides it down',
    R6: 'leaves something at the bottom of the notch',
  },
  fits: (f) => f.poles.length === 2 && isDip(f),
  refuses: ({ w0, q, n: [, n1, n2] }) =>
    n1 < 0 || n1 >= ((n2 * w0) / q) * (1 - ALIKE)
      ? { problem: 'Its zeros are not those of a dip.', fix: 'Take two-integrator-loop, which makes any.' }
      : null,
  gains: () => ({ least: 0, most: 1 }),
  numerator: ['R2/(R1*R3*R5*C1*(C2+C3))', '1/(R6*(C2+C3))', 'C2/(C2+C3)'],
  denominator: ['1/(R4*R5*C1*(C2+C3))', '(1/R5+1/R6)/(C2+C3)', '1'],
  solve({ w0, q, n: [n0, n1, n2] }, size, chosen) {
    const { C1 = size, C2 = n2 * size } = chosen
    const C3 = n2 < 1 - ALIKE ? (chosen.C3 ?? C2 / n2 - C2) : undefined
    const all = C2 + (C3 ?? 0)
    const R6 = n1 > 0 ? (chosen.R6 ?? 1 / (n1 * all)) : undefined
    const {
      R5 = 1 / ((w0 * all) / q - 1 / (R6 ?? Infinity)),
      R4 = 1 / (w0 * w0 * R5 * C1 * all),
      R3 = R4,
      R1 = 1 / (w0 * size),
    } = chosen
    const { R2 = n0 * R1 * R3 * R5 * C1 * all } = chosen
    if (!(R5 > 0)) return null
    return { C1, C2, ...(C3 !== undefined && { C3 }), ...(R6 !== undefined && { R6 }), R5, R4, R3, R1, R2 }
  },
  entrance: null,
  figure: (has) =>
    joined(
      [65, 1],
      lying('R1', 0, 8, 0),
      summing(8, 'R2'),
      onwards('R3', 19),
      summing(27, 'C1'),
      onwards('R5', 38),
      wired([46, 0], [57, 0]),
      follower(60),
      has('C3') ? hung('C3', 50, 0) : {},
      wired([0, 0], [0, 9]),
      lying('C2', 0, 46, 9),
      wired([46, 9], [46, 0]),
      ...(has('R6') ? [wired([0, 9], [0, 13]), lying('R6', 0, 46, 13), wired([46, 13], [46, 9])] : []),
      { parts: { R4: [46, -8, 180] } },
      wired([65, 1], [65, -8], [48, -8]),
      wired([44, -8], [27, -8], [27, -4]),
    ),
}
