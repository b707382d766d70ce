import { hung, joined, lying, wired } from '../figures.js'
import type { Figure } from '../Figure.js'
import type { SectionKind } from '../SectionKind.js'
import { isNotch } from '../zeros.js'

/** Relative distance of pole and zero below which they are one. */
const ALIKE = 1e-9

/** Part of the output that the middle of both Ts is held at. */
const BELOW = 'R5/(R4+R5)'
const ABOVE = '(1+R5/R4)'

const SOURCE =
  'H. W. Augustadt, US patent 2 106 785, 1938; R. P. Sallen, E. L. Key, IRE Trans. CT-2, 1955, 74–85 (both from memory)'

/** Ts of R1, R2, C3 and C1, C2, R3, loaded with R6 and C4, whose middle is held at a part of the output. */
function twinT(id: string, held: string, isFedBackMore: boolean): SectionKind {
  const load = (s: string, below: string) => `+(1/R6)*(${s})+C4*(${below})`
  return {
    id,
    name: isFedBackMore ? 'Twin T, middle amplified' : 'Twin T, middle held',
    makes: 'notch',
    source: SOURCE,
    amplifiers: 2,
    sign: 1,
    design: [
      'R_1 = R_2 = 2R_3 = R,\\quad C_1 = C_2 = \\tfrac12 C_3 = C,\\quad \\omega_z = \\frac{1}{RC}',
      isFedBackMore ? '\\beta = 1 + \\frac{R_5}{R_4}' : '\\beta = \\frac{R_5}{R_4 + R_5}',
      '\\omega_0 < \\omega_z:\\quad C_4 = \\tfrac12 C\\left(\\frac{\\omega_z^2}{\\omega_0^2} - 1\\right)',
      '\\omega_0 > \\omega_z:\\quad \\frac{1}{R_6} = \\frac{1}{2R}\\left(\\frac{\\omega_0^2}{\\omega_z^2} - 1\\right)',
      '\\frac{\\omega_0}{Q\\,\\omega_z} = \\frac{4(1-\\beta) + 2C_4/C + 2R/R_6}{1 + 2C_4/C}',
    ],
    roles: {
      R1: 'first arm of the resistive T',
      R2: 'second arm of the resistive T',
      R3: 'middle of the capacitive T: half of R1',
      C1: 'first arm of the capacitive T',
      C2: 'second arm of the capacitive T',
      C3: 'middle of the resistive T: twice C1',
      R4: 'with R5 how much the middle is held: the Q',
      R5: 'with R4 how much the middle is held: the Q',
      R6: 'moves the poles above the notch',
      C4: 'moves the poles below the notch',
    },
    fits: (f) => f.poles.length === 2 && isNotch(f),
    refuses(h) {
      const beta = partOf(h)
      if (beta <= 0)
        return {
          problem: `A Q of ${h.q.toPrecision(3)} is less than the twin T has without feedback.`,
          fix: 'Ask for a narrower notch, or take two-integrator-loop.',
        }
      return beta > 1 === isFedBackMore
        ? null
        : {
            problem: `The middle would have to be held at ${beta.toPrecision(3)} of the output.`,
            fix: 'Take the other form.',
          }
    },
    gains(h) {
      const own = Math.min(1, (h.w0 * h.w0 * h.gain) / h.n[0])
      return { least: own, most: own }
    },
    numerator: ['1/(R1*R2*R3)', '(C1+C2)/(R1*R2)', 'C1*C2*(1/R1+1/R2)', 'C1*C2*C3'],
    denominator: [
      `1/(R1*R2*R3)${load('(1/R1+1/R2)/R3', '0')}`,
      `(C1+C2)/(R1*R2)+(1-${held})*(C3/(R2*R3)+C2/R3*(1/R1+1/R2))${load('C3/R3+(1/R1+1/R2)*(C1+C2)', '(1/R1+1/R2)/R3')}`,
      `C1*C2*(1/R1+1/R2)+(1-${held})*(C3*(C1+C2)/R2+C2*C3/R3)${load('C3*(C1+C2)', 'C3/R3+(1/R1+1/R2)*(C1+C2)')}`,
      `C1*C2*C3${load('0', 'C3*(C1+C2)')}`,
    ],
    solve(h, size, chosen) {
      const wz = Math.sqrt(h.n[0] / h.n[2])
      const ratio = (wz / h.w0) ** 2
      const {
        C1 = size,
        C2 = C1,
        C3 = C1 + C2,
        R1 = 1 / (wz * C1),
        R2 = R1,
        R3 = R1 / 2,
        R4 = 1 / (wz * size),
      } = chosen
      const beta = partOf(h)
      const { R5 = isFedBackMore ? R4 * (beta - 1) : (R4 * beta) / (1 - beta) } = chosen
      const values = { C1, C2, C3, R1, R2, R3, R4, R5 }
      if (ratio > 1 + ALIKE) return { ...values, C4: chosen.C4 ?? (C1 * (ratio - 1)) / 2 }
      if (ratio < 1 - ALIKE) return { ...values, R6: chosen.R6 ?? (2 * R1) / (1 / ratio - 1) }
      return values
    },
    entrance: null,
    figure: (has) => figureOf(has, isFedBackMore),
  }
}

/** β for a Q: below 1 by itself, above where the load has damped the poles already. */
function partOf({ w0, q, n }: Parameters<SectionKind['gains']>[0]): number {
  const wz = Math.sqrt(n[0] / n[2])
  const ratio = (wz / w0) ** 2
  const width = w0 / (q * wz)
  const more = ratio > 1 ? width * ratio - (ratio - 1) : width - (1 / ratio - 1)
  return 1 - more / 4
}

function figureOf(has: (part: string) => boolean, isFedBackMore: boolean): Figure {
  const load = has('R6') ? 'R6' : has('C4') ? 'C4' : null
  return joined(
    [53, 1],
    lying('R1', 0, 8, 0),
    lying('R2', 8, 16, 0),
    { parts: { C3: [8, 4, 90], R3: [8, 14, 90] } },
    wired([0, 0], [0, 18]),
    lying('C1', 0, 8, 18),
    lying('C2', 8, 16, 18),
    wired([8, 0], [8, 2]),
    wired([8, 6], [8, 12]),
    wired([8, 16], [8, 18]),
    wired([16, 18], [16, 0]),
    wired([16, 0], [45, 0]),
    { amplifiers: [[23, 9, 'back']] },
    wired([20, 9], [18, 9]),
    wired([18, 9], [8, 9]),
    // The output's follower.
    { amplifiers: [[48, 1]] },
    wired([51, 1], [53, 1]),
    wired([45, 2], [44, 2], [44, 5], [53, 5]),
    wired([53, 5], [53, 1]),
    load ? hung(load, 38, 0) : {},
    ...(isFedBackMore
      ? [
          lying('R5', 18, 28, 4),
          wired([18, 4], [18, 9]),
          wired([28, 4], [28, 8], [26, 8]),
          lying('R4', 28, 34, 4),
          wired([34, 4], [34, 5]),
          { grounds: [[34, 5] as const] },
          wired([26, 10], [53, 10], [53, 5]),
        ]
      : [
          wired([26, 8], [28, 8], [28, 5], [18, 5], [18, 9]),
          wired([26, 10], [34, 10]),
          hung('R5', 34, 10),
          lying('R4', 34, 53, 10),
          wired([53, 10], [53, 5]),
        ]),
  )
}

export const twinTHeld = twinT('twin-t', BELOW, false)
export const twinTAmplified = twinT('twin-t-amplified', ABOVE, true)
