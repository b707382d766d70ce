import { z } from 'zod'
import { straightSegments, type WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('piecewise-linear'),
  /** [s, V or A], times ascending; two equal times are a jump. */
  points: z
    .array(z.tuple([z.number(), z.number()]))
    .min(1)
    .refine((points) => points.every((p, k) => k === 0 || p[0] >= points[k - 1]![0]), 'The times must ascend.'),
})
type PiecewiseLinear = z.output<typeof schema>

/** Straight lines between points; constant before the first and after the last. */
export const piecewiseLinear: WaveformKind<PiecewiseLinear> = {
  kind: 'piecewise-linear',
  name: 'Piecewise linear',
  schema,
  fields: [],
  usual: {
    kind: 'piecewise-linear',
    points: [
      [0, 0],
      [1e-3, 1],
      [2e-3, 0],
    ],
  },
  describe: (w) => `${w.points.length} points`,
  card: {
    name: 'PWL',
    read(values) {
      const points: [number, number][] = []
      for (let k = 0; k + 1 < values.length; k += 2) points.push([values[k]!, values[k + 1]!])
      return { kind: 'piecewise-linear', points }
    },
    write: (w) => w.points.flat(),
  },

  at({ points }, t) {
    let lo = 0
    let hi = points.length
    while (lo < hi) {
      const mid = (lo + hi) >> 1
      if (points[mid]![0] <= t) lo = mid + 1
      else hi = mid
    }
    if (lo === 0) return points[0]![1]
    if (lo === points.length) return points[lo - 1]![1]
    const [t0, v0] = points[lo - 1]!
    const [t1, v1] = points[lo]!
    return v0 + ((v1 - v0) * (t - t0)) / (t1 - t0)
  },

  initial: ({ points }) => {
    // A jump at t = 0 has not happened yet; otherwise the value there.
    const first = points[0]!
    return first[0] >= 0 ? first[1] : piecewiseLinear.at({ kind: 'piecewise-linear', points }, 0)
  },

  corners: ({ points }, stop) => points.map(([t]) => t).filter((t) => t >= 0 && t <= stop),

  segments: (w, stop) => straightSegments(piecewiseLinear, w, stop),

  longestStep: () => Infinity,

  span: ({ points }) => points.at(-1)![0],
}
