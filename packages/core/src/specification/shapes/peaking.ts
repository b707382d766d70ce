import { frequencyField, type Shape } from './Shape.js'
import { quadraticRoots } from '../../numeric/roots.js'

/** (s² + g·(ω₀/Q)·s + ω₀²)/(s² + (ω₀/Q)·s + ω₀²) for a boost by g; a dip is a bell's mirror image. */
export const peaking: Shape<{ center: number; boost: number; q: number }> = {
  id: 'peaking',
  name: 'peaking',
  character: 'Raises or lowers a band around one frequency and leaves the rest.',
  source: 'common practice, no source',
  formulas: ['H = (s² + g·(ω₀/Q)·s + ω₀²)/(s² + (ω₀/Q)·s + ω₀²), g = 10^(boost/20); for a dip its inverse'],
  fields: [
    frequencyField('center', 'Centre', 1000),
    { id: 'boost', name: 'Boost', kind: 'quantity', unit: 'dB', default: 6, least: -60, most: 60 },
    { id: 'q', name: 'Q', kind: 'quantity', unit: '', default: 1, above: 0, most: 1000 },
  ],
  transfer({ center, boost, q }) {
    const w = 2 * Math.PI * center
    const raised = 10 ** (Math.abs(boost) / 20)
    const [steep, broad] = [quadraticRoots(w, w / q), quadraticRoots(w, (raised * w) / q)]
    const [zeros, poles] = boost >= 0 ? [broad, steep] : [steep, broad]
    return { zeros, poles, gain: 1 }
  },
  marks: ({ center, q }) => [center, center * Math.exp(1 / q), center / Math.exp(1 / q)],
}
