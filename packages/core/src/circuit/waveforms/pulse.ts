import { z } from 'zod'
import { DELAY, PERIODS_SHOWN, periodOf, straightSegments, type WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('pulse'),
  low: z.number(),
  high: z.number(),
  delay: z.number().min(0).default(0),
  rise: z.number().min(0).default(0),
  fall: z.number().min(0).default(0),
  /** Time at the high value; left out, it stays high: a step. */
  width: z.number().min(0).optional(),
  /** Left out, there is one pulse. */
  period: z.number().positive().optional(),
})
type Pulse = z.output<typeof schema>

/** Most corners that are listed; a pulse train of more periods than this within the window is refused upstream. */
const MOST_PERIODS = 1e6

/** Where, from a period's begin on, it has begun, risen, begins to fall, has fallen. */
function shapeOf({
  rise,
  width = Infinity,
  fall,
}: Pulse): [begin: number, risen: number, falling: number, fallen: number] {
  return [0, rise, rise + width, rise + width + fall]
}

/** A step, a pulse or a pulse train. Rise and fall times of zero are true jumps. */
export const pulse: WaveformKind<Pulse> = {
  kind: 'pulse',
  name: 'Pulse',
  schema,
  fields: [
    { id: 'low', name: 'Low', unit: 'level' },
    { id: 'high', name: 'High', unit: 'level' },
    DELAY,
    { id: 'rise', name: 'Rise time', unit: 's' },
    { id: 'fall', name: 'Fall time', unit: 's' },
    { id: 'width', name: 'Time at high', unit: 's', optional: 'stays: a step' },
    { id: 'period', name: 'Period', unit: 's', optional: 'once' },
  ],
  usual: { kind: 'pulse', low: 0, high: 1, delay: 0, rise: 0, fall: 0 },
  describe: (w, said) =>
    w.width === undefined
      ? `step ${w.low === 0 ? '' : `${said(w.low)} to `}${said(w.high)}`
      : `${w.period === undefined ? 'pulse' : 'pulses'} ${said(w.low)} to ${said(w.high)}`,
  card: {
    name: 'PULSE',
    most: 7,
    read: ([low = 0, high = 0, delay = 0, rise = 0, fall = 0, width, period]) => ({
      kind: 'pulse',
      low,
      high,
      delay,
      rise,
      fall,
      ...(width !== undefined && { width }),
      ...(period !== undefined && { period }),
    }),
    write: (w) => {
      const values = [w.low, w.high, w.delay, w.rise, w.fall]
      // High until the period's end is a width that no period outlasts.
      const width = w.width ?? w.period
      if (width !== undefined) values.push(width)
      if (w.period !== undefined) values.push(w.period)
      return values
    },
  },

  at(w, t) {
    if (t < w.delay) return w.low
    const start = w.period === undefined ? w.delay : periodOf(t, w.delay, w.period).start
    const [, risen, falling, fallen] = shapeOf(w)
    if (t < start + risen) return w.low + ((w.high - w.low) * (t - start)) / w.rise
    if (t < start + falling) return w.high
    if (t < start + fallen) return w.high + ((w.low - w.high) * (t - start - falling)) / w.fall
    return w.low
  },

  initial: (w) => w.low,

  corners(w, stop) {
    // What a period's end cuts off has no corner.
    const shape = shapeOf(w).filter((offset) => Number.isFinite(offset) && offset < (w.period ?? Infinity))
    const corners: number[] = []
    const periods = w.period === undefined ? 1 : Math.min(MOST_PERIODS, Math.ceil((stop - w.delay) / w.period) + 1)
    for (let k = 0; k < periods; k++) {
      const start = w.delay + k * (w.period ?? 0)
      for (const offset of shape) if (start + offset <= stop) corners.push(start + offset)
    }
    return corners
  },

  segments: (w, stop) => straightSegments(pulse, w, stop),

  longestStep: () => Infinity,

  period: (w) => w.period ?? null,

  span: (w) => w.delay + (w.period === undefined ? w.rise + (w.width ?? 0) + w.fall : PERIODS_SHOWN * w.period),
}
