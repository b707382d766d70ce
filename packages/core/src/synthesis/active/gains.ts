import type { Ideal } from '../../approximation/approximate.js'
import { impossible } from '../Line.js'
import { biquadOf, levelOf } from './biquad.js'
import type { Factor } from './factors.js'
import { greatestLevels } from './pairing.js'
import type { SectionKind } from './SectionKind.js'

/** dB that typed gains may miss the whole by. */
const TYPED = 1e-6

/**
 * The gain of each section, as the factor of its highest power of s: so that all outputs reach the same greatest level where
 * sections can be set, their own where they cannot.
 *
 * @param typed dB, one a section: its gain at DC or high frequencies, of a band-pass where it resonates
 * @returns with what is left to a stage before them
 */
export function distributed(
  kinds: readonly SectionKind[],
  factors: readonly Factor[],
  ideal: Ideal,
  typed: readonly number[] | undefined,
): { gains: number[]; left: number } {
  const wanted = Math.abs(ideal.transfer.gain)
  const units = factors.map((f) => biquadOf(f, 1))
  const bounds = kinds.map((kind, k) => kind.gains(units[k]))
  if (typed) return { gains: typedGains(typed, units.map(levelOf), bounds, wanted), left: 1 }
  const levels = greatestLevels(factors, ideal.transfer, ideal.passbands)
  const whole = levels.at(-1)!
  let before = 0
  const gains = bounds.map(({ least, most }, k) => {
    // What brings this output to the greatest level of the last one.
    const ideal = Math.exp(Math.log(wanted) + whole - levels[k] - before)
    const gain = Math.min(Math.max(ideal, least), most)
    before += Math.log(gain)
    return gain
  })
  let left = Math.exp(Math.log(wanted) - before)
  // What one could not take is for others that can.
  for (let k = gains.length - 1; k >= 0 && Math.abs(left - 1) > 1e-12; k--) {
    const { least, most } = bounds[k]
    const next = Math.min(Math.max(gains[k] * left, least), most)
    left *= gains[k] / next
    gains[k] = next
  }
  return { gains, left: Math.abs(left - 1) < 1e-12 ? 1 : left }
}

function typedGains(
  typed: readonly number[],
  unitLevels: readonly number[],
  bounds: readonly { least: number; most: number }[],
  wanted: number,
): number[] {
  if (typed.length !== bounds.length)
    throw impossible(
      'realization.gains',
      `${typed.length} gains are given for ${bounds.length} sections.`,
      `Give ${bounds.length} gains in dB, in the order of the sections.`,
    )
  const gains = typed.map((db, k) => 10 ** (db / 20) / unitLevels[k])
  gains.forEach((_, k) => {
    const [least, most] = [bounds[k].least, bounds[k].most].map((g) => 20 * Math.log10(g * unitLevels[k]))
    if (typed[k] < least - TYPED || typed[k] > most + TYPED)
      throw impossible(
        'realization.gains',
        least === most
          ? `Section ${k + 1} has a gain of its own, ${most.toFixed(3)} dB, not ${typed[k]} dB.`
          : `Section ${k + 1} can have at most ${most.toFixed(3)} dB, not ${typed[k]} dB.`,
        least === most ? `Give ${most} there, or leave the gains out.` : 'Give less there, and more elsewhere.',
      )
  })
  const sum = gains.reduce((total, gain) => total + Math.log10(gain), 0)
  const off = 20 * (sum - Math.log10(wanted))
  if (Math.abs(off) > TYPED)
    throw impossible(
      'realization.gains',
      `The gains of the sections make ${off.toFixed(6)} dB more than the response has.`,
      `Give gains whose sum is ${(typed.reduce((a, b) => a + b, 0) - off).toFixed(6)} dB.`,
    )
  return gains
}
