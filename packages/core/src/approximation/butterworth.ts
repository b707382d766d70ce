import { complex } from '../numeric/complex.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, rippleFactor } from './Approximation.js'

/** |H|² = 1 / (1 + ε²ω²ⁿ): poles evenly on a circle of radius ε^(−1/n). */
export const butterworth: Approximation = {
  id: 'butterworth',
  name: 'Butterworth',
  character: 'Maximally flat passband, even roll-off, moderate overshoot.',
  source: 'S. Butterworth, "On the theory of filter amplifiers", Experimental Wireless 7, 1930, 536–541',
  formulas: ['|H|² = 1/(1 + ε²·Ω²ⁿ)', 'pₖ = ε^(−1/n)·e^(jπ(2k + n − 1)/2n)'],
  defaultRippleDb: HALF_POWER_DB,

  prototype({ order, rippleDb }) {
    const radius = rippleFactor(rippleDb) ** (-1 / order)
    const upper = []
    for (let k = 1; k <= Math.floor(order / 2); k++) {
      const angle = ((2 * k - 1) * Math.PI) / (2 * order)
      upper.push(complex(-radius * Math.sin(angle), radius * Math.cos(angle)))
    }
    const poles = withConjugates(upper, order % 2 === 1 ? [-radius] : [])
    return { poles, zeros: [], gain: gainForDc(poles, [], 1) }
  },

  neededOrder({ rippleDb, attenuationDb, edgeRatio }) {
    return Math.log(rippleFactor(attenuationDb) / rippleFactor(rippleDb)) / Math.log(edgeRatio)
  },

  stopbandRatio({ order, rippleDb, attenuationDb }) {
    return (rippleFactor(attenuationDb) / rippleFactor(rippleDb)) ** (1 / order)
  },

  reflectionZeros: ({ order }) => Array.from({ length: order }, () => 0),
}
