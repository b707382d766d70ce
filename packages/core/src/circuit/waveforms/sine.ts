import { z } from 'zod'
import {
  OFFSET,
  AMPLITUDE,
  FREQUENCY,
  DELAY,
  PERIODS_SHOWN,
  POINTS_PER_PERIOD,
  type WaveformKind,
  saidHz,
} from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('sine'),
  offset: z.number().default(0),
  amplitude: z.number(),
  frequency: z.number().positive(),
  delay: z.number().min(0).default(0),
  /** 1/s */
  damping: z.number().default(0),
  /** degrees */
  phase: z.number().default(0),
})
type Sine = z.output<typeof schema>

/** offset + amplitude · e^(−damping·(t − delay)) · sin(2πf(t − delay) + phase); before the delay, its value there. */
export const sine: WaveformKind<Sine> = {
  kind: 'sine',
  name: 'Sine',
  schema,
  fields: [
    OFFSET,
    AMPLITUDE,
    FREQUENCY,
    DELAY,
    { id: 'damping', name: 'Damping', unit: '1/s' },
    { id: 'phase', name: 'Phase', unit: '°' },
  ],
  usual: { kind: 'sine', offset: 0, amplitude: 1, frequency: 1e3, delay: 0, damping: 0, phase: 0 },
  crest: () => Math.SQRT2,
  describe: (w, said) => `sine ${said(w.amplitude)}, ${saidHz(w.frequency)}`,
  card: {
    name: 'SIN',
    most: 6,
    read: ([offset = 0, amplitude = 0, frequency = 0, delay = 0, damping = 0, phase = 0]) => ({
      kind: 'sine',
      offset,
      amplitude,
      frequency,
      delay,
      damping,
      phase,
    }),
    write: (w) => [w.offset, w.amplitude, w.frequency, w.delay, w.damping, w.phase],
  },

  at(w, t) {
    const local = Math.max(0, t - w.delay)
    const angle = 2 * Math.PI * w.frequency * local + (w.phase * Math.PI) / 180
    return w.offset + w.amplitude * Math.exp(-w.damping * local) * Math.sin(angle)
  },

  initial(w) {
    return sine.at(w, 0)
  },

  corners: (w, stop) => (w.delay > 0 && w.delay <= stop ? [w.delay] : []),

  segments(w, stop) {
    const angle = (w.phase * Math.PI) / 180
    const before = { from: 0, value: sine.at(w, 0), slope: 0, waves: [] }
    // A·e^(−θτ)·sin(ωτ + φ) = Re (−j·A·e^(jφ)·e^((−θ + jω)τ))
    const wave = {
      s: { re: -w.damping, im: 2 * Math.PI * w.frequency },
      c: { re: w.amplitude * Math.sin(angle), im: -w.amplitude * Math.cos(angle) },
    }
    const sounding = { from: w.delay, value: w.offset, slope: 0, waves: [wave] }
    return w.delay === 0 ? [sounding] : w.delay < stop ? [before, sounding] : [before]
  },

  // So many points a period that the polynomial between steps errs by less than 1e-5.
  longestStep: (w) => 1 / (POINTS_PER_PERIOD * w.frequency),
  period: (w) => (w.damping === 0 ? 1 / w.frequency : null),

  span: (w) => w.delay + PERIODS_SHOWN / w.frequency,
}
