import { z } from 'zod'
import {
  OFFSET,
  AMPLITUDE,
  FREQUENCY,
  DELAY,
  PERIODS_SHOWN,
  periodOf,
  straightSegments,
  type WaveformKind,
  saidHz,
} from './Waveform.js'

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

/** Begin and middle corner of a period, s: by the sums that list the corners. */
function cornersOf({ delay, duty, frequency }: Periodic, k: number): { start: number; middle: number } {
  const start = delay + k / frequency
  return { start, middle: start + duty / frequency }
}

/** Square, triangle or sawtooth, which rises over the whole period; before the delay it rests at its first value. */
export const periodic: WaveformKind<Periodic> = {
  kind: 'periodic',
  name: 'Square, triangle, sawtooth',
  schema,
  fields: [
    { id: 'shape', name: 'Shape', unit: '', words: ['square', 'triangle', 'sawtooth'] },
    OFFSET,
    AMPLITUDE,
    FREQUENCY,
    DELAY,
    { id: 'duty', name: 'Part at high, or rising', unit: '' },
  ],
  usual: { kind: 'periodic', shape: 'square', offset: 0, amplitude: 1, frequency: 1e3, delay: 0, duty: 0.5 },
  crest: ({ shape }) => (shape === 'square' ? 1 : Math.sqrt(3)),
  describe: (w, said) => `${w.shape} ${said(w.amplitude)}, ${saidHz(w.frequency)}`,

  at(w, t) {
    const { k } = periodOf(t, w.delay, 1 / w.frequency)
    // The period as the corners have it, whichever way the product was rounded.
    const own = [k - 1, k, k + 1].findLast((n) => n >= 0 && t >= cornersOf(w, n).start) ?? 0
    const { start, middle } = cornersOf(w, own)
    if (t < start) return periodic.initial(w)
    const { offset, amplitude, shape, frequency, duty } = w
    if (shape === 'square') return offset + (t < middle ? amplitude : -amplitude)
    if (shape === 'sawtooth') return offset + amplitude * (2 * (t - start) * frequency - 1)
    const part = t < middle ? (2 * (t - start) * frequency) / duty : 2 - (2 * (t - middle) * frequency) / (1 - duty)
    return offset + amplitude * (part - 1)
  },

  initial: (w) => w.offset + (w.shape === 'square' ? w.amplitude : -w.amplitude),

  corners(w, stop) {
    const corners: number[] = []
    const periods = Math.min(MOST_PERIODS, Math.ceil((stop - w.delay) * w.frequency) + 1)
    for (let k = 0; k < periods; k++) {
      const { start, middle } = cornersOf(w, k)
      corners.push(start)
      if (w.shape !== 'sawtooth') corners.push(middle)
    }
    return corners.filter((t) => t <= stop)
  },

  segments: (w, stop) => straightSegments(periodic, w, stop),

  longestStep: () => Infinity,

  period: (w) => 1 / w.frequency,

  span: (w) => w.delay + PERIODS_SHOWN / w.frequency,
}
