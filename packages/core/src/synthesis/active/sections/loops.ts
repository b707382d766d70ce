import { joined, lying, onwards, over, summing, wired } from '../figures.js'
import type { Biquad } from '../biquad.js'
import type { Figure } from '../Figure.js'
import type { Refusal, SectionKind } from '../SectionKind.js'
import type { Values } from '../../Sketch.js'
import { isBandpass, isHighpass, isLowpass } from '../zeros.js'
import type { Factor } from '../factors.js'

/*
 * A damped and an undamped integrator in a loop, with an amplifier that only turns over. The output is that of the damped one;
 * the input reaches it through R6 and C3, the other integrator through R7, the third amplifier through R8.
 */

type Piece = Partial<Figure>

interface Loop {
  readonly id: string
  readonly name: string
  readonly source: string
  /** What the third amplifier multiplies by: R5/R4, or its inverse where it stands inside the other integrator. */
  readonly turned: string
  readonly turnedOf: (v: { R4: number; R5: number }) => number
  /** How much of R8's current comes through: R5, or R4. */
  readonly third: 'R4' | 'R5'
  /** The second integrator and the third amplifier behind the first, at (x, 0), and the way back. */
  readonly ring: (x: number) => Piece
}

const ROLES = {
  C1: 'sums up over time, with R1 forgetting',
  R1: 'sets Q alone',
  R2: 'brings the output to the other integrator',
  C2: 'sums up over time',
  R3: 'closes the loop: with R2 the frequency',
  R4: 'turns over, with R5',
  R5: 'turns over, with R4',
  R6: 'the input’s part in the middle of the numerator',
  C3: 'the input’s part at high frequencies',
  R7: 'the input’s part at low frequencies',
  R8: 'takes away from the middle of the numerator',
}

const tow: Loop = {
  id: 'two-integrator-loop',
  name: 'Two-integrator loop',
  source: 'J. Tow, Proc. IEEE 56, 1968, 1137–1139; L. C. Thomas, "The biquad", IEEE Trans. CT-18, 1971, 350–361',
  turned: 'R5/R4',
  turnedOf: ({ R4, R5 }) => R5 / R4,
  third: 'R5',
  ring: (x) =>
    joined(
      [0, 0],
      onwards('R2', x + 11),
      summing(x + 19, 'C2'),
      onwards('R4', x + 30),
      summing(x + 38, 'R5'),
      over('R3', [x + 49, -4], [x, -8], -12),
    ),
}

const compensated: Loop = {
  id: 'akerberg-mossberg',
  name: 'Compensated biquad',
  source: 'D. Åkerberg, K. Mossberg, IEEE Trans. CAS-21, 1974, 75–78',
  turned: 'R4/R5',
  turnedOf: ({ R4, R5 }) => R4 / R5,
  third: 'R4',
  ring: (x) =>
    joined(
      [0, 0],
      onwards('R2', x + 11),
      wired([x + 19, 0], [x + 22, 0]),
      { amplifiers: [[x + 25, 1]], grounds: [[x + 21, 4]] },
      wired([x + 22, 2], [x + 21, 2], [x + 21, 4]),
      wired([x + 28, 1], [x + 30, 1]),
      onwards('R4', x + 30),
      summing(x + 38, 'R5'),
      over('C2', [x + 49, -4], [x + 19, 0], -8),
      over('R3', [x + 30, 1], [x, -8], -12),
    ),
}

const denominatorOf = ({ turned }: Loop) => [`${turned}/(R2*R3*C1*C2)`, '1/(R1*C1)', '1'] as const

/** Parts of the loop itself. */
function loopValues(loop: Loop, { w0, q }: Biquad, size: number, chosen: Values) {
  const { C1 = size, C2 = size, R4 = 1 / (w0 * size), R5 = R4, R3 = 1 / (w0 * Math.sqrt(C1 * C2)) } = chosen
  const { R2 = loop.turnedOf({ R4, R5 }) / (w0 * w0 * R3 * C1 * C2), R1 = q / (w0 * C1) } = chosen
  return { C1, C2, R4, R5, R3, R2, R1 }
}

