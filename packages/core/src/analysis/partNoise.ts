import { NoiseAnalysis } from './noise.js'
import type { Mna } from './mna.js'
import type { SignalLike } from './signals.js'

/** The noise of an output over frequency, whole and by the parts that it comes from. */
export interface NoiseCurves {
  /** Hz */
  readonly frequency: Float64Array
  /** V/√Hz or A/√Hz, at the output */
  readonly output: Float64Array
  /** Each part's own at the output, the greatest first. */
  readonly parts: readonly { readonly name: string; readonly density: Float64Array; readonly power: number }[]
  /** V or A, effective, of the whole range */
  readonly total: number
}

/**
 * Noise densities with each part's share.
 *
 * @param frequency Hz, ascending, at least two
 * @param marks frequencies, Hz, near which the density bends
 * @throws VoskelError as `NoiseAnalysis`
 */
export function noiseCurves(
  mna: Mna,
  options: { input?: string; output?: SignalLike },
  frequency: Float64Array,
  marks: readonly number[] = [],
): NoiseCurves {
  const [from, to] = [frequency[0], frequency.at(-1)!]
  const noise = new NoiseAnalysis(mna, { ...options, range: [from, to] })
  const output = new Float64Array(frequency.length)
  const byPart = new Map<string, Float64Array>()
  frequency.forEach((f, k) => {
    output[k] = Math.sqrt(noise.at(f).output)
    for (const { name, density: own } of noise.shares(f)) {
      let curve = byPart.get(name)
      if (!curve) byPart.set(name, (curve = new Float64Array(frequency.length)))
      curve[k] = Math.sqrt(own)
    }
  })
  const parts = [...byPart].map(([name, density]) => ({ name, density, power: powerOf(frequency, density) }))
  return {
    frequency,
    output,
    parts: parts.sort((a, b) => b.power - a.power),
    total: Math.sqrt(noise.power(from, to, marks)),
  }
}

/** ∫ d² df by straight lines over the logarithm of the frequency: shares are told to three digits. */
function powerOf(frequency: Float64Array, density: Float64Array): number {
  let sum = 0
  for (let k = 1; k < frequency.length; k++) {
    const [a, b] = [density[k - 1] ** 2 * frequency[k - 1], density[k] ** 2 * frequency[k]]
    sum += ((a + b) / 2) * Math.log(frequency[k] / frequency[k - 1])
  }
  return sum
}
