import { z } from 'zod'
import type { WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('exponential'),
  low: z.number(),
  high: z.number(),
  riseDelay: z.number().min(0).default(0),
  riseTau: z.number().positive(),
  /** Left out, it does not fall. */
  fallDelay: z.number().min(0).optional(),
  fallTau: z.number().positive().optional(),
})
type Exponential = z.output<typeof schema>

/** Time constants after which nothing is left to see. */
const SETTLES_IN = 7

/** Rises with one time constant from `riseDelay`, falls with another from `fallDelay`. */
export const exponential: WaveformKind<Exponential> = {
  kind: 'exponential',
  name: 'Exponential',
  schema,
  fields: [
    { id: 'low', name: 'From', unit: 'level' },
    { id: 'high', name: 'Towards', unit: 'level' },
    { id: 'riseDelay', name: 'Begins after', unit: 's' },
    { id: 'riseTau', name: 'Time constant', unit: 's' },
    { id: 'fallDelay', name: 'Back after', unit: 's', optional: 'never' },
    { id: 'fallTau', name: 'Time constant back', unit: 's', optional: 'as on' },
  ],
  usual: { kind: 'exponential', low: 0, high: 1, riseDelay: 0, riseTau: 1e-3 },
  describe: (w, said) => `exponential ${said(w.low)} to ${said(w.high)}`,
  card: {
    name: 'EXP',
    most: 6,
    read: ([low = 0, high = 0, riseDelay = 0, riseTau = 0, fallDelay, fallTau]) => ({
      kind: 'exponential',
      low,
      high,
      riseDelay,
      riseTau,
      ...(fallDelay !== undefined && { fallDelay }),
      ...(fallTau !== undefined && { fallTau }),
    }),
    write: (w) => {
      const values = [w.low, w.high, w.riseDelay, w.riseTau]
      if (w.fallDelay !== undefined) values.push(w.fallDelay, w.fallTau ?? w.riseTau)
      return values
    },
  },

  at(w, t) {
    let value = w.low
    if (t > w.riseDelay) value -= (w.high - w.low) * Math.expm1(-(t - w.riseDelay) / w.riseTau)
    if (w.fallDelay !== undefined && t > w.fallDelay) {
      value += (w.high - w.low) * Math.expm1(-(t - w.fallDelay) / (w.fallTau ?? w.riseTau))
    }
    return value
  },

  initial: (w) => w.low,

  corners: (w, stop) => [w.riseDelay, w.fallDelay ?? Infinity].filter((t) => t <= stop).sort((a, b) => a - b),

  segments(w, stop) {
    const height = w.high - w.low
    const fallDelay = w.fallDelay ?? Infinity
    const fallTau = w.fallTau ?? w.riseTau
    const starts = [...new Set([0, w.riseDelay, fallDelay])].filter((t) => t < stop).sort((a, b) => a - b)
    return starts.map((from) => {
      const waves = []
      let value = w.low
      if (from >= w.riseDelay) {
        value += height
        waves.push({
          s: { re: -1 / w.riseTau, im: 0 },
          c: { re: -height * Math.exp(-(from - w.riseDelay) / w.riseTau), im: 0 },
        })
      }
      if (from >= fallDelay) {
        value -= height
        waves.push({
          s: { re: -1 / fallTau, im: 0 },
          c: { re: height * Math.exp(-(from - fallDelay) / fallTau), im: 0 },
        })
      }
      return { from, value, slope: 0, waves }
    })
  },

  longestStep: () => Infinity,

  span: (w) => Math.max(w.riseDelay + SETTLES_IN * w.riseTau, (w.fallDelay ?? 0) + SETTLES_IN * (w.fallTau ?? 0)),
}
