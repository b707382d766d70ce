import { z } from 'zod'
import { OFFSET, AMPLITUDE, POINTS_PER_PERIOD, type WaveformKind, saidHz } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('chirp'),
  offset: z.number().default(0),
  amplitude: z.number(),
  /** Hz at the begin and at the end of `duration`. */
  from: z.number().positive(),
  to: z.number().positive(),
  /** s; afterwards the last frequency goes on. */
  duration: z.number().positive(),
  sweep: z.enum(['linear', 'logarithmic']).default('logarithmic'),
})
type Chirp = z.output<typeof schema>

/** Phase, rad: the integral of 2π·f(t). */
function phaseAt({ from, to, duration, sweep }: Chirp, t: number): number {
  const inside = Math.min(t, duration)
  const after = 2 * Math.PI * to * (t - inside)
  if (sweep === 'linear' || from === to)
    return 2 * Math.PI * (from + ((to - from) * inside) / (2 * duration)) * inside + after
  const rate = Math.log(to / from) / duration
  return (2 * Math.PI * from * Math.expm1(rate * inside)) / rate + after
}

/** A sine whose frequency moves from one value to another. */
export const chirp: WaveformKind<Chirp> = {
  kind: 'chirp',
  name: 'Chirp',
  schema,
  fields: [
    OFFSET,
    AMPLITUDE,
    { id: 'from', name: 'From', unit: 'Hz' },
    { id: 'to', name: 'To', unit: 'Hz' },
    { id: 'duration', name: 'Within', unit: 's' },
    { id: 'sweep', name: 'Sweep', unit: '', words: ['logarithmic', 'linear'] },
  ],
  usual: { kind: 'chirp', offset: 0, amplitude: 1, from: 100, to: 10e3, duration: 50e-3, sweep: 'logarithmic' },
  crest: () => Math.SQRT2,
  describe: (w, said) => `chirp ${said(w.amplitude)}, ${saidHz(w.from)} to ${saidHz(w.to)}`,
  at: (w, t) => w.offset + w.amplitude * Math.sin(phaseAt(w, t)),
  initial: (w) => w.offset,
  corners: (w, stop) => (w.duration < stop ? [w.duration] : []),
  // A moving frequency has no closed answer.
  segments: () => null,
  longestStep: (w) => 1 / (POINTS_PER_PERIOD * Math.max(w.from, w.to)),
  span: (w) => w.duration,
}
