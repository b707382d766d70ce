import { z } from 'zod'
import { gaussian } from '../../numeric/random.js'
import { OFFSET, straightSegments, type WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('noise'),
  offset: z.number().default(0),
  /** V or A, root mean square of the corners. */
  rms: z.number().min(0),
  /** Hz: corners stand 1/(2·bandwidth) apart. */
  bandwidth: z.number().positive(),
  /** The same seed, the same noise. */
  seed: z.int().min(0),
})
type Noise = z.output<typeof schema>

/** Most corners that are listed. */
const MOST_CORNERS = 2e6

const spacing = (w: Noise) => 1 / (2 * w.bandwidth)

/** Corners that are shown. */
const CORNERS_SHOWN = 200

/** Normally distributed values at even distances with straight lines between them; each depends on seed and place alone. */
export const noiseWaveform: WaveformKind<Noise> = {
  kind: 'noise',
  name: 'Noise',
  schema,
  fields: [
    OFFSET,
    { id: 'rms', name: 'Effective value', unit: 'level' },
    { id: 'bandwidth', name: 'Bandwidth', unit: 'Hz' },
    { id: 'seed', name: 'Seed', unit: '' },
  ],
  usual: { kind: 'noise', offset: 0, rms: 0.1, bandwidth: 10e3, seed: 1 },
  describe: (w, said) => `noise ${said(w.rms)} rms`,
  at(w, t) {
    const place = t / spacing(w)
    const k = Math.floor(place + 1e-9)
    const [a, b] = [gaussian(w.seed, k), gaussian(w.seed, k + 1)]
    return w.offset + w.rms * (a + (b - a) * Math.max(0, place - k))
  },
  initial: (w) => w.offset + w.rms * gaussian(w.seed, 0),
  corners(w, stop) {
    const count = Math.min(MOST_CORNERS, Math.floor(stop / spacing(w)) + 1)
    return Array.from({ length: count }, (_, k) => k * spacing(w))
  },
  segments: (w, stop) => straightSegments(noiseWaveform, w, stop),
  longestStep: () => Infinity,
  span: (w) => CORNERS_SHOWN / (2 * w.bandwidth),
}
