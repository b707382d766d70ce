import type { AcMeasures } from '../measure/acMeasures.js'
import type { FilterSpecInput } from '../specification/filterSpec.js'

/** Significant digits of what a first specification asks, on the side that is met. */
const DIGITS = 3

/** dB a decade of one order, and what still counts as flat. */
const SLOPE = 20
const FLAT = 1

/** Highest order that is asked at once. */
const MOST_ORDER = 20

/**
 * A specification to begin with for a circuit that was drawn: its kind of response, its cutoffs and its gain as they are
 * today, rounded to the side on which it meets them. Butterworth's passband ends where the cutoff is.
 *
 * @returns null where it has no cutoff: nothing says what it is to pass
 */
export function firstSpecification(
  ac: Pick<AcMeasures, 'peakDb' | 'cutoffs' | 'rolloffDbPerDecade'>,
): FilterSpecInput | null {
  const { peakDb, cutoffs, rolloffDbPerDecade: falls } = ac
  const [low, high] = [cutoffs[0], cutoffs.at(-1)]
  if (peakDb === null || low === undefined || high === undefined) return null
  const passesDc = Math.abs(falls.below) < FLAT
  const order = (slope: number) => Math.min(MOST_ORDER, Math.max(1, Math.round(Math.abs(slope) / SLOPE)))
  const common = { approximation: 'butterworth' as const, gain: Number(peakDb.toFixed(2)) || 0 }
  if (cutoffs.length === 1 && passesDc)
    return { ...common, response: 'lowpass', order: order(falls.above), passband: { edges: [rounded(high, -1)] } }
  if (cutoffs.length === 1)
    return { ...common, response: 'highpass', order: order(falls.below), passband: { edges: [rounded(low, 1)] } }
  if (cutoffs.length !== 2 || passesDc) return null
  const edges: [number, number] = [rounded(low, 1), rounded(high, -1)]
  return edges[0] < edges[1]
    ? {
        ...common,
        response: 'bandpass',
        order: order(Math.min(Math.abs(falls.below), Math.abs(falls.above))),
        passband: { edges },
      }
    : null
}

/** A number with few digits, not below (1) or not above (−1) what it was. */
function rounded(value: number, side: 1 | -1): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - DIGITS + 1)
  const steps = side > 0 ? Math.ceil(value / step) : Math.floor(value / step)
  return Number((steps * step).toPrecision(DIGITS))
}
