import { abs, type Complex, complex } from '../numeric/complex.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, scaledToLoss } from './Approximation.js'
import { unitDelay } from './bessel.js'
import { butterworth } from './butterworth.js'

/** Poles with Im ≥ 0 by their angle, so that those of two families pair up. */
const upperHalf = (poles: readonly Complex[]): Complex[] =>
  poles.filter((p) => p.im >= 0).sort((a, b) => Math.atan2(a.im, -a.re) - Math.atan2(b.im, -b.re))

/** Poles between those of Butterworth and Bessel on spirals: magnitudes by powers, angles in proportion. */
export const transitional: Approximation = {
  id: 'transitional',
  name: 'Butterworth–Thomson',
  character: 'A slider between flat magnitude and flat delay.',
  source: 'Y. Peless, T. Murakami, RCA Review 18, 1957, 60–81 (from memory)',
  formulas: ['pₖ = p(Butterworth)^(1 − m)·p(Bessel)^m, magnitude and angle each'],
  defaultRippleDb: HALF_POWER_DB,
  fields: [{ id: 'mix', name: 'Mix, 0 Butterworth to 1 Bessel', unit: '', least: 0, most: 1, default: 0.5 }],

  prototype({ order, rippleDb, parameters: { mix = 0.5 } }) {
    const flat = upperHalf(butterworth.prototype({ order, rippleDb: HALF_POWER_DB, parameters: {} }).poles)
    const delay = upperHalf(unitDelay(order).poles)
    // Both with the same asymptote: the product of all poles is 1.
    const product = delay.reduce((sum, p) => sum + (p.im > 0 ? 2 : 1) * Math.log(abs(p)), 0)
    const unit = Math.exp(-product / order)
    const upper: Complex[] = []
    const real: number[] = []
    flat.forEach((b, k) => {
      const t = delay[k]
      const size = abs(b) ** (1 - mix) * (abs(t) * unit) ** mix
      const angle = (1 - mix) * Math.atan2(b.im, -b.re) + mix * Math.atan2(t.im, -t.re)
      if (t.im === 0) real.push(-size)
      else upper.push(complex(-size * Math.cos(angle), size * Math.sin(angle)))
    })
    const poles = withConjugates(upper, real)
    return scaledToLoss({ poles, zeros: [], gain: gainForDc(poles, [], 1) }, rippleDb)
  },
}
