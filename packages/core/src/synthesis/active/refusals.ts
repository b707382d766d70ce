import type { Ideal } from '../../approximation/approximate.js'
import type { VoskelError } from '../../errors/VoskelError.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { type FilterSpec, isShaped } from '../../specification/filterSpec.js'
import { impossible } from '../Line.js'
import { biquadOf, levelOf } from './biquad.js'
import { type Factor, omegaOf, qOf } from './factors.js'
import { whoMakes } from './families.js'
import type { SectionKind } from './SectionKind.js'

interface Asked {
  readonly spec: FilterSpec
  readonly ideal: Ideal
}

/**
 * The first kind that makes a factor, the family's own before what goes with them.
 *
 * @throws VoskelError `REALIZATION_IMPOSSIBLE` with the bound that is not kept, or with the families that make it
 */
export function chosenKind(
  family: string,
  own: readonly SectionKind[],
  companions: readonly SectionKind[],
  factor: Factor,
  asked: Asked,
): SectionKind {
  const fitting = [...own, ...companions].filter((k) => k.fits(factor))
  const refusals = fitting.map((k) => k.refuses?.(biquadOf(factor, usualGain(k, factor))) ?? null)
  const free = refusals.indexOf(null)
  if (free >= 0) return fitting[free]
  if (fitting.length === 0) throw notMade(family, own, factor, asked)
  const [refusal] = refusals
  const where = `At ${formatQuantity(omegaOf(factor) / (2 * Math.PI), 'Hz')}: `
  throw impossible('response', where + lower(refusal!.problem), `${refusal!.fix}${offered(factor, family)}`)
}

const lower = (text: string) => text[0].toLowerCase() + text.slice(1)

/** The gain of level 1, where a kind can have it. */
function usualGain(kind: SectionKind, factor: Factor): number {
  const unit = biquadOf(factor, 1)
  const { least, most } = kind.gains(unit)
  return Math.min(Math.max(least, 1 / levelOf(unit)), most)
}

/** The families that make such a factor. */
function offered(factor: Factor, not: string): string {
  const ids = whoMakes(factor).filter((id) => id !== not)
  return ids.length > 0 ? ` Families that make it: ${ids.join(', ')}.` : ''
}

/** Whether a kind that only goes with a family's own sections may stand alone: it makes what they make. */
export const goesAlone = (kind: SectionKind, own: readonly SectionKind[]): boolean =>
  own.some((k) => k.makes === kind.makes || k.makes === 'second-order')

export function notMade(
  family: string,
  kinds: readonly SectionKind[],
  factor: Factor,
  { spec, ideal }: Asked,
): VoskelError {
  const shapes = [...new Set(kinds.map((k) => k.makes))].join(', ')
  const others = whoMakes(factor).filter((id) => id !== family)
  const list = [...(isShaped(spec) || spec.response === 'allpass' ? [] : ['lc-ladder']), ...others].join(', ')
  const zeros = factor.zeros.some((z) => z.re > 0)
    ? 'all-pass'
    : factor.zeros.some((z) => z.im !== 0)
      ? 'stop-band'
      : 'other'
  if (zeros === 'stop-band' && kinds.some((k) => k.makes === 'notch'))
    return impossible(
      'response',
      `These notch sections have their zeros on the axis, and take one frequency out all the way; this ${spec.response} response leaves something there.`,
      `Leave the depth open, or choose a family that leaves something: ${list}.`,
    )
  if (zeros === 'stop-band')
    return impossible(
      isShaped(spec) || spec.response === 'bandstop' ? 'response' : 'approximation',
      `These ${shapes} sections have no stop-band zeros.`,
      `Choose a response without them, or a family that has them: ${list}.`,
    )
  if (zeros === 'all-pass')
    return impossible(
      'response',
      `These ${shapes} sections cannot be all-pass${ideal.equalizer ? ', as the delay equaliser is' : ''}.`,
      `Choose a family that can: ${list}.`,
    )
  const q = factor.poles.length === 2 ? ` of Q ${qOf(factor).toPrecision(3)}` : ''
  const { response } = spec
  return impossible(
    'response',
    `These are ${shapes} sections: none makes the factor${q} at ${formatQuantity(omegaOf(factor) / (2 * Math.PI), 'Hz')} of this ${response} response.`,
    `Choose another response, or a family that makes it: ${list}.`,
  )
}

export function tooMuchGain(gain: number, order: number): VoskelError {
  const db = 20 * Math.log10(gain)
  return impossible(
    'gain',
    `Unity-gain sections cannot amplify: this response of order ${order} has ${db.toFixed(3)} dB (a gain of ${gain.toPrecision(4)}) more than they have.`,
    `Ask for a gain that is lower by at least ${db.toFixed(3)} dB, or take multiple-feedback, state-variable or two-integrator-loop, whose gain can be set.`,
  )
}
