import { complex, divide } from '../numeric/complex.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, rippleFactor } from './Approximation.js'
import { chebyshev } from './chebyshev.js'

/**
 * |H|² = 1/(1 + εₛ²/Tₙ²(ωₛ/ω)): flat passband, equal ripples in the stop band. Poles are reciprocals of Chebyshev poles,
 * zeros of those of Tₙ. The passband edge lies where the loss first reaches the ripple.
 */
export const inverseChebyshev: Approximation = {
  id: 'inverse-chebyshev',
  name: 'Inverse Chebyshev',
  character: 'Flat passband and equal ripples in the stop band: steep with little ringing, needs stop-band zeros.',
  source:
    'A. I. Zverev, "Handbook of Filter Synthesis", Wiley 1967; L. Weinberg, "Network Analysis and Synthesis", 1962',
  formulas: [
    '|H|² = 1/(1 + 1/(δ²·Tₙ²(Ωs/Ω))), δ² = 1/(10^(A/10) − 1)',
    'zₖ = jΩs/cos θₖ, θₖ = π(2k − 1)/2n; poles are the inverses of Chebyshev’s',
  ],
  defaultRippleDb: HALF_POWER_DB,
  shapesStopband: true,

  prototype({ order, rippleDb, attenuationDb = 0, parameters }) {
    const stopEdge = inverseChebyshev.stopbandRatio!({ order, rippleDb, attenuationDb, parameters })
    const a = Math.asinh(rippleFactor(attenuationDb)) / order
    const upper = []
    const zeros = []
    for (let k = 1; k <= Math.floor(order / 2); k++) {
      const angle = ((2 * k - 1) * Math.PI) / (2 * order)
      const mirrored = complex(-Math.sinh(a) * Math.sin(angle), -Math.cosh(a) * Math.cos(angle))
      upper.push(divide(complex(stopEdge), mirrored))
      zeros.push(complex(0, stopEdge / Math.cos(angle)))
    }
    const poles = withConjugates(upper, order % 2 === 1 ? [-stopEdge / Math.sinh(a)] : [])
    const all = withConjugates(zeros)
    return { poles, zeros: all, gain: gainForDc(poles, all, 1) }
  },

  neededOrder: chebyshev.neededOrder,
  stopbandRatio: chebyshev.stopbandRatio,

  reflectionZeros: ({ order }) => Array.from({ length: order }, () => 0),
}