const DESIGN = ['C_1 = C_2 = C,\\quad R_2 = R_3 = R_4 = R_5 = \\frac{1}{\\omega_0 C}', 'R_1 = \\frac{Q}{\\omega_0 C}']

const free = () => ({ least: 0, most: Infinity })

/** One input alone, which is then its entrance. */
function driven(
  loop: Loop,
  kind: string,
  own: {
    makes: string
    part: 'R6' | 'C3'
    design: string
    fits: (f: Factor) => boolean
    numerator: readonly string[]
    value: (h: Biquad, C1: number) => number
  },
): SectionKind {
  return {
    id: `${loop.id}-${kind}`,
    name: `${loop.name}, ${own.makes}`,
    makes: own.makes,
    source: loop.source,
    amplifiers: 3,
    sign: -1,
    design: [...DESIGN, own.design],
    roles: ROLES,
    fits: (f) => f.poles.length === 2 && own.fits(f),
    gains: free,
    numerator: own.numerator,
    denominator: denominatorOf(loop),
    solve(h, size, chosen) {
      const values = loopValues(loop, h, size, chosen)
      return { ...values, [own.part]: chosen[own.part] ?? own.value(h, values.C1) }
    },
    entrance: own.part,
    figure: () => joined([53, 9], summing(0, 'R1', 'C1'), loop.ring(0), wired([11, 1], [11, 9], [53, 9])),
  }
}

const bandpass = (loop: Loop): SectionKind =>
  driven(loop, 'bandpass', {
    makes: 'band-pass',
    part: 'R6',
    design: 'R_6 = \\frac{1}{n_1 C} = \\frac{R_1}{k}',
    fits: isBandpass,
    numerator: ['0', '1/(R6*C1)'],
    value: ({ n: [, n1] }, C1) => 1 / (n1 * C1),
  })

const highpass = (loop: Loop): SectionKind =>
  driven(loop, 'highpass', {
    makes: 'high-pass',
    part: 'C3',
    design: 'C_3 = k\\,C',
    fits: isHighpass,
    numerator: ['0', '0', 'C3/C1'],
    value: ({ gain }, C1) => gain * C1,
  })

/** The input into the undamped integrator, which then stands first. */
function lowpass(loop: Loop, figure: () => Figure): SectionKind {
  return {
    id: `${loop.id}-lowpass`,
    name: `${loop.name}, low-pass`,
    makes: 'low-pass',
    source: loop.source,
    amplifiers: 3,
    sign: -1,
    design: [...DESIGN, 'R_7 = \\frac{R_2}{k}'],
    roles: ROLES,
    fits: (f) => f.poles.length === 2 && isLowpass(f),
    gains: free,
    numerator: [`${loop.turned}/(R3*R7*C1*C2)`],
    denominator: denominatorOf(loop),
    solve(h, size, chosen) {
      const v = loopValues(loop, h, size, chosen)
      return { ...v, R7: chosen.R7 ?? loop.turnedOf(v) / (v.R3 * v.C1 * v.C2 * h.gain) }
    },
    entrance: 'R7',
    figure,
  }
}

const negative: Refusal = {
  problem: 'Its zeros lie on both sides of the origin.',
  fix: 'Give zeros of one sign.',
}

