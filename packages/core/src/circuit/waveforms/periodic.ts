import { z } from 'zod'
import { PERIODS_SHOWN, straightSegments, type WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('periodic'),
  shape: z.enum(['square', 'triangle', 'sawtooth']),
  offset: z.number().default(0),
  /** Highest less mean, V or A. */
  amplitude: z.number(),
  frequency: z.number().positive(),
  delay: z.number().min(0).default(0),
  /** Part of a period at the high value (square), or rising (triangle). */
  duty: z.number().gt(0).lt(1).default(0.5),
})
type Periodic = z.output<typeof schema>

/** Most corners that are listed. */
const MOST_PERIODS = 1e6

/** The shape's value in −1 … 1 at a part of its period. */
function shapeAt({ shape, duty }: Periodic, part: number): number {
  if (shape === 'square') return part < duty ? 1 : -1
  if (shape === 'sawtooth') return 2 * part - 1
  return part < duty ? (2 * part) / duty - 1 : 1 - (2 * (part - duty)) / (1 - duty)
}

/** Square, triangle or sawtooth, which rises over the whole period; before the delay it rests at its first value. */
export const periodic: WaveformKind<Periodic> = {
  kind: 'periodic',
  name: 'Square, triangle, sawtooth',
  schema,

  at(w, t) {
    const cycles = (t - w.delay) * w.frequency
    // A corner belongs to what follows it, however the product was rounded.
    const part = cycles - Math.floor(cycles + 1e-12)
    return w.offset + w.amplitude * shapeAt(w, t < w.delay ? 0 : Math.max(0, part))
  },

  initial: (w) => w.offset + w.amplitude * shapeAt(w, 0),

  corners(w, stop) {
    const corners: number[] = []
    const periods = Math.min(MOST_PERIODS, Math.ceil((stop - w.delay) * w.frequency) + 1)
    for (let k = 0; k < periods; k++) {
      corners.push(w.delay + k / w.frequency)
      if (w.shape !== 'sawtooth') corners.push(w.delay + (k + w.duty) / w.frequency)
    }
    return corners.filter((t) => t <= stop)
  },

  segments: (w, stop) => straightSegments(periodic, w, stop),

  longestStep: () => Infinity,

  span: (w) => w.delay + PERIODS_SHOWN / w.frequency,
}
