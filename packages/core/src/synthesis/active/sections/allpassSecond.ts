import { hung, joined, summing, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isMirrored } from '../zeros.js'

/** Input less twice a band-pass: the sum of both turns the phase alone. */
export const allpassSecond: SectionKind = {
  id: 'allpass-second',
  name: 'Second-order all-pass',
  makes: 'all-pass',
  source: 'common practice, no source: 1 − 2·H of a band-pass of height 1',
  amplifiers: 2,
  sign: -1,
  design: [
    'C_1 = C_2 = C',
    'R_3 = \\frac{2Q}{\\omega_0 C}',
    'R_1 = \\frac{Q}{\\omega_0 C}',
    '\\frac{1}{R_2} = 2Q\\,\\omega_0 C - \\frac{1}{R_1}',
    'R_5 = \\frac{R_4 Q}{2\\,\\omega_0 R_1 C}',
    'R_6 = k R_4',
  ],
  roles: {
    R1: 'takes the input in: the height of the band-pass',
    R2: 'with R1 the resonance',
    R3: 'the width of the band-pass',
    C1: 'the resonance',
    C2: 'the resonance',
    R4: 'the input’s part in the sum',
    R5: 'the band-pass’ part: twice the input where it resonates',
    R6: 'over R4 the gain',
  },
  fits: (f) => f.poles.length === 2 && isMirrored(f),
  gains: () => ({ least: 0, most: Infinity }),
  numerator: ['R6*(1/R1+1/R2)/(R4*R3*C1*C2)', 'R6/R4*(1/C1+1/C2)/R3-R6/(R5*R1*C1)', 'R6/R4'],
  denominator: ['(1/R1+1/R2)/(R3*C1*C2)', '(1/C1+1/C2)/R3', '1'],
  solve(
    { w0, q, gain },
    size,
    {
      C1 = size,
      C2 = C1,
      R3 = (q * (1 / C1 + 1 / C2)) / w0,
      R1 = Math.max(q / (w0 * C1), 1 / (w0 * w0 * R3 * C1 * C2)),
      R2 = w0 * w0 * R3 * C1 * C2 * R1 > 1 + 1e-9 ? 1 / (w0 * w0 * R3 * C1 * C2 - 1 / R1) : undefined,
      R4 = 1 / (w0 * size),
      R5 = (R4 * q) / (2 * w0 * R1 * C1),
      R6 = gain * R4,
    },
  ) {
    if (w0 * w0 * R3 * C1 * C2 * R1 < 1 - 1e-9) return null
    return { C1, C2, R3, R1, ...(R2 !== undefined && { R2 }), R4, R5, R6 }
  },
  atLeast: ['R1'],
  entrance: null,
  figure: (has) =>
    joined(
      [49, 1],
      { parts: { R1: [6, 0], C1: [16, -8], C2: [14, 0], R3: [24, -4], R5: [34, 0], R4: [34, 8] } },
      wired([0, 0], [4, 0]),
      wired([8, 0], [12, 0]),
      wired([10, 0], [10, -8], [14, -8]),
      wired([18, -8], [29, -8], [29, 1]),
      wired([16, 0], [18, 0]),
      has('R2') ? hung('R2', 10, 0) : {},
      // The band-pass' amplifier.
      {
        amplifiers: [[24, 1, 'over']],
        strokes: [
          [
            [18, 0],
            [21, 0],
          ],
          [
            [18, 0],
            [18, -4],
            [22, -4],
          ],
          [
            [26, -4],
            [29, -4],
          ],
          [
            [27, 1],
            [29, 1],
          ],
          [
            [21, 2],
            [20, 2],
            [20, 4],
          ],
        ],
        grounds: [[20, 4]],
      },
      wired([29, 1], [31, 1], [31, 0], [32, 0]),
      wired([36, 0], [38, 0]),
      wired([2, 0], [2, 12], [31, 12], [31, 8], [32, 8]),
      wired([36, 8], [38, 8], [38, 0]),
      summing(38, 'R6'),
    ),
}
