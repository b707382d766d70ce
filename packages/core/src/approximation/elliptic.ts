import { complex } from '../numeric/complex.js'
import { completeIntegral, incompleteIntegral, jacobi, modulusOfNome } from '../numeric/ellipticFunctions.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { type Approximation, rippleFactor } from './Approximation.js'

/** K(m) and K(1 − m) of a modulus. */
const integrals = (k: number) => ({ whole: completeIntegral((1 - k) * (1 + k)), complement: completeIntegral(k * k) })

/** The modulus of the frequency axis, by the degree equation K′/K = K₁′/(n·K₁) in the nomes. */
function selectivity(order: number, discrimination: number): { k: number; kc: number } {
  const { whole, complement } = integrals(discrimination)
  return modulusOfNome(Math.exp((-Math.PI * complement) / (whole * order)))
}

/**
 * |H|² = 1/(1 + ε²·Rₙ²(ω)): equal ripples on both sides, the steepest fall of all. With ripple, attenuation and order
 * given the stop-band edge follows. Even orders lie `rippleDb` down at DC and do not fall to nothing at infinity.
 */
export const elliptic: Approximation = {
  id: 'elliptic',
  name: 'Elliptic',
  character: 'Equal ripples in passband and stop band: the steepest of all for its order; rings most.',
  source:
    'S. J. Orfanidis, "Lecture Notes on Elliptic Filter Design", Rutgers 2006; Abramowitz and Stegun, ch. 16 and 17',
  formulas: [
    '|H|² = 1/(1 + ε²·Rₙ²(Ω)), Rₙ of Jacobi’s elliptic functions',
    'K′(k)/K(k) = K′(k₁)/(n·K(k₁)), k₁ = ε/√(10^(A/10) − 1); zₖ = j/(k·sn((2k − 1)·K/n))',
  ],
  defaultRippleDb: null,
  shapesStopband: true,

  prototype({ order, rippleDb, attenuationDb = 0 }) {
    const epsilon = rippleFactor(rippleDb)
    if (order === 1) return { poles: [complex(-1 / epsilon)], zeros: [], gain: 1 / epsilon }
    const k1 = epsilon / rippleFactor(attenuationDb)
    const { k, kc } = selectivity(order, k1)
    const [m, mc] = [k * k, kc * kc]
    const quarter = completeIntegral(mc)
    const v = (quarter * incompleteIntegral(1 / epsilon, k1 * k1)) / (order * integrals(k1).whole)
    // Functions of an imaginary argument, by those of a real one with the complementary modulus.
    const { sn: sv, cn: cv, dn: dv } = jacobi(v, mc, m)
    const upper = []
    const zeros = []
    for (let j = 1 - (order % 2); j < order; j += 2) {
      const { sn, cn, dn } = jacobi((j * quarter) / order, m, mc)
      const size = cv * cv + m * sn * sn * sv * sv
      const pole = complex((-cn * dn * sv * cv) / size, (sn * dv) / size)
      if (j === 0) continue
      upper.push(pole)
      zeros.push(complex(0, 1 / (k * sn)))
    }
    const real = order % 2 === 1 ? [(-sv * cv) / (cv * cv)] : []
    const poles = withConjugates(upper, real)
    const all = withConjugates(zeros)
    return { poles, zeros: all, gain: gainForDc(poles, all, order % 2 === 1 ? 1 : 1 / Math.hypot(1, epsilon)) }
  },

  neededOrder({ rippleDb, attenuationDb, edgeRatio }) {
    const axis = integrals(1 / edgeRatio)
    const depth = integrals(rippleFactor(rippleDb) / rippleFactor(attenuationDb))
    return (axis.whole * depth.complement) / (axis.complement * depth.whole)
  },

  stopbandRatio({ order, rippleDb, attenuationDb }) {
    if (order === 1) return rippleFactor(attenuationDb) / rippleFactor(rippleDb)
    return 1 / selectivity(order, rippleFactor(rippleDb) / rippleFactor(attenuationDb)).k
  },

  reflectionZeros({ order, rippleDb, attenuationDb = 0 }) {
    if (order === 1) return [0]
    const { k, kc } = selectivity(order, rippleFactor(rippleDb) / rippleFactor(attenuationDb))
    const [m, mc] = [k * k, kc * kc]
    const quarter = completeIntegral(mc)
    return Array.from({ length: Math.ceil(order / 2) }, (_, i) => {
      const j = 1 - (order % 2) + 2 * i
      return jacobi((j * quarter) / order, m, mc).sn
    })
  },
}
