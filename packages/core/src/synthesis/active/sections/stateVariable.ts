import { hung, inverter, joined, onwards, summing, wired } from '../figures.js'
import type { Biquad } from '../biquad.js'
import type { Figure } from '../Figure.js'
import type { SectionKind } from '../SectionKind.js'
import type { Values } from '../../Sketch.js'
import { isBandpass, isHighpass, isLowpass } from '../zeros.js'
import type { Factor } from '../factors.js'

/*
 * A summing amplifier gives the high-pass, an integrator the band-pass, another one the low-pass; both go back. A fourth
 * amplifier adds them up to any numerator.
 */

const SOURCE = 'W. J. Kerwin, L. P. Huelsman, R. W. Newcomb, IEEE J. Solid-State Circuits SC-2, 1967, 87–92'
const ALL = '(1/R1+1/R2+1/R3)'
const HELD = 'R5/(R4+R5)'
const DENOMINATOR = ['R3/(R2*R6*R7*C1*C2)', `R3*${HELD}*${ALL}/(R6*C1)`, '1'] as const

const DESIGN = [
  'C_1 = C_2 = C,\\quad R_2 = R_3 = R_6 = R_7 = \\frac{1}{\\omega_0 C}',
  'R_1 = \\frac{R_3}{k}',
  '\\frac{R_5}{R_4 + R_5} = \\frac{1}{Q\\,(2 + k)}',
]

const ROLES = {
  R1: 'takes the input in: R3 over it is the gain',
  R2: 'brings the low-pass back',
  R3: 'brings the high-pass back',
  R4: 'with R5 how much of the band-pass goes back: the Q',
  R5: 'with R4 how much of the band-pass goes back: the Q',
  R6: 'first integrator: with C1 the frequency',
  C1: 'first integrator',
  R7: 'second integrator: with C2 the frequency',
  C2: 'second integrator',
}

/** The most of the band-pass that goes back, over what a Q needs, above which both integrators are equal. */
const EQUAL = 1.02

/**
 * @param k what the summing amplifier takes the input in by, were both integrators equal
 * @param measured at the band-pass, which is the greater the faster the first integrator is
 */
function loopValues({ w0, q }: Biquad, size: number, chosen: Values, k: number, measured = false) {
  // A Q below what goes back at the most is had from unequal integrators.
  const slower = q * (2 + k) > EQUAL ? 1 : q
  const { C1 = size, C2 = C1, R3 = 1 / (w0 * size), R2 = R3, R6 = slower / (w0 * size) } = chosen
  const { R1 = R3 / (measured ? k * w0 * R6 * C1 : k), R7 = R3 / (R2 * w0 * w0 * R6 * C1 * C2) } = chosen
  const back = (w0 * R6 * C1) / (q * R3 * (1 / R1 + 1 / R2 + 1 / R3))
  const { R5 = 1 / (w0 * size), R4 = R5 * (1 / back - 1) } = chosen
  return R4 > 0 ? { C1, C2, R3, R2, R6, R1, R7, R5, R4 } : null
}

const loop = joined(
  [49, 1],
  inverter(0, 'R3'),
  onwards('R6', 11),
  summing(19, 'C1'),
  onwards('R7', 30),
  summing(38, 'C2'),
  { parts: { R2: [24, -8, 180], R4: [16, 8, 180] } },
  wired([49, -4], [49, -8], [26, -8]),
  wired([22, -8], [0, -8], [0, -4]),
  wired([30, 1], [30, 8], [18, 8]),
  wired([14, 8], [2, 8], [2, 2], [3, 2]),
  hung('R5', 2, 8),
)

function single(
  kind: string,
  own: {
    makes: string
    sign: 1 | -1
    fits: (f: Factor) => boolean
    numerator: readonly string[]
    /** The gain of the summing amplifier for the section's. */
    taken: (h: Biquad) => number
    figure: () => Figure
  },
): SectionKind {
  return {
    id: `state-variable-${kind}`,
    name: `State variable, ${own.makes}`,
    makes: own.makes,
    source: SOURCE,
    amplifiers: 3,
    sign: own.sign,
    design: DESIGN,
    roles: ROLES,
    fits: (f) => f.poles.length === 2 && own.fits(f),
    gains: () => ({ least: 0, most: Infinity }),
    numerator: own.numerator,
    denominator: DENOMINATOR,
    solve: (h, size, chosen) => loopValues(h, size, chosen, own.taken(h), kind === 'bandpass'),
    entrance: 'R1',
    figure: own.figure,
  }
}

export const stateVariableLowpass = single('lowpass', {
  makes: 'low-pass',
  sign: -1,
  fits: isLowpass,
  numerator: ['R3/(R1*R6*R7*C1*C2)'],
  taken: ({ w0, gain }) => gain / (w0 * w0),
  figure: () => joined([49, 1], loop),
})

export const stateVariableHighpass = single('highpass', {
  makes: 'high-pass',
  sign: -1,
  fits: isHighpass,
  numerator: ['0', '0', 'R3/R1'],
  taken: ({ gain }) => gain,
  figure: () => joined([53, 17], loop, wired([11, 1], [11, 17], [53, 17])),
})