/** Every numerator: the input reaches all three amplifiers. */
function general(loop: Loop): SectionKind {
  return {
    id: loop.id,
    name: `${loop.name} with the input at each amplifier`,
    makes: 'second-order',
    source: `${loop.source}; P. E. Fleischer, J. Tow, Proc. IEEE 61, 1973, 662–663 (from memory)`,
    amplifiers: 3,
    sign: -1,
    design: [
      ...DESIGN,
      'C_3 = n_2 C,\\quad R_7 = \\frac{1}{n_0 R_3 C^2}',
      'n_1 > 0:\\quad R_6 = \\frac{1}{n_1 C};\\qquad n_1 < 0:\\quad R_8 = \\frac{R_5}{|n_1| R_3 C}',
    ],
    roles: ROLES,
    fits: (f) => f.poles.length === 2,
    refuses: ({ n: [n0] }) => (n0 < 0 ? negative : null),
    gains: free,
    numerator: [`${loop.turned}/(R3*R7*C1*C2)`, `1/(R6*C1)-${loop.third}/(R8*R3*C1)`, 'C3/C1'],
    denominator: denominatorOf(loop),
    solve(h, size, chosen) {
      const v = loopValues(loop, h, size, chosen)
      const [n0, n1, n2] = h.n
      const { C1, C2, R3 } = v
      return {
        ...v,
        ...(n2 > 0 && { C3: chosen.C3 ?? n2 * C1 }),
        ...(n1 > 0 && { R6: chosen.R6 ?? 1 / (n1 * C1) }),
        ...(n0 > 0 && { R7: chosen.R7 ?? loop.turnedOf(v) / (n0 * R3 * C1 * C2) }),
        ...(n1 < 0 && { R8: chosen.R8 ?? v[loop.third] / (-n1 * R3 * C1) }),
      }
    },
    entrance: null,
    figure(has) {
      const x = 12
      const direct: Piece[] = []
      if (has('C3')) direct.push({ parts: { C3: [6, 0] } }, wired([0, 0], [4, 0]), wired([8, 0], [x, 0]))
      if (has('R6') && has('C3'))
        direct.push({ parts: { R6: [6, 5] } }, wired([2, 0], [2, 5], [4, 5]), wired([8, 5], [10, 5], [10, 0]))
      if (has('R6') && !has('C3')) direct.push({ parts: { R6: [6, 0] } }, wired([0, 0], [4, 0]), wired([8, 0], [x, 0]))
      return joined(
        [x + 53, 9],
        ...direct,
        summing(x, 'R1', 'C1'),
        loop.ring(x),
        wired([x + 11, 1], [x + 11, 9], [x + 53, 9]),
        has('R7')
          ? {
              parts: { R7: [x + 8, 13] },
              strokes: [
                [
                  [0, 0],
                  [0, 13],
                  [x + 6, 13],
                ],
                [
                  [x + 10, 13],
                  [x + 19, 13],
                  [x + 19, 0],
                ],
              ],
            }
          : {},
        has('R8')
          ? {
              parts: { R8: [x + 8, 17] },
              strokes: [
                [has('R7') ? [0, 13] : [0, 0], [0, 17], [x + 6, 17]],
                [
                  [x + 10, 17],
                  [x + 38, 17],
                  [x + 38, 0],
                ],
              ],
            }
          : {},
      )
    },
  }
}

const towFirst = (): Figure =>
  joined(
    [49, 1],
    summing(0, 'C2'),
    onwards('R4', 11),
    summing(19, 'R5'),
    onwards('R3', 30),
    summing(38, 'R1', 'C1'),
    over('R2', [49, -8], [0, -4], -12),
  )

const compensatedFirst = (): Figure =>
  joined(
    [60, 1],
    wired([0, 0], [3, 0]),
    { amplifiers: [[6, 1]], grounds: [[2, 4]] },
    wired([3, 2], [2, 2], [2, 4]),
    wired([9, 1], [11, 1]),
    onwards('R4', 11),
    summing(19, 'R5'),
    over('C2', [30, -4], [0, 0], -8),
    wired([11, 1], [11, 9]),
    lying('R3', 11, 49, 9),
    wired([49, 9], [49, 0]),
    summing(49, 'R1', 'C1'),
    over('R2', [60, -8], [0, -8], -12),
  )

export const towLowpass = lowpass(tow, towFirst)
export const towBandpass = bandpass(tow)
export const towHighpass = highpass(tow)
export const towAny = general(tow)
export const compensatedLowpass = lowpass(compensated, compensatedFirst)
export const compensatedBandpass = bandpass(compensated)
export const compensatedHighpass = highpass(compensated)
export const compensatedAny = general(compensated)

