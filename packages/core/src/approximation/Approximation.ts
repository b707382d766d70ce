import { leastBetween } from '../numeric/goldenSection.js'
import { magnitudeDb, scaleFrequency, type TransferFunction } from '../numeric/transferFunction.js'

/** What a prototype is made from. */
export interface PrototypeRequest {
  /** 1 … 20 */
  readonly order: number
  /** Loss at the passband edge ω = 1, dB, > 0. */
  readonly rippleDb: number
  /** dB; for families whose stop band is part of their shape. */
  readonly attenuationDb?: number
  readonly parameters: ShapeParameters
}

/** Parameters that some families have of their own. */
export interface ShapeParameters {
  /** Greatest deviation from linear phase, degrees. */
  readonly phaseRipple?: number
  /** Loss to which the magnitude follows a Gaussian curve, dB. */
  readonly breakDb?: number
  /** 0 … 1 between two families. */
  readonly mix?: number
}

/** A parameter of a family, as a form shows it. */
export interface ShapeField {
  readonly id: keyof ShapeParameters
  readonly name: string
  readonly unit: string
  readonly least: number
  readonly most: number
  /** What is taken where nothing is given; null where that means something of its own. */
  readonly default: number | null
  /** Numbers in use where nothing is taken without one. */
  readonly usual?: readonly number[]
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
  /** The response as formulas, Ω = ω over the passband’s edge. */
  readonly formulas: readonly string[]
  /** Loss at the passband edge when none is given, dB; null where it must be given. */
  readonly defaultRippleDb: number | null
  /** Its stop band is part of its shape: an attenuation must be given. */
  readonly shapesStopband?: boolean
  /** Its shape follows the loss at the passband edge, though it has no ripples. */
  readonly followsEdgeLoss?: boolean
  readonly fields?: readonly ShapeField[]
  /** The least order that has such a shape at all; left out, 1. */
  leastOrder?(parameters: ShapeParameters): number
  /**
   * The normalised response: at ω = 1 rad/s the loss first reaches `rippleDb`, and the greatest magnitude from DC to
   * there is 1.
   */
  prototype(request: PrototypeRequest): TransferFunction
  /**
   * The order that a stop band needs, as a real number; the least whole order is the next one up. Left out, orders are
   * tried.
   *
   * @param request.edgeRatio stop-band edge over passband edge, > 1
   */
  neededOrder?(request: { rippleDb: number; attenuationDb: number; edgeRatio: number }): number
  /** Stop-band edge over passband edge at which the attenuation is first reached and then kept. Left out, it is searched. */
  stopbandRatio?(request: PrototypeRequest & { attenuationDb: number }): number
  /**
   * ω ≥ 0, with multiplicity, where the magnitude touches its highest, of a family that does so as often as its order:
   * there a ladder without loss reflects nothing.
   */
  reflectionZeros?(request: PrototypeRequest): number[]
  /** The delay at DC, s, of the response before its passband edge is put at ω = 1; where `delay` can be asked for. */
  unscaled?(order: number): { transfer: TransferFunction; delay: number }
}

/** ε of a loss: √(10^(loss/10) − 1), without cancellation for small losses. */
export function rippleFactor(lossDb: number): number {
  return Math.sqrt(Math.expm1((lossDb * Math.LN10) / 10))
}

/** A response that falls from DC on, with its frequencies scaled so that the loss against DC is `lossDb` at ω = 1. */
export function scaledToLoss(h: TransferFunction, lossDb: number): TransferFunction {
  return scaleFrequency(h, 1 / frequencyOfLoss(h, lossDb))
}

/** Steps of the search from outside: no bump is wider apart. */
const OUTWARD = 1.02

/** Doublings outwards, and steps inwards, after which a search ends: ω then has left any that a filter may have. */
const MOST_DOUBLINGS = 1000
const INNERMOST = 1e-8

/**
 * ω from which on a response has lost so much against DC, sought from outside; the loss may be negative inside. A loss
 * that rounding hides is found where it first shows.
 */
export function frequencyOfLoss(h: TransferFunction, lossDb: number): number {
  const level = magnitudeDb(h, 0) - lossDb
  const below = (omega: number) => magnitudeDb(h, omega) < level
  const outermost = Math.max(...h.poles.map((p) => Math.hypot(p.re, p.im)))
  let high = outermost
  for (let k = 0; k < MOST_DOUBLINGS && !below(high); k++) high *= 2
  let low = high / OUTWARD
  while (low > INNERMOST * outermost && below(low)) [high, low] = [low, low / OUTWARD]
  for (;;) {
    const middle = low + (high - low) / 2
    if (!(middle > low && middle < high)) return middle
    if (below(middle)) high = middle
    else low = middle
  }
}

/** Points of the search for a passband's highest. */
const PEAK_POINTS = 800

/**
 * The same for a response that may rise a little before it falls: its highest becomes 1, and the loss is counted from
 * there.
 */
export function scaledToPeakLoss(h: TransferFunction, lossDb: number): TransferFunction {
  const end = frequencyOfLoss(h, Math.max(lossDb, 1))
  let top = 0
  for (let k = 1; k <= PEAK_POINTS; k++) {
    if (magnitudeDb(h, (end * k) / PEAK_POINTS) > magnitudeDb(h, (end * top) / PEAK_POINTS)) top = k
  }
  const around = [(end * (top - 1)) / PEAK_POINTS, (end * (top + 1)) / PEAK_POINTS] as const
  const peakDb = magnitudeDb(h, top === 0 ? 0 : leastBetween((w) => -magnitudeDb(h, w), ...around))
  const edge = frequencyOfLoss(h, lossDb - (peakDb - magnitudeDb(h, 0)))
  const scaled = scaleFrequency(h, 1 / edge)
  return { ...scaled, gain: scaled.gain / 10 ** (peakDb / 20) }
}

/** Where an attenuation is first reached and kept, for a response that falls beyond its passband edge ω = 1. */
export function searchedStopbandRatio(family: Approximation, request: PrototypeRequest & { attenuationDb: number }) {
  const h = family.prototype(request)
  // Against the passband's highest, which is 1.
  return frequencyOfLoss(h, request.attenuationDb + magnitudeDb(h, 0))
}
