import { complex } from '../numeric/complex.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { type Approximation, rippleFactor } from './Approximation.js'

/**
 * |H|² = 1 / (1 + ε²Tₙ²(ω)): equal ripples up to the edge, poles on an ellipse. Even orders lie `rippleDb` down at DC.
 */
export const chebyshev: Approximation = {
  id: 'chebyshev',
  name: 'Chebyshev',
  character: 'Equal ripples in the passband buy the steepest fall without stop-band zeros; rings more.',
  source:
    'G. L. Matthaei, L. Young, E. M. T. Jones, "Microwave Filters, Impedance-Matching Networks, and Coupling Structures", McGraw-Hill 1964, § 4.05',
  formulas: [
    '|H|² = 1/(1 + ε²·Tₙ²(Ω)), Tₙ(Ω) = cos(n·arccos Ω)',
    'pₖ = −sinh a·sin θₖ + j·cosh a·cos θₖ, a = arsinh(1/ε)/n, θₖ = π(2k − 1)/2n',
  ],
  defaultRippleDb: null,

  prototype({ order, rippleDb }) {
    const epsilon = rippleFactor(rippleDb)
    const a = Math.asinh(1 / epsilon) / order
    const upper = []
    for (let k = 1; k <= Math.floor(order / 2); k++) {
      const angle = ((2 * k - 1) * Math.PI) / (2 * order)
      upper.push(complex(-Math.sinh(a) * Math.sin(angle), Math.cosh(a) * Math.cos(angle)))
    }
    const poles = withConjugates(upper, order % 2 === 1 ? [-Math.sinh(a)] : [])
    const dc = order % 2 === 1 ? 1 : 1 / Math.hypot(1, epsilon)
    return { poles, zeros: [], gain: gainForDc(poles, [], dc) }
  },

  neededOrder({ rippleDb, attenuationDb, edgeRatio }) {
    return Math.acosh(rippleFactor(attenuationDb) / rippleFactor(rippleDb)) / Math.acosh(edgeRatio)
  },

  stopbandRatio({ order, rippleDb, attenuationDb }) {
    return Math.cosh(Math.acosh(rippleFactor(attenuationDb) / rippleFactor(rippleDb)) / order)
  },

  reflectionZeros: ({ order }) =>
    Array.from({ length: Math.ceil(order / 2) }, (_, k) =>
      2 * k + 1 === order ? 0 : Math.cos(((2 * k + 1) * Math.PI) / (2 * order)),
    ),
}
