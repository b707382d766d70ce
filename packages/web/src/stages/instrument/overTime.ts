import { type Diagram, formatQuantity, type StepMeasures } from '@voskel/core'
import { extentOf, type Mark, type PlotCurve } from '../../diagram/plot'
import { lowerBound } from '../../diagram/paint'
import { roundTop } from '../../diagram/values'
import { type TimeCurve } from '../../engine/curves'
import { scalesOf } from './scales'
import { type Computed, IDEAL, levelOf, type Over, signalColor, signalDash, outputNet } from './Over'

/** The circuit's signals over time, the ideal step response below the output, with its measures marked. */
export const overTime: Over = {
  id: 'time',
  unit: 's',
  name: 'Time',
  title: ({ time, output }) => {
    const net = outputNet({ output })
    const what = net === null ? output : `voltage at ${net}`
    return `${time ? `${time.waveform} at ${time.source}` : 'Step of 1 V'}, ${what}`
  },
  has: ({ ideal, time }) => ideal !== null || (time?.curves.length ?? 0) > 0,

  plot(diagram, computed) {
    const curves = curvesOf(diagram, computed)
    return {
      x: { title: 'Time, s', min: 0, max: computed.window },
      y: valueAxis(diagram, computed, curves),
      curves,
      marks: stepMarks(diagram, computed),
    }
  },

  scales: (diagram) => scalesOf(diagram, 0),

  describe({ signals }, computed) {
    const figures = overTime.figures(computed).map(([name, value]) => `${name} ${value}`)
    return [overTime.title(computed), `drawn: ${signals.join(', ')}`, figures.join(', ')].filter(Boolean).join('. ')
  },

  figures(computed) {
    const s = measuresOf(computed)
    if (!s) return []
    const q = (value: number | null, unit: string) => (value === null ? '–' : formatQuantity(value, unit))
    return [
      ['rise 10–90 %', q(s.riseTime, 's')],
      ['delay to 50 %', q(s.delay, 's')],
      ['overshoot', q(s.overshootPercent, '%')],
      ['settled to 1 %', q(s.settlingTime, 's')],
      ['final', q(s.final === null ? null : s.final * scaleOf(computed), 'V')],
    ]
  },

  readOut(computed, at) {
    const t = Math.min(Math.max(at, 0), computed.window)
    const read = valueAt(computed, t)
    if (!read) return null
    const { value } = read
    const final = measuresOf(computed)?.final
    const part = final ? `, ${formatQuantity((100 * value) / final, '%')} of the final value` : ''
    return `after ${formatQuantity(t, 's')}: ${formatQuantity(value, 'V')}${part}`
  },
}

/** The output's value at a time, with its unit; null without a curve. */
export function valueAt({ time, ideal, output }: Computed, at: number): { value: number; unit: string } | null {
  const own = time?.curves.find((c) => c.signal === output)
  const curve = own ?? ideal?.time
  return curve ? { value: between(curve, at), unit: own?.unit ?? 'V' } : null
}

const isStep = ({ time }: Computed): boolean => time?.drive !== 'waveform'

/** Of the answer to a step, which alone has measures. */
function measuresOf(computed: Computed): StepMeasures | null {
  if (!isStep(computed)) return null
  return computed.roots?.step ?? (computed.time ? null : (computed.ideal?.step ?? null))
}

/** The ideal response is drawn, and measured, at the circuit's level. */
const idealScale = (computed: Computed): number => 10 ** (levelOf(computed) / 20)
const scaleOf = (computed: Computed): number => (computed.circuit ? 1 : idealScale(computed))

/** The value by the straight line between the two nearest points. */
function between({ time, value }: TimeCurve, t: number): number {
  const k = Math.min(time.length - 1, Math.max(1, lowerBound(time, t)))
  const [t0, t1] = [time[k - 1]!, time[k]!]
  const [v0, v1] = [value[k - 1]!, value[k]!]
  return t1 > t0 ? v0 + ((v1 - v0) * (t - t0)) / (t1 - t0) : v1
}

function curvesOf({ signals }: Diagram, computed: Computed): PlotCurve[] {
  const { ideal, time } = computed
  const list: PlotCurve[] = []
  if (ideal && isStep(computed) && signals.includes(computed.output)) {
    const scale = idealScale(computed)
    list.push({ ...IDEAL, x: ideal.time.time, y: ideal.time.value.map((v) => v * scale) })
  }
  signals.forEach((signal, k) => {
    const curve = time?.curves.find((c) => c.signal === signal)
    const label = signal === computed.output ? 'circuit' : signal
    if (curve) list.push({ label, x: curve.time, y: curve.value, color: signalColor(k), dash: signalDash(k) })
  })
  return list
}

function valueAxis({ signals }: Diagram, computed: Computed, curves: readonly PlotCurve[]) {
  const units = new Set(computed.time?.curves.filter((c) => signals.includes(c.signal)).map((c) => c.unit))
  const unit = units.size === 1 ? [...units][0]! : units.size === 0 ? 'V' : ''
  const title = unit === 'V' ? 'Voltage, V' : unit === 'A' ? 'Current, A' : unit === '' ? 'Value' : `Value, ${unit}`
  const [lowest, highest] = extentOf(...curves.map((c) => c.y)) ?? [0, 1]
  const s = measuresOf(computed)
  if (s) {
    const top = roundTop(Math.max(s.peak ?? 1, s.final ?? 1) * scaleOf(computed))
    // The axis begins at zero unless the curve really goes below: rounding is not worth a stripe.
    return { title, min: lowest > -0.01 * top ? 0 : -roundTop(-lowest), max: top }
  }
  const max = highest > 0 ? roundTop(highest) : 0
  const min = lowest < 0 ? -roundTop(-lowest) : 0
  return { title, min, max: max > min ? max : min + 1 }
}

function stepMarks({ signals }: Diagram, computed: Computed): Mark[] {
  const s = measuresOf(computed)
  if (!s || s.final === null || !signals.includes(computed.output)) return []
  const scale = scaleOf(computed)
  const final = s.final * scale
  const soft = { kind: 'line', ink: 'soft', dash: [5, 4] } as const
  const marks: Mark[] = [
    { kind: 'area', from: [0, final * 0.99], to: [Infinity, final * 1.01] },
    { ...soft, from: [0, final], to: [Infinity, final] },
  ]
  if (s.settlingTime !== null && s.settlingTime > 0) {
    const side = s.settlingTime > computed.window / 2 ? 'left' : 'right'
    const text = `settled ${formatQuantity(s.settlingTime, 's')}`
    marks.push(
      { ...soft, from: [s.settlingTime, 0], to: [s.settlingTime, final] },
      { kind: 'text', at: [s.settlingTime, final * 0.08], text, side },
    )
  }
  if (s.delay !== null && s.delay > 0) {
    const at = [s.delay, final / 2] as const
    const text = `50 % after ${formatQuantity(s.delay, 's')}`
    marks.push({ kind: 'point', at }, { kind: 'text', at, text, side: 'right' })
  }
  if (s.overshootPercent && s.peak !== null && s.peakTime !== null) {
    const at = [s.peakTime, s.peak * scale] as const
    const text = `overshoot ${formatQuantity(s.overshootPercent, '%')}`
    marks.push({ kind: 'point', at }, { kind: 'text', at, text, side: 'right', down: -10 })
  }
  return marks
}
