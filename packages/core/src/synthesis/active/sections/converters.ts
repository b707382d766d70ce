import { hung, joined, lying, wired } from '../figures.js'
import type { Figure } from '../Figure.js'
import type { SectionKind } from '../SectionKind.js'
import { isBandpass, isHighpass, isLowpass } from '../zeros.js'

/*
 * Two amplifiers hold three nets of a row of five parts at one voltage: seen from its first net the last part appears
 * multiplied by Z1·Z3/(Z2·Z4). The output is the second amplifier's, (1 + R4/R5) times as large as that voltage.
 */

type Piece = Partial<Figure>

/** The row from (x, 0), with what hangs at its end; the second amplifier's output is at (x + 26, −6). */
export const converter = (x: number, [first, second, third, fourth, last]: readonly string[], beside?: string): Piece =>
  joined(
    [x + 26, -6],
    lying(first, x, x + 8, 0),
    lying(second, x + 8, x + 16, 0),
    lying(third, x + 16, x + 26, 0),
    lying(fourth, x + 26, x + 34, 0),
    wired([x + 34, 0], [x + 37, 0]),
    hung(last, x + 37, 0),
    {
      amplifiers: [
        [x + 22, -7],
        [x + 13, 9, 'back'],
      ],
    },
    wired([x, 0], [x, -8], [x + 19, -8]),
    wired([x + 16, 0], [x + 16, -6], [x + 19, -6]),
    wired([x + 25, -7], [x + 26, -7], [x + 26, 0]),
    wired([x + 10, 9], [x + 8, 9], [x + 8, 0]),
    wired([x + 16, 0], [x + 16, 8]),
    wired([x + 16, 10], [x + 34, 10], [x + 34, 0]),
    beside
      ? {
          parts: { [beside]: [x + 21, 4] },
          strokes: [
            [
              [x + 16, 4],
              [x + 19, 4],
            ],
            [
              [x + 23, 4],
              [x + 26, 4],
              [x + 26, 0],
            ],
          ],
        }
      : {},
  )

/** From the second amplifier to where the next section begins. */
const leaving = (x: number): Piece => wired([x + 26, -7], [x + 45, -7])

const FLIEGE =
  'N. Fliege, "A new class of second-order RC-active filters with two operational amplifiers", NTZ 26, 1973, 279–282 (from memory)'
const ANTONIOU =
  'A. Antoniou, "Realisation of gyrators using operational amplifiers, and their use in RC-active-network synthesis", Proc. IEE 116, 1969, 1838–1850'

const rest = {
  R4: 'with R5 the gain, 1 + R4/R5',
  R5: 'with R4 the gain, 1 + R4/R5',
}

export const fliegeLowpass: SectionKind = {
  id: 'fliege-lowpass',
  name: 'Fliege low-pass',
  makes: 'low-pass',
  source: FLIEGE,
  amplifiers: 2,
  sign: 1,
  design: [
    'C_1 = C_2 = C,\\quad R_1 = R_2 = \\frac{1}{\\omega_0 C},\\quad R_4 = R_5',
    'R_3 = \\frac{Q}{\\omega_0 C}',
    'H_0 = 1 + \\frac{R_4}{R_5}',
  ],
  roles: {
    R1: 'drives the section',
    R2: 'with R1 the frequency',
    R3: 'sets Q alone',
    C1: 'first integrator',
    C2: 'second integrator',
    ...rest,
  },
  fits: (f) => f.poles.length === 2 && isLowpass(f),
  gains: ({ w0 }) => ({ least: 2 * w0 * w0, most: 2 * w0 * w0 }),
  numerator: ['(1+R5/R4)/(R1*R2*C1*C2)'],
  denominator: ['R5/(R4*R1*R2*C1*C2)', '1/(R3*C2)', '1'],
  solve: (
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R4 = 1 / (w0 * size),
      R5 = R4,
      R1 = 1 / (w0 * Math.sqrt(C1 * C2)),
      R2 = R5 / (R4 * w0 * w0 * R1 * C1 * C2),
      R3 = q / (w0 * C2),
    },
  ) => ({ C1, C2, R4, R5, R1, R2, R3 }),
  entrance: 'R1',
  figure: () => joined([45, -7], converter(0, ['C1', 'R2', 'C2', 'R4', 'R5'], 'R3'), leaving(0)),
}

