import { formatQuantity, type LargeSignalPoint } from '@voskel/core'
import { type FrequencyCurve, readCurve } from '../../engine/curves'

/** How the output answers to a sine of real size. */
export interface LargeSignal {
  /** Of the input, in its unit. */
  readonly amplitude: number
  readonly unit: string
  readonly points: readonly LargeSignalPoint[]
}

/** dB and degrees by which the large signal has parted from the small one. */
const PARTED_DB = 1
const PARTED_DEGREES = 5

export const largeSignalLabel = ({ amplitude, unit }: LargeSignal): string => `at ${formatQuantity(amplitude, unit, 3)}`

/** The points as a curve over frequency; phase as near to the small signal's as whole turns bring it. */
export function largeSignalCurve({ points }: LargeSignal, own: FrequencyCurve | undefined): FrequencyCurve {
  const sorted = points.toSorted((a, b) => a.frequency - b.frequency)
  const array = (of: (p: LargeSignalPoint) => number) => Float64Array.from(sorted, of)
  const frequency = array((p) => p.frequency)
  const phase = array((p) => {
    const turns = own ? Math.round((readCurve(own, p.frequency).phase - p.phase) / 360) : 0
    return p.phase + 360 * turns
  })
  return {
    frequency,
    db: array((p) => 20 * Math.log10(p.gain)),
    phase,
    re: array((p) => p.gain * Math.cos((p.phase * Math.PI) / 180)),
    im: array((p) => p.gain * Math.sin((p.phase * Math.PI) / 180)),
    delay: new Float64Array(sorted.length).fill(NaN),
  }
}

/** Where the large signal is off the small one by more than 1 dB or 5°. */
export interface Parting {
  readonly in: 'db' | 'phase'
  /** Hz: the first of them is reached here, or it lies beyond at the first point already. */
  readonly from: number
  readonly to: number
  /** The most, and where. */
  readonly by: number
  readonly at: number
}

/** Each stretch of frequencies over which the two have parted, by straight lines in log f between the points. */
export function partings(large: LargeSignal, own: FrequencyCurve): Parting[] {
  const curve = largeSignalCurve(large, own)
  return (['db', 'phase'] as const).flatMap((view) => {
    const limit = view === 'db' ? PARTED_DB : PARTED_DEGREES
    const off = curve.frequency.map((f, k) => curve[view][k]! - readCurve(own, f)[view])
    const found: Parting[] = []
    const crossing = (k: number) => {
      const [a, b] = [Math.abs(off[k - 1]!), Math.abs(off[k]!)]
      return curve.frequency[k - 1]! * (curve.frequency[k]! / curve.frequency[k - 1]!) ** ((limit - a) / (b - a))
    }
    for (let k = 0; k < off.length; k++) {
      if (!(Math.abs(off[k]!) > limit)) continue
      const from = k === 0 ? curve.frequency[0]! : crossing(k)
      let most = k
      for (; k < off.length && Math.abs(off[k]!) > limit; k++) if (Math.abs(off[k]!) > Math.abs(off[most]!)) most = k
      const to = k < off.length ? crossing(k) : curve.frequency.at(-1)!
      found.push({ in: view, from, to, by: off[most]!, at: curve.frequency[most]! })
    }
    return found
  })
}

/** A parting in a sentence. */
export function partingText({ in: view, from, to, by, at }: Parting): string {
  const q = formatQuantity
  const [what, unit] = view === 'db' ? ['gain', 'dB'] : ['phase', '°']
  return `The ${what} parts by more than ${view === 'db' ? '1 dB' : '5°'} from ${q(from, 'Hz')} to ${q(to, 'Hz')}, at most ${q(by, unit, 3)} at ${q(at, 'Hz')}.`
}