export const stateVariableBandpass = single('bandpass', {
  makes: 'band-pass',
  sign: 1,
  fits: isBandpass,
  numerator: ['0', 'R3/(R1*R6*C1)'],
  taken: ({ w0, gain }) => gain / w0,
  figure: () => joined([53, 12], loop, wired([30, 8], [30, 12], [53, 12])),
})

/** Any numerator: high-pass, band-pass and low-pass added up by a fourth amplifier. */
export const stateVariableAny: SectionKind = {
  id: 'state-variable',
  name: 'State variable with a fourth amplifier',
  makes: 'second-order',
  source: SOURCE,
  amplifiers: 4,
  sign: 1,
  design: [
    ...DESIGN,
    'k = 1,\\quad R_{10} = R_3,\\quad R_8 = \\frac{k R_{10}}{n_2},\\quad R_9 = \\frac{k\\,\\omega_0^2 R_{10}}{n_0}',
    'n_1 < 0:\\quad R_{13} = \\frac{R_{10}\\,\\omega_0}{|n_1|};\\qquad n_1 > 0:\\quad \\frac{R_{12}}{R_{11} + R_{12}} = \\frac{n_1/\\omega_0}{1 + n_2 + n_0/\\omega_0^2}',
  ],
  roles: {
    ...ROLES,
    R8: 'the high-pass’ part in the sum',
    R9: 'the low-pass’ part in the sum',
    R10: 'what the parts of the sum are measured by',
    R11: 'the band-pass’ part in the sum',
    R13: 'the band-pass’ part that is taken away',
    R12: 'with R11 the band-pass’ part in the sum',
  },
  fits: (f) => f.poles.length === 2,
  refuses: ({ n: [n0] }) =>
    n0 < 0 ? { problem: 'Its zeros lie on both sides of the origin.', fix: 'Give zeros of one sign.' } : null,
  gains: () => ({ least: 0, most: Infinity }),
  numerator: [
    'R3*R10/(R1*R9*R6*R7*C1*C2)',
    'R3/(R1*R6*C1)*((1+R10/R8+R10/R9)*(1/R11)/(1/R11+1/R12)-R10/R13)',
    'R3*R10/(R1*R8)',
  ],
  denominator: DENOMINATOR,
  solve(h, size, chosen) {
    const { w0, n } = h
    const [n0, n1, n2] = n
    // A raised resonance asks for more of the band-pass than the fourth amplifier adds up at a gain of 1.
    const raised = n1 / w0
    const v = loopValues(h, size, chosen, raised < 0.8 * (1 + n2 + n0 / (w0 * w0)) ? 1 : 2 * raised)
    if (!v) return null
    const k = v.R3 / v.R1
    const { R10 = 1 / (w0 * size) } = chosen
    const R8 = n2 > 0 ? (chosen.R8 ?? (k * R10) / n2) : undefined
    const R9 = n0 > 0 ? (chosen.R9 ?? (k * R10) / (n0 * v.R6 * v.R7 * v.C1 * v.C2)) : undefined
    const middle = (n1 * v.R6 * v.C1) / k
    const R13 = n1 < 0 ? (chosen.R13 ?? -R10 / middle) : undefined
    const held = middle / (1 + R10 / (R8 ?? Infinity) + R10 / (R9 ?? Infinity))
    const R12 = n1 > 0 ? (chosen.R12 ?? 1 / (w0 * size)) : undefined
    const R11 = R12 !== undefined ? (chosen.R11 ?? R12 * (1 / held - 1)) : undefined
    if (R11 !== undefined && R11 <= 0) return null
    return Object.fromEntries(
      Object.entries({ ...v, R10, R8, R9, R12, R11, R13 }).flatMap(([id, x]) => (x === undefined ? [] : [[id, x]])),
    )
  },
  entrance: 'R1',
  figure: (has) =>
    joined(
      [70, 1],
      loop,
      has('R9') ? onwards('R9', 49) : {},
      wired([57, 0], [59, 0]),
      inverter(59, 'R10'),
      has('R8')
        ? {
            parts: { R8: [53, 17] },
            strokes: [
              [
                [11, 1],
                [11, 17],
                [51, 17],
              ],
              [
                [55, 17],
                [57, 17],
                [57, 0],
              ],
            ],
          }
        : {},
      has('R13')
        ? {
            parts: { R13: [53, 13] },
            strokes: [
              [
                [30, 8],
                [30, 13],
                [51, 13],
              ],
              [
                [55, 13],
                [57, 13],
              ],
            ],
          }
        : {},
      has('R11')
        ? {
            parts: { R11: [53, 21] },
            strokes: [
              [
                [30, 8],
                [30, 21],
                [51, 21],
              ],
              [
                [55, 21],
                [61, 21],
                [61, 2],
                [62, 2],
              ],
            ],
          }
        : { ...wired([62, 2], [61, 2], [61, 4]), grounds: [[61, 4]] },
      has('R12') ? hung('R12', 61, 21) : {},
    ),
}
