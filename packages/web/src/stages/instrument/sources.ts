import { type DiagramAxis, groupDelay, phase } from '@voskel/core'
import type { PlotCurve } from '../../diagram/plot'
import { type FrequencyCurve, readCurve } from '../../engine/curves'
import { largeSignalCurve, largeSignalLabel } from './largeSignal'
import { besideLook, type Computed, IDEAL, levelOf, signalColor, signalDash } from './Over'

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
  /** What it is of. */
  readonly signal: string
  readonly marker?: PlotCurve['marker']
  /** It stands beside the design's own curves: pinned, or measured. */
  readonly isBeside?: boolean
}

/** The circuit's signals along an axis; below the output the ideal response. */
export function sourcesOf({ signals, view }: DiagramAxis, computed: Computed, drawn = 0): Source[] {
  const { ideal, frequency, output } = computed
  const list: Source[] = []
  const response = { unit: 'V', isPower: false, isLevel: false, signal: output }
  if (ideal && signals.includes(output)) {
    const plain = view === 'db' ? null : unequalized(computed)
    if (plain) list.push({ label: 'without equaliser', color: 2, dash: [2, 3], curve: plain, level: 0, ...response })
    list.push({ ...IDEAL, curve: ideal.frequency, level: levelOf(computed), ...response })
  }
  signals.forEach((signal, k) => {
    const curve = frequency?.curves.find((c) => c.signal === signal)
    const look = { color: signalColor(drawn + k), dash: signalDash(drawn + k), level: 0 }
    const label = signal === output ? 'circuit' : signal
    const { unit = '', isPower = false, isLevel = false } = curve ?? {}
    if (curve) list.push({ label, signal, ...look, curve, unit, isPower, isLevel })
  })
  list.push(...besideOf(signals, computed))
  const { largeSignal } = computed
  if (largeSignal?.points.length && signals.includes(output)) {
    const own = frequency?.curves.find((c) => c.signal === output)
    const { unit = 'V', isPower = false, isLevel = false } = own ?? {}
    const facts = { signal: output, unit, isPower, isLevel, level: 0, isBeside: true }
    const curve = largeSignalCurve(largeSignal, own)
    list.push({ label: largeSignalLabel(largeSignal), ...facts, color: 2, dash: [], marker: 'cross', curve })
  }
  return list
}

/** What was pinned or measured of some signals. */
function besideOf(signals: readonly string[], { compared = [], frequency }: Computed): Source[] {
  const counts = { run: 0, data: 0 }
  return compared.flatMap(({ entry, frequency: curves }) => {
    const look = besideLook(entry.kind, counts[entry.kind]++)
    return curves.flatMap((curve): Source[] => {
      if (!signals.includes(curve.signal)) return []
      const { signal, unit, isPower, isLevel } = curve
      const label = signals.length > 1 ? `${entry.name}: ${signal}` : entry.name
      const own = frequency?.curves.find((c) => c.signal === signal)
      const facts = { label, signal, unit, isPower, isLevel, level: 0, isBeside: true }
      return [{ ...facts, dash: [], ...look, curve: own ? turnedTo(curve, own) : curve }]
    })
  })
}

/** A curve by as many whole turns of phase as bring it nearest to another where both have their middle. */
function turnedTo(curve: FrequencyCurve, own: FrequencyCurve): FrequencyCurve {
  const k = curve.frequency.findIndex((f, j) => f >= own.frequency[0]! && Number.isFinite(curve.phase[j]!))
  if (k < 0) return curve
  const turns = Math.round((readCurve(own, curve.frequency[k]!).phase - curve.phase[k]!) / 360)
  return turns === 0 ? curve : { ...curve, phase: curve.phase.map((v) => v + 360 * turns) }
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
export function valuesOf({ curve, level, isPower }: Source): Float64Array {
  const factor = 10 ** (level / 20)
  const isReal = curve.im.every((v) => v === 0 || Number.isNaN(v))
  return curve.re.map((re, k) => {
    const size = isReal ? re : Math.hypot(re, curve.im[k]!)
    // Of a level alone there is a size and no angle.
    return factor * (Number.isNaN(size) ? 10 ** (curve.db[k]! / (isPower ? 10 : 20)) : size)
  })
}
