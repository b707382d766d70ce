import { acMeasures } from '../measure/acMeasures.js'
import { crossings, extrema } from '../measure/extrema.js'
import { abs } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import type { Fit } from './candidates.js'
import { exactFit } from './exactFit.js'
import { likelyFit, type MadeResponse } from './likelyFit.js'
import { prototypeOf, type RecognisedResponse, responseOf, withoutAllpass, withoutIdle } from './prototypes.js'
import type { Rounding } from './rounding.js'

/** What a response is. */
export interface Recognised {
  /** null for one that does not depend on frequency, or does nothing that has a name. */
  readonly response: RecognisedResponse | null
  /** Of the low-pass that it was made from; without one, its poles. */
  readonly order: number
  /** The id of an approximation, where it is one of order 2 or more. */
  readonly approximation: string | null
  /** dB, of families whose shape they are. */
  readonly rippleDb: number | null
  readonly attenuationDb: number | null
  /** Hz, where it has lost 10·log10(2) dB against its highest. */
  readonly cutoffs: readonly number[]
  /** Of a band: its middle over its width; else the greatest of a pair of poles, null without one. */
  readonly q: number | null
  /** The highest magnitude. */
  readonly gainDb: number | null
}

/**
 * What a response is: its kind, its order, the family that it is of.
 *
 * @param rounding of the parts that make it; left out, it is what it is exactly
 */
export function recognise(h: TransferFunction, rounding?: Rounding): Recognised {
  const response = responseOf(h)
  const own = withoutIdle(response === 'allpass' ? h : withoutAllpass(h))
  const fit = response && fitOf(own, response, rounding)
  const ac = acMeasures(h)
  const cutoffs = response === 'bandstop' ? crossings(h, ac.peakDb! - HALF_POWER_DB, extrema(h)).map(hertz) : ac.cutoffs
  return {
    response,
    order: fit?.order ?? orderOf(own, response),
    approximation: fit?.family.id ?? null,
    rippleDb: fit?.rippleDb ?? null,
    attenuationDb: fit?.attenuationDb ?? null,
    cutoffs,
    q: qOf(h, response, cutoffs),
    gainDb: ac.peakDb,
  }
}

/** The family of a response; null where it is none's, or of order 1, where all are the same. */
function fitOf(h: TransferFunction, response: RecognisedResponse, rounding?: Rounding): Fit | null {
  const isLikely = rounding !== undefined && isMade(response)
  const prototype = prototypeOf(h, response)
  const exact = prototype && prototype.poles.length > 1 && !(isLikely && rounding.ofAll) ? exactFit(prototype) : null
  if (!isLikely) return exact
  // Two poles have but one number: whatever it is, some family has it, and a simple one near by is more likely.
  const numbers = prototype ? prototype.poles.length - 1 + prototype.zeros.length / 2 : 0
  if (exact && (exact.chosen < numbers || rounding.ofNone)) return exact
  const likely = likelyFit(h, response, rounding)
  return likely && likely.chosen <= (exact?.chosen ?? Infinity) ? likely : exact
}

const isMade = (response: RecognisedResponse): response is MadeResponse =>
  response === 'lowpass' || response === 'highpass' || response === 'bandpass' || response === 'bandstop'

const hertz = (omega: number) => omega / (2 * Math.PI)

function qOf(h: TransferFunction, response: RecognisedResponse | null, cutoffs: readonly number[]): number | null {
  if (response === 'bandpass' || response === 'bandstop') {
    const [low, high] = cutoffs
    return low !== undefined && high !== undefined ? Math.sqrt(low * high) / (high - low) : null
  }
  const pairs = h.poles.filter((p) => p.im > 0 && p.re < 0).map((p) => abs(p) / (-2 * p.re))
  return pairs.length > 0 ? Math.max(...pairs) : null
}

/** The order of what was made from no low-pass: a band has two poles for each. */
const orderOf = ({ poles }: TransferFunction, response: RecognisedResponse | null) =>
  response === 'bandpass' || response === 'bandstop' ? Math.ceil(poles.length / 2) : poles.length
