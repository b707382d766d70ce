import { approximate, type Ideal, withArticle } from '../approximation/approximate.js'
import type { Approximation } from '../approximation/Approximation.js'
import { withApproximation } from '../approximation/edits.js'
import { approximation, approximations } from '../approximation/index.js'
import { VoskelError } from '../errors/VoskelError.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { type ApproximatedSpec, type FilterSpec, isShaped, MAX_ORDER } from '../specification/filterSpec.js'
import { isLimit, ofResponse } from '../specification/requirements/index.js'
import { evidenceOf } from './evidence.js'
import { ledger } from './ledger.js'
import type { Verdict } from './Requirement.js'

/** Orders that other approximations are looked at with. */
const ADVICE_ORDERS = 12

/** Sections of an equaliser that are looked at: more take seconds to find, which nobody waits for to be told of them. */
const ADVICE_SECTIONS = 5

/** Ways out that are named at the most. */
const MOST_ADVICE = 4

/**
 * The ideal response of a specification. Left out, the order becomes the least that meets the stop band and every other
 * requirement that the response decides.
 *
 * @throws VoskelError those of `approximate`; `REQUIREMENTS_UNREACHED` where no order up to 20 meets all, with what can be had
 */
export function idealOf(spec: FilterSpec): Ideal {
  if (isShaped(spec) || spec.order !== undefined || !spec.requirements?.some(ofResponse)) return approximate(spec)
  const first = spec.stopband?.edges
    ? approximate(spec).order
    : (approximation(spec.approximation).leastOrder?.(spec) ?? 1)
  let nearest: { ideal: Ideal; unmet: readonly Verdict[]; miss: number } | null = null
  for (let order = first; order <= MAX_ORDER; order++) {
    const ideal = approximate({ ...spec, order })
    const unmet = unmetBy(spec, ideal)
    if (unmet.length === 0) return ideal
    const miss = Math.max(...unmet.map(relativeMiss))
    if (!nearest || miss < nearest.miss) nearest = { ideal, unmet, miss }
    // What this response does not have, no order of it has.
    if (unmet.some((v) => v.achieved === null)) break
  }
  const { ideal, unmet } = nearest!
  throw new VoskelError(
    'REQUIREMENTS_UNREACHED',
    {
      approximation: withArticle(approximation(spec.approximation).name),
      most: MAX_ORDER,
      nearest: ideal.order,
      unmet: unmet.map(told),
      advice: unmet.some((v) => v.achieved === null) ? [] : advise({ ...spec, order: ideal.order }, ideal),
    },
    { path: 'requirements' },
  )
}

/** What the response alone misses of a specification. */
function unmetBy(spec: FilterSpec, ideal: Ideal): Verdict[] {
  const requirements = spec.requirements?.filter(ofResponse)
  return ledger(evidenceOf({ promised: { spec, ideal }, requirements, transfer: ideal.transfer })).filter((v) => !v.met)
}

const relativeMiss = (v: Verdict) => (v.margin === null ? Infinity : -v.margin / (Math.abs(v.limit) || 1))

/** As in "Phase linearity at most 0.5° (2.31°)". */
function told({ name, sense, limit, achieved, unit }: Verdict): string {
  const had = achieved === null ? 'does not exist' : formatQuantity(achieved, unit)
  return `${name} ${sense} ${formatQuantity(limit, unit)} (${had})`
}

/**
 * Nearest ways to meet what a response misses: a delay equaliser, another order, other approximations with their least order.
 * Empty where it misses nothing.
 */
export function advise(spec: FilterSpec, ideal: Ideal): string[] {
  if (isShaped(spec)) return []
  const unmet = unmetBy(spec, ideal)
  if (unmet.length === 0) return []
  const equalized = equalizedWith(spec, unmet)
  const others = approximations
    .flatMap((family) => {
      const order = leastOf(spec, family)
      return order === null ? [] : [{ family, order }]
    })
    .sort((a, b) => a.order - b.order)
    .map(({ family, order }) => `${family.name} of order ${order}`)
  return [...(equalized ? [equalized] : []), ...others].slice(0, MOST_ADVICE)
}

/** The sections of a delay equaliser with which everything is met, as words; null where delay is not what is missed. */
function equalizedWith(spec: ApproximatedSpec, unmet: readonly Verdict[]): string | null {
  const bands = (spec.requirements ?? [])
    .filter(isLimit)
    .filter((r) => r.kind === 'phase-linearity' || r.kind === 'delay-variation')
  const flat = unmet.every((v) => v.kind === 'phase-linearity' || v.kind === 'delay-variation')
  if (!flat || spec.equalizer || spec.response === 'allpass' || bands.length === 0) return null
  const [from, to] = [Math.min(...bands.map((r) => r.from!)), Math.max(...bands.map((r) => r.to!))]
  for (let sections = 1; sections <= ADVICE_SECTIONS; sections++) {
    const ideal = approximate({ ...spec, equalizer: { sections, from, to } })
    if (unmetBy(spec, ideal).length === 0)
      return `a delay equaliser of ${sections} section${sections === 1 ? '' : 's'} behind order ${ideal.order}`
  }
  return null
}

/** The least order of a family that meets everything; null where none does, or the response cannot have it. */
function leastOf(spec: ApproximatedSpec, family: Approximation): number | null {
  const base = withApproximation(spec, family.id)
  for (let order = 1; order <= ADVICE_ORDERS; order++) {
    let ideal: Ideal
    try {
      ideal = approximate({ ...base, order })
    } catch (error) {
      if (error instanceof VoskelError) return null
      throw error
    }
    if (unmetBy(base, ideal).length === 0) return order
  }
  return null
}
