import { magnitudeDb } from '../../numeric/transferFunction.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { Limit } from '../Topology.js'
import type { Factor } from './factors.js'

/** Points at which levels are looked at, and how far beyond the outermost poles. */
const POINTS = 240
const BEYOND = 4

/** What every output of a chain swings to for a sine of a peak value at the input, and how fast it has to. */
export interface Headroom {
  readonly limits: readonly Limit[]
  /** Where the amplifiers cannot: in sentences. */
  readonly remarks: readonly string[]
}

/**
 * @param gains of the sections, as factors of the highest powers of s
 * @param lead what the input is multiplied by before the first section
 * @param signal V, peak
 * @param amplifier V and V/s, where they are known
 */
export function headroom(
  factors: readonly Factor[],
  gains: readonly number[],
  lead: number,
  signal: number,
  amplifier: { readonly swing?: number; readonly slew?: number },
): Headroom {
  const sizes = factors.flatMap((f) => f.poles.map((p) => Math.hypot(p.re, p.im)))
  const [low, high] = [Math.min(...sizes) / BEYOND, Math.max(...sizes) * BEYOND]
  const omegas = [...Array.from({ length: POINTS }, (_, k) => low * (high / low) ** (k / (POINTS - 1))), ...sizes]
  const limits: Limit[] = []
  const remarks: string[] = []
  const { swing, slew } = amplifier
  factors.forEach((_, k) => {
    const before = factors.slice(0, k + 1)
    const h = {
      poles: before.flatMap((f) => f.poles),
      zeros: before.flatMap((f) => f.zeros),
      gain: lead * gains.slice(0, k + 1).reduce((product, g) => product * g, 1),
    }
    const levels = omegas.map((w) => signal * 10 ** (magnitudeDb(h, w) / 20))
    const peak = Math.max(...levels)
    // A sine beyond the poles is as steep as one pleases: what the filter is for ends there.
    const rate = Math.max(...levels.map((v, j) => (omegas[j] <= high / BEYOND ? omegas[j] * v : 0)))
    limits.push(
      { id: `swing-${k + 1}`, name: `Swing of section ${k + 1}`, value: peak, unit: 'V' },
      { id: `slew-${k + 1}`, name: `Slew rate of section ${k + 1}`, value: rate, unit: 'V/s' },
    )
    if (swing !== undefined && peak > swing)
      remarks.push(
        `Section ${k + 1} would swing to ${formatQuantity(peak, 'V', 3)}; its amplifier ends at ${formatQuantity(swing, 'V', 3)}.`,
      )
    if (slew !== undefined && rate > slew)
      remarks.push(
        `Section ${k + 1} would need ${formatQuantity(rate, 'V/s', 3)}; its amplifier is limited to ${formatQuantity(slew, 'V/s', 3)}.`,
      )
  })
  return { limits, remarks }
}
