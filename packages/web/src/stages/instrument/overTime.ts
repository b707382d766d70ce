import { courseAt, formatQuantity } from '@voskel/core'
import { type Computed, type Over, outputNet } from './Over'
import { unscaled } from './scales'
import { scaleOf, stepMeasuresOf, timeView } from './timeViews'

/** The circuit's signals over time, the ideal step response below the output, with its measures marked. */
export const overTime: Over = {
  id: 'time',
  unit: 's',
  name: 'Time',
  title: ({ time, output }) => {
    const net = outputNet({ output })
    const what = net === null ? output : `voltage at ${net}`
    const settled = time?.isSettled ? ', settled' : ''
    return `${time ? `${time.waveform} at ${time.source}` : 'Step of 1 V'}, ${what}${settled}`
  },
  has: ({ ideal, time }) => ideal !== null || time !== null,

  plot: (diagram, computed) => timeView(diagram.view).plot(diagram, computed),

  scales: () => ({ x: unscaled, backX: unscaled, y: unscaled, right: unscaled }),

  describe({ signals, view, right }, computed) {
    const figures = overTime.figures(computed).map(([name, value]) => `${name} ${value}`)
    const drawn = [...signals, ...(right?.signals ?? [])].join(', ')
    const what = view === 'value' ? 'drawn' : timeView(view).name.toLowerCase()
    return [overTime.title(computed), `${what}: ${drawn}`, figures.join(', ')].filter(Boolean).join('. ')
  },

  figures(computed) {
    const s = stepMeasuresOf(computed)
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
    const final = stepMeasuresOf(computed)?.final
    const part = final ? `, ${formatQuantity((100 * value) / final, '%')} of the final value` : ''
    return `after ${formatQuantity(t, 's')}: ${formatQuantity(value, 'V')}${part}`
  },
}

/** A signal's value at a time, with its unit; null without a curve. */
export function valueAt(
  { time, ideal, output }: Computed,
  at: number,
  signal = output,
): { value: number; unit: string } | null {
  const own = time?.curves.find((c) => c.signal === signal)
  const curve = own ?? (signal === output ? ideal?.time : undefined)
  return curve ? { value: courseAt(curve, at), unit: own?.unit ?? 'V' } : null
}
