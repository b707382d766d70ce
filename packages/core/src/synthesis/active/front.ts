import { amplified, follower, joined, wired } from './figures.js'
import type { Line } from '../Line.js'
import { drawFigure, type Figure } from './Figure.js'
import { planSection, type SectionKind, type SectionPlan } from './SectionKind.js'

const common = {
  makes: 'level',
  source: 'common practice, no source',
  amplifiers: 1,
  sign: 1,
  design: [],
  fits: () => false,
} as const

/** A follower in the line. */
const followed = (): Figure => joined([10, 1], wired([0, 0], [2, 0]), follower(5))

/** Draws one where a line has come to. */
export function drawFollower(line: Line): void {
  line.level(0)
  line.tap(2)
  drawFigure(line, followed(), () => '')
}

/** A follower that takes the load off the source. */
export const sourceFollower: SectionKind = {
  ...common,
  id: 'source-follower',
  name: 'A follower stands before the sections, which are not driven through a resistor.',
  roles: {},
  gains: () => ({ least: 1, most: 1 }),
  numerator: ['1'],
  denominator: ['1'],
  solve: () => ({}),
  entrance: null,
  figure: followed,
}

/** The same behind a divider. */
const dividingFollower = (level: number): SectionKind => ({
  ...sourceFollower,
  id: 'dividing-follower',
  name: 'A divider with a follower stands before the sections, which have more gain than is asked.',
  roles: { R1: 'with the next one takes gain away' },
  solve: (_, __, { R1 = level }) => ({ R1 }),
  entrance: 'R1',
})

/** An amplifier that makes up for what the sections lose. */
const leadingAmplifier = (level: number): SectionKind => ({
  ...common,
  id: 'leading-amplifier',
  name: 'An amplifier stands before the sections and makes up for what they lose.',
  design: ['K = 1 + \\frac{R_2}{R_1}'],
  roles: { R1: 'with R2 the gain', R2: 'with R1 the gain' },
  gains: () => ({ least: 1, most: Infinity }),
  numerator: ['1+R2/R1'],
  denominator: ['1'],
  solve: ({ gain }, _, { R1 = gain < 2 ? level / (gain - 1) : level, R2 = R1 * (gain - 1) }) => ({ R1, R2 }),
  entrance: null,
  figure: () => joined([10, 1], wired([0, 0], [2, 0]), amplified(5, 'R2', 'R1')),
})

/** A gain this little off is rounding. */
const ROUNDING = 1e-9

/**
 * What stands before the sections: nothing, where the first one's entrance takes up the source resistance and divides the
 * input down.
 *
 * @param gain that is left to it
 * @param source Ω
 * @param level of its resistances, Ω
 */
export function front({
  first,
  gain,
  source,
  level,
}: {
  first: SectionPlan
  gain: number
  source: number
  level: number
}): SectionPlan[] {
  const one = (kind: SectionKind) => [planSection(kind, { order: 1, w0: 1, q: 0.5, n: [gain, 0, 0], gain }, 0)]
  if (gain > 1 + ROUNDING) return one(leadingAmplifier(level))
  const way = first.kind.entrance
  const isResistor = way?.startsWith('R') === true
  const divides = gain < 1 - ROUNDING
  const driven = isResistor && first.solve({})![way!] / Math.min(1, gain) > source
  if (driven || (way !== null && source === 0) || (source === 0 && !divides)) return []
  return one(divides ? dividingFollower(Math.max(level, 2 * source)) : sourceFollower)
}