export const converterHighpass: SectionKind = {
  id: 'fliege-highpass',
  name: 'Fliege high-pass',
  makes: 'high-pass',
  source: FLIEGE,
  amplifiers: 2,
  sign: 1,
  design: [
    'C_1 = C_2 = C,\\quad R_2 = R_3 = \\frac{1}{\\omega_0 C},\\quad R_4 = R_5',
    'R_1 = \\frac{Q}{\\omega_0 C}',
    'H_\\infty = 1 + \\frac{R_4}{R_5}',
  ],
  roles: {
    C1: 'drives the section',
    C2: 'makes R5 look like a coil',
    R1: 'sets Q alone',
    R2: 'with R3 the frequency',
    R3: 'with R2 the frequency',
    ...rest,
  },
  fits: (f) => f.poles.length === 2 && isHighpass(f),
  gains: () => ({ least: 2, most: 2 }),
  numerator: ['0', '0', '1+R4/R5'],
  denominator: ['R4/(R5*R2*R3*C1*C2)', '1/(R1*C1)', '1'],
  solve: (
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R4 = 1 / (w0 * size),
      R5 = R4,
      R2 = 1 / (w0 * Math.sqrt(C1 * C2)),
      R3 = R4 / (R5 * w0 * w0 * R2 * C1 * C2),
      R1 = q / (w0 * C1),
    },
  ) => ({ C1, C2, R4, R5, R2, R3, R1 }),
  entrance: 'C1',
  figure: () => joined([45, -7], hung('R1', 0, 0), converter(0, ['R2', 'C2', 'R3', 'R4', 'R5']), leaving(0)),
}

export const converterBandpass: SectionKind = {
  id: 'fliege-bandpass',
  name: 'Fliege band-pass',
  makes: 'band-pass',
  source: FLIEGE,
  amplifiers: 2,
  sign: 1,
  design: [
    'C_1 = C_2 = C,\\quad R_2 = R_3 = \\frac{1}{\\omega_0 C},\\quad R_4 = R_5',
    'R_1 = \\frac{Q}{\\omega_0 C}',
    'H_r = 1 + \\frac{R_4}{R_5}',
  ],
  roles: {
    R1: 'drives the section, and sets Q alone',
    C1: 'resonates',
    C2: 'makes R5 look like a coil',
    R2: 'with R3 the frequency',
    R3: 'with R2 the frequency',
    ...rest,
  },
  fits: (f) => f.poles.length === 2 && isBandpass(f),
  gains: ({ w0, q }) => ({ least: (2 * w0) / q, most: (2 * w0) / q }),
  numerator: ['0', '(1+R4/R5)/(R1*C1)'],
  denominator: ['R4/(R5*R2*R3*C1*C2)', '1/(R1*C1)', '1'],
  solve: converterHighpass.solve,
  entrance: 'R1',
  figure: () => joined([45, -7], hung('C1', 0, 0), converter(0, ['R2', 'C2', 'R3', 'R4', 'R5']), leaving(0)),
}

/** Parts of what is split between the input and ground that are all or nothing. */
const ALL = 1e-9

/** What a part splits into, one to the input and one to ground; undefined where nothing is left. */
const split = (share: number) => ({ input: share > ALL, ground: share < 1 - ALL })

