import { z } from 'zod'
import {
  OFFSET,
  AMPLITUDE,
  FREQUENCY,
  DELAY,
  PERIODS_SHOWN,
  periodOf,
  POINTS_PER_PERIOD,
  type Segment,
  type WaveformKind,
  saidHz,
} from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('burst'),
  offset: z.number().default(0),
  amplitude: z.number(),
  frequency: z.number().positive(),
  /** Whole or half periods that sound. */
  cycles: z.number().positive(),
  delay: z.number().min(0).default(0),
  /** From one burst to the next, s; left out, there is one. */
  repeat: z.number().positive().optional(),
})
type Burst = z.output<typeof schema>

/** Most bursts that are listed. */
const MOST_BURSTS = 1e5

const starts = (w: Burst, stop: number): number[] => {
  if (w.repeat === undefined) return w.delay < stop ? [w.delay] : []
  const count = Math.min(MOST_BURSTS, Math.max(0, Math.ceil((stop - w.delay) / w.repeat)))
  return Array.from({ length: count }, (_, k) => w.delay + k * w.repeat!)
}

/** A number of periods of a sine, once or again and again. */
export const burst: WaveformKind<Burst> = {
  kind: 'burst',
  name: 'Tone burst',
  schema,
  fields: [
    OFFSET,
    AMPLITUDE,
    FREQUENCY,
    { id: 'cycles', name: 'Periods', unit: '' },
    DELAY,
    { id: 'repeat', name: 'Again after', unit: 's', optional: 'once' },
  ],
  usual: { kind: 'burst', offset: 0, amplitude: 1, frequency: 10e3, cycles: 5, delay: 0 },
  crest: () => Math.SQRT2,
  describe: (w, said) => `${w.cycles} periods of ${said(w.amplitude)}, ${saidHz(w.frequency)}`,

  at(w, t) {
    if (t < w.delay) return w.offset
    const start = w.repeat === undefined ? w.delay : periodOf(t, w.delay, w.repeat).start
    const sounds = t < start + w.cycles / w.frequency
    return w.offset + (sounds ? w.amplitude * Math.sin(2 * Math.PI * w.frequency * (t - start)) : 0)
  },

  initial: (w) => w.offset,

  corners: (w, stop) =>
    starts(w, stop)
      .flatMap((t) => [t, t + w.cycles / w.frequency])
      .filter((t) => t <= stop),

  segments(w, stop) {
    const silent = (from: number): Segment => ({ from, value: w.offset, slope: 0, waves: [] })
    const wave = { s: { re: 0, im: 2 * Math.PI * w.frequency }, c: { re: 0, im: -w.amplitude } }
    const sounding = starts(w, stop).flatMap((from, k, all): Segment[] => {
      const end = from + w.cycles / w.frequency
      const next = all[k + 1] ?? stop
      return [{ ...silent(from), waves: [wave] }, ...(end < next ? [silent(end)] : [])]
    })
    return w.delay > 0 ? [silent(0), ...sounding] : sounding
  },

  longestStep: (w) => 1 / (POINTS_PER_PERIOD * w.frequency),

  period: (w) => w.repeat ?? null,

  span: (w) => w.delay + (w.repeat === undefined ? w.cycles / w.frequency : PERIODS_SHOWN * w.repeat),
}
