import { hung, joined, lying, over, wired } from '../figures.js'
import type { Figure } from '../Figure.js'
import type { Biquad } from '../biquad.js'
import type { SectionKind } from '../SectionKind.js'
import { isDip } from '../zeros.js'

/** Relative distance of pole and zero below which they are one. */
const ALIKE = 1e-9

/** Part of the output that the middle of both Ts is held at. */
const BELOW = 'R5/(R4+R5)'
const ABOVE = '(1+R5/R4)'

const SOURCE =
  'H. W. Augustadt, US patent 2 106 785, 1938; R. P. Sallen, E. L. Key, IRE Trans. CT-2, 1955, 74–85 (both from memory)'

/** The product of both Ts' inner admittances, which whatever hangs at their output is multiplied by; by powers of s. */
const INNER = ['(1/R1+1/R2)/R3', 'C3/R3+(1/R1+1/R2)*(C1+C2)', 'C3*(C1+C2)'] as const

/**
 * Ts of R1, R2, C3 and C1, C2, R3, loaded with R6 and C4, whose middle is held at a part of the output; R7 bridges them where
 * something is to be left.
 */
function twinT(id: string, held: string, isFedBackMore: boolean): SectionKind {
  const bridge = (power: number) => (INNER[power] ? `+(1/R7)*(${INNER[power]})` : '')
  const load = (power: number) =>
    `${bridge(power)}${INNER[power] ? `+(1/R6)*(${INNER[power]})` : ''}${INNER[power - 1] ? `+C4*(${INNER[power - 1]})` : ''}`
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
      '\\text{something left: } \\frac{1}{R_7} = \\frac{n_1 C}{2}',
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
      R7: 'leaves something at the bottom of the notch',
    },
    fits: (f) => f.poles.length === 2 && isDip(f),
    refuses(h) {
      const { beta } = networkOf(h)
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
      const own = 1 / (1 + 2 * networkOf(h).less)
      return { least: own, most: own }
    },
    numerator: [`1/(R1*R2*R3)${bridge(0)}`, `(C1+C2)/(R1*R2)${bridge(1)}`, `C1*C2*(1/R1+1/R2)${bridge(2)}`, 'C1*C2*C3'],
    denominator: [
      `1/(R1*R2*R3)${load(0)}`,
      `(C1+C2)/(R1*R2)+(1-${held})*(C3/(R2*R3)+C2/R3*(1/R1+1/R2))${load(1)}`,
      `C1*C2*(1/R1+1/R2)+(1-${held})*(C3*(C1+C2)/R2+C2*C3/R3)${load(2)}`,
      `C1*C2*C3${load(3)}`,
    ],
    solve(h, size, chosen) {
      const { w, bridge: g, more, less, beta } = networkOf(h)
      const { C1 = size, C2 = C1, C3 = C1 + C2, R1 = 1 / (w * C1), R2 = R1, R3 = R1 / 2, R4 = 1 / (w * size) } = chosen
      const { R5 = isFedBackMore ? R4 * (beta - 1) : (R4 * beta) / (1 - beta) } = chosen
      return {
        ...{ C1, C2, C3, R1, R2, R3, R4, R5 },
        ...(less > ALIKE && { C4: chosen.C4 ?? C1 * less }),
        ...(more > ALIKE && { R6: chosen.R6 ?? R1 / more }),
        ...(g > ALIKE && { R7: chosen.R7 ?? R1 / g }),
      }
    },
    entrance: null,
    figure: (has) => figureOf(has, isFedBackMore),
  }
}

/**
 * The network of a notch, for R = 1/(ω·C): what bridges it and loads it, as conductances times R and capacitances over C, and
 * the part of the output that its middle is held at; below 1 by itself, above where the load has damped the poles already.
 */
function networkOf({ w0, q, n }: Biquad) {
  const [zero, left] = [n[0] / n[2], n[1] / n[2]]
  // (s² + ω²)/(…) becomes s² + 2gω·s + (1 + 2g)·ω² with g from input to output.
  const w = (Math.sqrt(left * left + 4 * zero) - left) / 2
  const bridge = left / (2 * w)
  const ratio = (w0 / w) ** 2
  const raised = 1 + 2 * bridge
  const more = Math.max(0, (ratio - raised) / 2)
  const less = Math.max(0, (raised / ratio - 1) / 2)
  const damping = (w0 / (q * w)) * (1 + 2 * less) - 2 * (bridge + more + less)
  return { w, bridge, more, less, beta: 1 - damping / 4 }
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
    has('R7') ? over('R7', [0, 0], [16, 0], -4) : {},
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
