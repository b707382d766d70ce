import { hung, inverter, joined, lying, over, wired } from '../figures.js'
import type { Figure } from '../Figure.js'
import type { Biquad } from '../biquad.js'
import type { Refusal, SectionKind } from '../SectionKind.js'
import { isDip } from '../zeros.js'

/** Relative distance of pole and zero below which they are one. */
const ALIKE = 1e-9

/** (ω_z/ω₀)² */
const ratioOf = ({ w0, n }: Biquad): number => n[0] / n[2] / (w0 * w0)

/** n₁/(n₂·ω₀): what is left at the bottom of the notch; 0 where all is taken out. */
const leftOf = ({ w0, n }: Biquad): number => n[1] / (n[2] * w0)

/** The input's part can leave something at the bottom, and not more than a flat response. */
function refuses(h: Biquad): Refusal | null {
  const [r, left] = [ratioOf(h), leftOf(h)]
  return left < 0 || left >= Math.max(1, r) / h.q
    ? {
        problem: 'Its zeros are not those of a dip.',
        fix: 'Take two-integrator-loop, which makes any.',
      }
    : null
}

/** Both notches: a bridged T from input and output to the inverting input, the input divided down at the other one. */
function figureOf(
  has: (part: string) => boolean,
  names: { series: string; back: string; on: string; across: string },
): Figure {
  const aside = has('R5') ? 'R5' : has('C3') ? 'C3' : null
  return joined(
    [37, 1],
    lying(names.series, 0, 8, 0),
    lying(names.on, 8, 16, 0),
    wired([16, 0], [26, 0]),
    aside ? hung(aside, 16, 0) : {},
    inverter(26, names.across),
    over(names.back, [8, 0], [37, -4], -8),
    wired([0, 0], [0, 12]),
    lying('R3', 0, 25, 12),
    wired([25, 12], [25, 2], [29, 2]),
    hung('R4', 25, 12),
  )
}

/**
 * C1, C2 and the bridge R2 with R1 from the input; the input's part at the other input takes the middle out of the numerator.
 * R5 moves the zeros above the poles, C3 below them.
 */
export const bridgedTNotch: SectionKind = {
  id: 'bridged-t-notch',
  name: 'Bridged-T notch',
  makes: 'notch',
  source:
    'T. Deliyannis, Electronics Letters 4, 1968, 577–579; J. J. Friend, C. A. Harris, D. Hilberman, IEEE Trans. CAS-22, 1975, 115–121 (both from memory)',
  amplifiers: 1,
  sign: 1,
  design: [
    'C_1 = C_2 = C,\\quad R_1 = \\frac{1}{2Q\\,\\omega_0 C},\\quad R_2 = \\frac{2Q}{\\omega_0 C}',
    '\\alpha = \\frac{R_4}{R_3 + R_4}:\\quad n_1 = 0 \\text{ where all is taken out}',
    '\\omega_z > \\omega_0:\\quad R_5 = \\frac{R_2}{\\omega_z^2/\\omega_0^2 - 1}',
    '\\omega_z < \\omega_0:\\quad C_3 = \\tfrac12 C\\left(\\frac{\\omega_0^2}{\\omega_z^2} - 1\\right)',
  ],
  roles: {
    R1: 'brings the input to the T: with R2 the frequency',
    R2: 'bridges the T: over R1 the Q',
    C1: 'feeds the output back',
    C2: 'lets through what changes',
    R3: 'with R4 the input’s part that makes the notch deep',
    R4: 'with R3 the input’s part that makes the notch deep',
    R5: 'moves the notch above the poles',
    C3: 'moves the notch below the poles',
  },
  fits: (f) => f.poles.length === 2 && isDip(f),
  refuses,
  gains(h) {
    const r = ratioOf(h)
    const [twice, left] = [2 * h.q, leftOf(h)]
    const gain = r >= 1 ? twice / (twice + r / h.q - left) : twice / (r * ((twice * (1 + 1 / r)) / 2 + 1 / h.q) - left)
    return { least: gain, most: gain }
  },
  numerator: [
    'R4/(R3+R4)*(1/R2+1/R5)/(R1*C1*C2)',
    'R4/(R3+R4)*((C2+C3)/R1+(C1+C2)*(1/R2+1/R5))/(C1*C2)-1/(R1*C1)',
    'R4/(R3+R4)*(1+C3*(1/C1+1/C2))',
  ],
  denominator: ['1/(R1*R2*C1*C2)', '(1/C1+1/C2)/R2', '1'],
  solve(h, size, chosen) {
    const { w0, q } = h
    const r = ratioOf(h)
    const { C1 = size, C2 = C1, R2 = (q * (1 / C1 + 1 / C2)) / w0, R1 = 1 / (w0 * w0 * R2 * C1 * C2) } = chosen
    const R5 = r > 1 + ALIKE ? (chosen.R5 ?? R2 / (r - 1)) : undefined
    const C3 = r < 1 - ALIKE ? (chosen.C3 ?? (1 / r - 1) / (1 / C1 + 1 / C2)) : undefined
    const left = leftOf(h) * w0 * C1 * (1 + (C3 ?? 0) * (1 / C1 + 1 / C2))
    const more = ((C2 + (C3 ?? 0)) / R1 + (C1 + C2) * (1 / R2 + 1 / (R5 ?? Infinity))) / C2 - left
    const { R3 = 1 / (w0 * size), R4 = R3 / (R1 * more - 1) } = chosen
    return R4 > 0 ? { C1, C2, ...(C3 !== undefined && { C3 }), R2, R1, ...(R5 !== undefined && { R5 }), R3, R4 } : null
  },
  entrance: null,
  figure: (has) => figureOf(has, { series: 'R1', on: 'C2', back: 'C1', across: 'R2' }),
}

