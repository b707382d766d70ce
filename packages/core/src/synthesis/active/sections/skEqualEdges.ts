import { gainOfQ } from '../equalParts.js'
import { amplified, hung, joined, lying, wired } from '../figures.js'
import type { SectionKind } from '../SectionKind.js'
import { isHighpass, isLowpass } from '../zeros.js'

/** What a low-pass and a high-pass of equal parts have in common: the one is the other with resistors and capacitors exchanged. */
const COMMON = {
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  amplifiers: 1,
  sign: 1,
  design: ['C_1 = C_2 = C', 'R_1 = R_2 = \\frac{1}{\\omega_0 C}', 'K = 1 + \\frac{R_4}{R_3} = 3 - \\frac{1}{Q}'],
  refuses: gainOfQ.refuses(3, 1),
} as const

const OF_GAIN = {
  R3: 'with R4 the amplifier’s gain',
  R4: 'over R3 the Q: a little more of it, and it rings',
}

/**
 * @param raised R4 that makes a damping of ω₀/Q, Ω, of the parts chosen
 */
const solving =
  (
    raised: (v: Readonly<Record<'C1' | 'C2' | 'R1' | 'R2' | 'R3', number>>, damping: number) => number,
  ): SectionKind['solve'] =>
  (
    { w0, q },
    size,
    {
      C1 = size,
      C2 = C1,
      R1 = 1 / (w0 * Math.sqrt(C1 * C2)),
      R2 = 1 / (w0 * w0 * R1 * C1 * C2),
      R3 = 1 / (w0 * size),
      R4 = raised({ C1, C2, R1, R2, R3 }, w0 / q),
    },
  ) =>
    R4 > 0 ? { C1, C2, R1, R2, R3, R4 } : null

const figureOf = (series: string, shunt: string, back: string): SectionKind['figure'] => {
  const figure = joined(
    [22, 1],
    lying(series, 0, 7, 0),
    { parts: { [back]: [10, -4] } },
    wired([0, 0], [0, -4], [8, -4]),
    wired([12, -4], [22, -4], [22, 1]),
    hung(shunt, 7, 0),
    wired([7, 0], [14, 0]),
    amplified(17, 'R4', 'R3'),
  )
  return () => figure
}

/** The unity-gain low-pass with equal resistors and capacitors: the amplifier's gain makes the Q. */
export const skEqualLowpass: SectionKind = {
  ...COMMON,
  id: 'sallen-key-equal-lowpass',
  name: 'Sallen–Key low-pass, equal parts',
  makes: 'low-pass',
  roles: {
    R1: 'drives the section',
    R2: 'with R1 the frequency',
    C1: 'feeds back near the edge',
    C2: 'shorts what is fast to ground',
    ...OF_GAIN,
  },
  fits: (f) => f.poles.length === 2 && isLowpass(f),
  gains: ({ w0, q }) => gainOfQ.only(3 - 1 / q, w0 * w0),
  numerator: ['(1+R4/R3)/(R1*R2*C1*C2)'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/R1+1/R2)/C1-R4/(R3*R2*C2)', '1'],
  solve: solving(({ C1, C2, R1, R2, R3 }, damping) => R3 * R2 * C2 * ((1 / R1 + 1 / R2) / C1 - damping)),
  entrance: 'R1',
  figure: figureOf('R2', 'C2', 'C1'),
}

/** The high-pass of the same. */
export const skEqualHighpass: SectionKind = {
  ...COMMON,
  id: 'sallen-key-equal-highpass',
  name: 'Sallen–Key high-pass, equal parts',
  makes: 'high-pass',
  roles: {
    C1: 'keeps DC out',
    C2: 'with C1 the frequency',
    R1: 'feeds back near the edge',
    R2: 'draws what is slow to ground',
    ...OF_GAIN,
  },
  fits: (f) => f.poles.length === 2 && isHighpass(f),
  gains: ({ q }) => gainOfQ.only(3 - 1 / q, 1),
  numerator: ['0', '0', '1+R4/R3'],
  denominator: ['1/(R1*R2*C1*C2)', '(1/C1+1/C2)/R2-R4/(R3*R1*C1)', '1'],
  solve: solving(({ C1, C2, R1, R2, R3 }, damping) => R3 * R1 * C1 * ((1 / C1 + 1 / C2) / R2 - damping)),
  entrance: 'C1',
  figure: figureOf('C2', 'R2', 'R1'),
}