/** The ring with the input at its damped integrator, and a fourth amplifier that adds input and outputs up. */
export const towFour: SectionKind = {
  id: 'two-integrator-loop-four',
  name: 'Two-integrator loop with a fourth amplifier',
  makes: 'second-order',
  source: tow.source,
  amplifiers: 4,
  sign: -1,
  design: [
    ...DESIGN,
    'R_6 = R_1,\\quad R_{12} = R_2,\\quad R_9 = \\frac{R_{12}}{n_2}',
    'R_{10} = \\frac{R_{12}\\,\\omega_0/Q}{n_2\\,\\omega_0/Q - n_1}',
    'n_0 > n_2\\omega_0^2:\\quad R_{11} = \\frac{R_{12}\\,\\omega_0^2/Q}{n_0 - n_2\\omega_0^2};\\qquad n_0 < n_2\\omega_0^2:\\quad R_{13} = \\frac{R_{12}\\,\\omega_0^2/Q}{n_2\\omega_0^2 - n_0}',
  ],
  roles: {
    ...ROLES,
    R6: 'takes the input in',
    R9: 'the input’s part in the sum',
    R10: 'the band-pass’ part in the sum',
    R11: 'what the low-pass adds',
    R13: 'what the low-pass takes away',
    R12: 'what the parts of the sum are measured by',
  },
  fits: (f) => f.poles.length === 2 && f.zeros.length === 2,
  refuses: ({ w0, q, n: [, n1, n2] }) =>
    n1 > ((n2 * w0) / q) * (1 + 1e-9)
      ? {
          problem: 'It raises its resonance, which the fourth amplifier can only take away.',
          fix: 'Take the variant three-amplifier.',
        }
      : null,
  gains: free,
  numerator: [
    'R5*R12/(R4*R9*R2*R3*C1*C2)+R12/(R11*R6*R2*C1*C2)-R5*R12/(R4*R13*R6*R2*C1*C2)',
    'R12/(R9*R1*C1)-R12/(R10*R6*C1)',
    'R12/R9',
  ],
  denominator: denominatorOf(tow),
  solve(h, size, chosen) {
    const v = loopValues(tow, h, size, chosen)
    const [n0, n1, n2] = h.n
    const { R6 = v.R1, R12 = 1 / (h.w0 * size), R9 = R12 / n2 } = chosen
    const less = R12 / (R9 * v.R1 * v.C1) - n1
    const more = n0 - (v.R5 * R12) / (v.R4 * R9 * v.R2 * v.R3 * v.C1 * v.C2)
    const isSame = Math.abs(more) < 1e-9 * n2 * h.w0 * h.w0
    const unit = R12 / (R6 * v.R2 * v.C1 * v.C2)
    return {
      ...v,
      R6,
      R12,
      R9,
      ...(less > 1e-12 * h.w0 * n2 && { R10: chosen.R10 ?? R12 / (less * R6 * v.C1) }),
      ...(!isSame && more > 0 && { R11: chosen.R11 ?? unit / more }),
      ...(!isSame && more < 0 && { R13: chosen.R13 ?? ((v.R5 / v.R4) * unit) / -more }),
    }
  },
  entrance: null,
  figure(has) {
    const x = 12
    return joined(
      [x + 71, 1],
      lying('R6', 0, x, 0),
      summing(x, 'R1', 'C1'),
      tow.ring(x),
      has('R13') ? onwards('R13', x + 49) : {},
      wired([x + 57, 0], [x + 60, 0]),
      has('R10')
        ? {
            parts: { R10: [x + 53, 9] },
            strokes: [
              [
                [x + 11, 1],
                [x + 11, 9],
                [x + 51, 9],
              ],
              [
                [x + 55, 9],
                [x + 57, 9],
              ],
            ],
          }
        : {},
      has('R11')
        ? {
            parts: { R11: [x + 53, 17] },
            strokes: [
              [
                [x + 30, 1],
                [x + 30, 17],
                [x + 51, 17],
              ],
              [
                [x + 55, 17],
                [x + 57, 17],
                [x + 57, 13],
              ],
            ],
          }
        : {},
      {
        parts: { R9: [x + 53, 13] },
        strokes: [
          [
            [0, 0],
            [0, 13],
            [x + 51, 13],
          ],
          [
            [x + 55, 13],
            [x + 57, 13],
            [x + 57, 0],
          ],
        ],
      },
      summing(x + 60, 'R12'),
    )
  },
}