/** The same with resistors and capacitors of the T exchanged. */
export const boctor: SectionKind = {
  id: 'boctor',
  name: 'Boctor notch',
  makes: 'notch',
  source:
    'S. A. Boctor, "Single-amplifier functionally tunable low-pass-notch filter", IEEE Trans. CAS-22, 1975, 875–881 (from memory: the idea; equations derived here)',
  amplifiers: 1,
  sign: 1,
  design: [
    'R_1 = R_2 = R,\\quad C_1 = \\frac{2Q}{\\omega_0 R},\\quad C_2 = \\frac{1}{2Q\\,\\omega_0 R}',
    '\\alpha = \\frac{R_4}{R_3 + R_4}:\\quad n_1 = 0 \\text{ where all is taken out}',
    '\\omega_z > \\omega_0:\\quad R_5 = \\frac{R_1 + R_2}{\\omega_z^2/\\omega_0^2 - 1}',
    '\\omega_z < \\omega_0:\\quad C_3 = C_2\\left(\\frac{\\omega_0^2}{\\omega_z^2} - 1\\right)',
  ],
  roles: {
    C1: 'brings the input to the T: over C2 the Q',
    C2: 'bridges the T',
    R1: 'feeds the output back',
    R2: 'with R1 the frequency',
    R3: 'with R4 the input’s part that makes the notch deep',
    R4: 'with R3 the input’s part that makes the notch deep',
    R5: 'moves the notch above the poles',
    C3: 'moves the notch below the poles',
  },
  fits: (f) => f.poles.length === 2 && isDip(f),
  refuses,
  gains(h) {
    const r = ratioOf(h)
    const [twice, left] = [2 * h.q, leftOf(h)]
    const gain = r >= 1 ? twice / (twice + (r - 1) * h.q + 1 / h.q - left) : twice / (r * twice + 1 / h.q - left)
    return { least: gain, most: gain }
  },
  numerator: [
    'R4/(R3+R4)*(1/(R1*R2)+(1/R1+1/R2)/R5)/(C1*C2)',
    'R4/(R3+R4)*((1/R2+1/R5)/C2+(1+C3/C2)*(1/R1+1/R2)/C1)-1/(R2*C2)',
    'R4/(R3+R4)*(1+C3/C2)',
  ],
  denominator: ['1/(R1*R2*C1*C2)', '(1/R1+1/R2)/C1', '1'],
  solve(h, size, chosen) {
    const { w0, q } = h
    const r = ratioOf(h)
    const { C2 = size / (2 * q), C1 = 4 * q * q * C2 } = chosen
    const left = 1 - (4 * q * q * C2) / C1
    if (left < -ALIKE) return null
    const half = 1 / (2 * q * w0 * C2)
    const root = left > ALIKE ? Math.sqrt(left) : 0
    const { R1 = half * (1 + root), R2 = half * (1 - root) } = chosen
    const C3 = r < 1 - ALIKE ? (chosen.C3 ?? C2 * (1 / r - 1)) : undefined
    const R5 = r > 1 + ALIKE ? (chosen.R5 ?? (R1 + R2) / (r - 1)) : undefined
    const raised = 1 + (C3 ?? 0) / C2
    const more =
      R2 * C2 * ((1 / R2 + 1 / (R5 ?? Infinity)) / C2 + (raised * (1 / R1 + 1 / R2)) / C1 - leftOf(h) * w0 * raised)
    const { R3 = 1 / (w0 * size), R4 = R3 / (more - 1) } = chosen
    return R4 > 0 ? { C2, C1, ...(C3 !== undefined && { C3 }), R1, R2, ...(R5 !== undefined && { R5 }), R3, R4 } : null
  },
  atLeast: ['C1'],
  entrance: null,
  figure: (has) => figureOf(has, { series: 'C1', on: 'R2', back: 'R1', across: 'C2' }),
}
