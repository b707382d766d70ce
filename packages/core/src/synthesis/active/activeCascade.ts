import { impossible } from '../Line.js'
import { topology } from '../Topology.js'
import { biquadOf } from './biquad.js'
import { capacitorOf, chained, passbandSensitivity, refuseWithoutPoles } from './cascade.js'
import { type Factor, qOf } from './factors.js'
import { SECTION_FAMILIES, sectionsOf } from './families.js'
import { FIELDS } from './fields.js'
import { ordered } from './pairing.js'
import { chosenKind } from './refusals.js'
import type { SectionKind } from './SectionKind.js'
import { isLowpass, isHighpass, isNotch } from './zeros.js'

const CASCADE_FIELDS = [
  ...FIELDS,
  {
    id: 'sections',
    name: 'Family of each section',
    kind: 'words',
    choices: SECTION_FAMILIES.map(({ id, name }) => ({ id, name })),
    optional: true,
  },
] as const

/** Q up to which one amplifier does (common practice, no source); above it amplifiers are worth more than their number. */
const ONE_AMPLIFIER = 5
const TWO_AMPLIFIERS = 30

/** The families that suit a factor, best first: fewest amplifiers that its Q lets be. */
function suiting(factor: Factor): readonly string[] {
  const q = qOf(factor)
  if (factor.zeros.some((z) => z.re > 0)) return ['active-allpass', 'two-integrator-loop']
  if (isNotch(factor))
    return q < ONE_AMPLIFIER ? ['boctor', 'bainter', 'two-integrator-loop'] : ['bainter', 'two-integrator-loop']
  if (isLowpass(factor) || isHighpass(factor)) {
    if (q < ONE_AMPLIFIER) return ['sallen-key', 'multiple-feedback', 'two-integrator-loop']
    return q < TWO_AMPLIFIERS ? ['fliege', 'two-integrator-loop'] : ['akerberg-mossberg', 'two-integrator-loop']
  }
  if (q < ONE_AMPLIFIER) return ['multiple-feedback', 'two-integrator-loop']
  return q < TWO_AMPLIFIERS ? ['deliyannis', 'fliege', 'two-integrator-loop'] : ['fliege', 'two-integrator-loop']
}

/**
 * The family that is named for each section, from input to output; where one stands for each pair of poles, none for a section of first
 * order.
 */
function namesOf(named: readonly string[], factors: readonly Factor[]): readonly (string | undefined)[] {
  if (named.length === factors.length) return named
  const isPair = (f: Factor) => f.poles.length === 2
  const pairs = factors.filter(isPair).length
  if (named.length !== pairs)
    throw impossible(
      'realization.sections',
      `${named.length} families are named for ${factors.length} sections.`,
      `Name ${factors.length === pairs ? pairs : `${pairs}, one a pair of poles, or ${factors.length}`}, in the order from input to output, or leave them out.`,
    )
  let next = 0
  return factors.map((f) => (isPair(f) ? named[next++] : undefined))
}

/** All section kinds of families, in this order. */
const kindsOf = (ids: readonly string[]): readonly SectionKind[] =>
  ids.flatMap((id) => {
    const family = SECTION_FAMILIES.find((f) => f.id === id)!
    return [...family.forms[0].sections, ...sectionsOf(family)]
  })

/** Each pair of poles by the section that suits it best, or by one that is named. */
export const activeCascade = topology({
  id: 'active-cascade',
  name: 'Chain of sections, each as it suits',
  family: 'active',
  character: 'Every pole pair by the section that suits its Q and zeros; any of them can be exchanged for another one.',
  source: 'common practice, no source; the sections’ own sources stand with them',
  formulas: [
    `one amplifier up to Q ${ONE_AMPLIFIER}, two up to Q ${TWO_AMPLIFIERS}, three above; stop-band zeros by boctor or bainter sections`,
  ],
  fields: CASCADE_FIELDS,
  plan({ spec, ideal, realization }) {
    refuseWithoutPoles(ideal)
    const { sections: named } = realization
    const asked = { spec, ideal }
    const suited = (factor: Factor) =>
      kindsOf(suiting(factor)).find((k) => k.fits(factor) && !k.refuses?.(biquadOf(factor, 1))) ??
      chosenKind('active-cascade', kindsOf(['two-integrator-loop']), [], factor, asked)
    const capacitor = capacitorOf(ideal, realization)
    const factors = ordered(ideal.transfer, ideal.passbands, realization.pairing, (factor) =>
      passbandSensitivity(suited(factor), factor, capacitor, ideal),
    )
    const ids = named && namesOf(named, factors)
    const kinds = factors.map((factor, k) => {
      const id = ids?.[k]
      if (id === undefined) return suited(factor)
      const family = SECTION_FAMILIES.find((f) => f.id === id)!
      const own = family.forms.flatMap((f) => f.sections)
      return chosenKind(family.id, own, family.companions, factor, asked)
    })
    return chained('Chain of sections', { ideal, realization, factors, kinds, capacitor, refusesGain: false })
  },
})
