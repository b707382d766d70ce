import { compareRoots } from '../numeric/complex.js'
import { QUAD_DOUBLES, whole } from '../numeric/real.js'
import { preciseRoots } from '../numeric/simultaneousRoots.js'
import { gainForDc, type TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, scaledToLoss } from './Approximation.js'

const known = new Map<number, TransferFunction>()

/** H(s) = θₙ(0)/θₙ(s) with the reverse Bessel polynomial: a delay of 1 s at DC. */
export function unitDelay(order: number): TransferFunction {
  let h = known.get(order)
  if (!h) {
    const factorial = (k: number): bigint => (k < 2 ? 1n : BigInt(k) * factorial(k - 1))
    const coefficients = Array.from({ length: order + 1 }, (_, k) =>
      whole(factorial(2 * order - k) / (2n ** BigInt(order - k) * factorial(k) * factorial(order - k))),
    )
    const poles = preciseRoots(coefficients, QUAD_DOUBLES).sort(compareRoots)
    h = { poles, zeros: [], gain: gainForDc(poles, [], 1) }
    known.set(order, h)
  }
  return h
}

/** Maximally flat delay; the loss grows like a Gaussian curve. */
export const bessel: Approximation = {
  id: 'bessel',
  name: 'Bessel',
  character: 'Maximally flat delay: pulses keep their shape; falls slowly.',
  source:
    'W. E. Thomson, "Delay networks having maximally flat frequency characteristics", Proc. IEE 96 III, 1949, 487–490',
  formulas: [
    'H = θₙ(0)/θₙ(s), θₙ = Σ (2n − k)!/(2^(n−k)·k!·(n − k)!)·sᵏ',
    'frequencies scaled so that the edge’s loss comes at Ω = 1, or by the delay at DC',
  ],
  defaultRippleDb: HALF_POWER_DB,
  prototype: ({ order, rippleDb }) => scaledToLoss(unitDelay(order), rippleDb),
  unscaled: (order) => ({ transfer: unitDelay(order), delay: 1 }),
}
