import { quadraticRoots } from '../../numeric/roots.js'
import { frequencyField, type Shape } from './Shape.js'

/** Depth up to which no half-power points exist, dB. */
const SHALLOW_DB = 10 * Math.log10(2)

/** (s² + d·B·s + ω₀²)/(s² + B·s + ω₀²): at the centre d is left; B such that the half-power points lie `width` apart. */
export const notch: Shape<{ center: number; width: number; depth?: number }> = {
  id: 'notch',
  name: 'notch',
  character: 'Takes one frequency out, as deep and as narrow as asked.',
  source: 'common practice, no source',
  formulas: ['H = (s² + d·B·s + ω₀²)/(s² + B·s + ω₀²), d = 10^(−depth/20), B = 2π·width/√(1 − 2d²)'],
  fields: [
    frequencyField('center', 'Centre', 50),
    frequencyField('width', 'Width at half power', 10),
    {
      id: 'depth',
      name: 'Depth',
      kind: 'quantity',
      unit: 'dB',
      default: 40,
      least: 0,
      most: 300,
      optional: true,
      empty: 'all the way',
    },
  ],
  problem: ({ depth }) =>
    depth !== undefined && depth <= SHALLOW_DB
      ? {
          field: 'depth',
          problem: `A notch of ${depth} dB never comes to half power, so that it has no width there.`,
          fix: `Ask for more than ${SHALLOW_DB.toFixed(2)} dB, or choose the peaking response with a negative boost.`,
        }
      : null,
  transfer({ center, width, depth }) {
    const left = depth === undefined ? 0 : 10 ** (-depth / 20)
    const w = 2 * Math.PI * center
    const b = (2 * Math.PI * width) / Math.sqrt(1 - 2 * left * left)
    return { zeros: quadraticRoots(w, left * b), poles: quadraticRoots(w, b), gain: 1 }
  },
  marks: ({ center, width }) => [center, center + width, (center * center) / (center + width)],
}
