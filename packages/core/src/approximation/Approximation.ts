import type { TransferFunction } from '../numeric/transferFunction.js'

/** What a prototype is made from. */
export interface PrototypeRequest {
  /** 1 … 20 */
  order: number
  /** Loss at the passband edge ω = 1, dB, > 0. */
  rippleDb: number
}

/**
 * A family of low-pass responses. Each stands in a file of its own and in `approximations` (index.ts); the interface,
 * the command line and the documentation read that list.
 */
export interface Approximation {
  readonly id: string
  readonly name: string
  /** One line for people choosing: what it is good and bad at. */
  readonly character: string
  /** Published source of the formulas. */
  readonly source: string
  /** Loss at the passband edge when none is given, dB; null where it must be given. */
  readonly defaultRippleDb: number | null
  /**
   * The normalised response: at ω = 1 rad/s the loss first reaches `rippleDb`, and the greatest magnitude from DC to
   * there is 1.
   */
  prototype(request: PrototypeRequest): TransferFunction
  /**
   * The order that this stop band needs, as a real number; the least whole order is the next one up.
   *
   * @param request.edgeRatio stop-band edge over passband edge, > 1
   */
  neededOrder(request: { rippleDb: number; attenuationDb: number; edgeRatio: number }): number
  /** Stop-band edge over passband edge at which the attenuation is first reached and then kept. */
  stopbandRatio(request: PrototypeRequest & { attenuationDb: number }): number
}

/** ε of a loss: √(10^(loss/10) − 1), without cancellation for small losses. */
export function rippleFactor(lossDb: number): number {
  return Math.sqrt(Math.expm1((lossDb * Math.LN10) / 10))
}
