import { acMeasures } from '../measure/acMeasures.js'
import { crossings, extrema } from '../measure/extrema.js'
import { abs } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { exactFits, type Fit, MOST_OPEN, nearFits } from './families.js'
import { prototypesOf, type RecognisedResponse, type Roots, responseOf, withoutAllpass } from './prototypes.js'

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
 * A response farther away from a family's than so much for each of its poles, or than the most, is none of it: parts of E24
 * move it by some per cent, the more the more there are.
 */
const FARTHEST = 0.008
const MOST = 0.06

/** How much nearer a family must come for each number that was chosen to suit. */
const CHOSEN = 1.6

/** Distances below this are what rounded parts do, and weigh alike: the simpler family is named. */
const ROUNDED = 0.008

/** What a response is: its kind, its order, the family that it is of. */
export function recognise(h: TransferFunction): Recognised {
  const response = responseOf(h)
  const own = response === 'allpass' ? h : withoutAllpass(h)
  const prototypes = response ? prototypesOf(own, response) : []
  const fit = fitOf(prototypes)
  const ac = acMeasures(h)
  const cutoffs = response === 'bandstop' ? crossings(h, ac.peakDb! - HALF_POWER_DB, extrema(h)).map(hertz) : ac.cutoffs
  return {
    response,
    order: prototypes[0]?.poles.length ?? orderOf(h, response),
    approximation: fit?.family.id ?? null,
    rippleDb: fit?.rippleDb ?? null,
    attenuationDb: fit?.attenuationDb ?? null,
    cutoffs,
    q: qOf(h, response, cutoffs),
    gainDb: ac.peakDb,
  }
}

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

/**
 * The family of a low-pass with the fewest numbers chosen to suit; null for order 1, where all are the same.
 *
 * @param readings what the low-pass may have been, with the most zeros first
 */
function fitOf(readings: readonly Roots[]): Fit | null {
  const told = readings.filter((roots) => roots.poles.length > 1)
  let last: Fit | null = null
  for (const roots of told) {
    const [exact] = exactFits(roots)
    last ??= exact ?? null
    // Two poles have but one number: whatever it is, some family has it, and a simple one near by is more likely.
    const numbers = roots.poles.length - 1 + roots.zeros.length / 2
    if (exact && exact.chosen < numbers) return exact
  }
  // Zeros that parts may have moved from where they were meant are rather taken for that.
  return told.toReversed().reduce<Fit | null>((found, roots) => found ?? nearestOf(roots, last), null)
}

/** @param exact one that needs a number for each that there is */
function nearestOf(roots: Roots, exact: Fit | null): Fit | null {
  const price = ({ distance, chosen }: Fit) => (distance + ROUNDED) * CHOSEN ** chosen
  const farthest = Math.min(MOST, FARTHEST * roots.poles.length)
  let best = exact
  for (let chosen = 0; chosen <= MOST_OPEN; chosen++) {
    // No family with so many numbers can be the simpler explanation any more.
    if (best && price(best) <= ROUNDED * CHOSEN ** chosen) break
    for (const fit of nearFits(roots, chosen))
      if (fit.distance <= farthest && (!best || price(fit) < price(best))) best = fit
  }
  return best
}
