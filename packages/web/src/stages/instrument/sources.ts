import { type DiagramAxis, groupDelay, phase } from '@voskel/core'
import type { FrequencyCurve } from '../../engine/curves'
import { type Computed, IDEAL, levelOf, signalColor, signalDash } from './Over'

/** A curve over frequency as it is to be drawn along an axis, whatever is shown of it. */
export interface Source {
  readonly label: string
  readonly color: number
  readonly dash: readonly number[]
  readonly curve: FrequencyCurve
  /** SI */
  readonly unit: string
  /** 10 dB a decade. */
  readonly isPower: boolean
  /** In dB or degrees already. */
  readonly isLevel: boolean
  /** dB by which it is drawn higher than it is. */
  readonly level: number
}

/** The circuit's signals along an axis; below the output the ideal response. */
export function sourcesOf({ signals, view }: DiagramAxis, computed: Computed, drawn = 0): Source[] {
  const { ideal, frequency, output } = computed
  const list: Source[] = []
  const response = { unit: 'V', isPower: false, isLevel: false }
  if (ideal && signals.includes(output)) {
    const plain = view === 'db' ? null : unequalized(computed)
    if (plain) list.push({ label: 'without equaliser', color: 2, dash: [2, 3], curve: plain, level: 0, ...response })
    list.push({ ...IDEAL, curve: ideal.frequency, level: levelOf(computed), ...response })
  }
  signals.forEach((signal, k) => {
    const curve = frequency?.curves.find((c) => c.signal === signal)
    const look = { color: signalColor(drawn + k), dash: signalDash(drawn + k), level: 0 }
    const label = signal === output ? 'circuit' : signal
    if (curve) list.push({ label, ...look, curve, unit: curve.unit, isPower: curve.isPower, isLevel: curve.isLevel })
  })
  return list
}

/** What the delay equaliser starts from; null without one. */
function unequalized({ ideal }: Computed): FrequencyCurve | null {
  if (!ideal?.ideal.equalizer) return null
  const h = ideal.ideal.unequalized
  const { frequency } = ideal.frequency
  return {
    ...ideal.frequency,
    phase: frequency.map((f) => (phase(h, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(h, 2 * Math.PI * f)),
  }
}

/** Each point's magnitude in the signal's own unit; of a real quantity with its sign. */
export function valuesOf({ curve, level }: Source): Float64Array {
  const factor = 10 ** (level / 20)
  const isReal = curve.im.every((v) => v === 0 || Number.isNaN(v))
  return curve.re.map((re, k) => factor * (isReal ? re : Math.hypot(re, curve.im[k]!)))
}
