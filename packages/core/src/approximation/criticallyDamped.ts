import { complex } from '../numeric/complex.js'
import { gainForDc } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import type { Approximation } from './Approximation.js'

/** All poles at one real place: the fastest answer without overshoot that equal stages can give. */
export const criticallyDamped: Approximation = {
  id: 'critically-damped',
  name: 'Critically damped',
  character: 'Equal real poles: never overshoots; falls slowly.',
  source: 'Definition; common practice, no source',
  formulas: ['H = 1/(1 + s/a)ⁿ, a = 1/√(10^(A/10n) − 1) for the edge’s loss A'],
  defaultRippleDb: HALF_POWER_DB,

  prototype({ order, rippleDb }) {
    // |1 + j/a|²ⁿ is the loss at ω = 1.
    const a = 1 / Math.sqrt(Math.expm1((rippleDb * Math.LN10) / (10 * order)))
    const poles = Array.from({ length: order }, () => complex(-a))
    return { poles, zeros: [], gain: gainForDc(poles, [], 1) }
  },
}