/** Every kind: resistor, capacitor and the coil's last part are split between input and ground. */
export const converterAny: SectionKind = {
  id: 'impedance-converter',
  name: 'Section with an impedance converter',
  makes: 'second-order',
  source: `${ANTONIOU}; B. B. Bhattacharyya, W. S. Mikhael, A. Antoniou, J. Franklin Inst. 297, 1974 (from memory)`,
  amplifiers: 2,
  sign: 1,
  design: [
    'C_2 = C_1 + C_3 = C,\\quad R_2 = R_3 = R_4 = \\left(\\tfrac1{R_5} + \\tfrac1{R_7}\\right)^{-1} = \\frac{1}{\\omega_0 C}',
    '\\frac{1}{R_1} + \\frac{1}{R_6} = \\frac{\\omega_0 C}{Q}',
    '\\frac{R_4}{R_7} = \\kappa = \\frac{n_0}{\\omega_0^2}',
    '\\frac{C_3}{C} = \\frac{n_2 + \\kappa}{2},\\quad \\frac{1}{R_6} = \\frac{\\omega_0 C}{Q}\\cdot\\frac{n_1 Q/\\omega_0 + \\kappa}{2}',
  ],
  roles: {
    R1: 'with R6 the Q',
    R6: 'the input’s part of the middle of the numerator',
    C1: 'with C3 resonates',
    C3: 'the input’s part at high frequencies',
    C2: 'makes R5 and R7 look like a coil',
    R2: 'the frequency',
    R3: 'the frequency',
    R4: 'over R5 and R7 the output’s gain',
    R5: 'with R7 the coil',
    R7: 'the input’s part at low frequencies',
  },
  fits: (f) => f.poles.length === 2,
  refuses: ({ w0, q, n: [n0, n1] }) =>
    n0 < 0 || (-n1 * q) / w0 > (n0 / (w0 * w0)) * (1 + ALL)
      ? {
          problem:
            'Its zeros would lie farther right of the axis than the poles lie left of it, or on both sides of it.',
          fix: 'Take two-integrator-loop.',
        }
      : null,
  gains({ w0, q, n: [n0, n1, n2], gain }) {
    const low = n0 / (w0 * w0)
    return { least: 0, most: gain / Math.max(low, (n2 + low) / 2, ((n1 * q) / w0 + low) / 2) }
  },
  numerator: [
    'R4/(R2*R3*R7*C2*(C1+C3))',
    '((1+R4*(1/R5+1/R7))/R6-R4/R7*(1/R1+1/R6))/(C1+C3)',
    '((1+R4*(1/R5+1/R7))*C3-R4/R7*(C1+C3))/(C1+C3)',
  ],
  denominator: ['R4*(1/R5+1/R7)/(R2*R3*C2*(C1+C3))', '(1/R1+1/R6)/(C1+C3)', '1'],
  solve({ w0, q, n: [n0, n1, n2] }, size, chosen) {
    const low = n0 / (w0 * w0)
    const [fast, middle] = [(n2 + low) / 2, ((n1 * q) / w0 + low) / 2]
    const [atC, atR, atL] = [split(fast), split(middle), split(low)]
    const { C2 = size } = chosen
    const C3 = atC.input ? (chosen.C3 ?? fast * size) : undefined
    const C1 = atC.ground ? (chosen.C1 ?? size - fast * size) : undefined
    const all = (C1 ?? 0) + (C3 ?? 0)
    const { R4 = 1 / (w0 * size), R2 = 1 / (w0 * Math.sqrt(C2 * all)), R3 = 1 / (w0 * w0 * R2 * C2 * all) } = chosen
    const G = (w0 * all) / q
    const R6 = atR.input ? (chosen.R6 ?? 1 / (G * middle)) : undefined
    const R1 = atR.ground ? (chosen.R1 ?? 1 / (G * (1 - middle))) : undefined
    const R7 = atL.input ? (chosen.R7 ?? R4 / low) : undefined
    const R5 = atL.ground ? (chosen.R5 ?? R4 / (1 - low)) : undefined
    return Object.fromEntries(
      Object.entries({ C2, C3, C1, R4, R2, R3, R6, R1, R7, R5 }).flatMap(([id, v]) =>
        v === undefined ? [] : [[id, v]],
      ),
    )
  },
  entrance: null,
  figure(has) {
    const x = 26
    const last = has('R5') ? 'R5' : null
    return joined(
      [x + 51, -7],
      // The input's parts.
      has('C3')
        ? {
            parts: { C3: [6, 0] },
            strokes: [
              [
                [0, 0],
                [4, 0],
              ],
              [
                [8, 0],
                [x, 0],
              ],
            ],
          }
        : {},
      has('R6')
        ? {
            parts: { R6: [6, -5] },
            strokes: [
              [
                [2, 0],
                [2, -5],
                [4, -5],
              ],
              [
                [8, -5],
                [10, -5],
                [10, 0],
              ],
            ],
          }
        : {},
      has('R6') && !has('C3') ? wired([0, 0], [2, 0]) : {},
      has('R6') && !has('C3') ? wired([10, 0], [x, 0]) : {},
      has('R7') && !has('C3') && !has('R6') ? wired([18, 0], [x, 0]) : {},
      has('R1') ? hung('R1', 13, 0) : {},
      has('C1') ? hung('C1', 20, 0) : {},
      has('R7')
        ? {
            parts: { R7: [6, 15] },
            strokes: [
              [
                [0, 0],
                [0, 15],
                [4, 15],
              ],
              [
                [8, 15],
                [x + 34, 15],
                [x + 34, 10],
              ],
            ],
          }
        : {},
      converterRow(x, last),
      wired([x + 26, -7], [x + 51, -7]),
    )
  },
}

function converterRow(x: number, last: string | null): Piece {
  const whole = converter(x, ['R2', 'C2', 'R3', 'R4', last ?? 'R5'])
  if (last) return whole
  const { R5: _nothing, ...parts } = whole.parts!
  const gone = (s: Figure['strokes'][number]) => s[0][0] === x + 37 || s.at(-1)![0] === x + 37
  return {
    ...whole,
    parts,
    strokes: whole.strokes!.filter((s) => !gone(s)),
    grounds: whole.grounds!.filter(([gx]) => gx !== x + 37),
  }
}
