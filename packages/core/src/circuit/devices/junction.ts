import { NOMINAL_TEMPERATURE, thermalVoltage } from './constants.js'

/** Largest exponent that is taken as it is; beyond it the exponential goes on as its tangent, so that nothing overflows. */
const LARGEST_EXPONENT = 200

/** Below this exponent e^x is rounding against 1. */
export const LEAST_EXPONENT = -40

/** Value and derivative of is·(e^(v/vt) − 1). */
export function exponential(is: number, v: number, vt: number): { i: number; g: number } {
  const x = v / vt
  if (x < LEAST_EXPONENT) return { i: -is, g: 0 }
  if (x > LARGEST_EXPONENT) {
    const e = Math.exp(LARGEST_EXPONENT)
    return { i: is * (e * (1 + x - LARGEST_EXPONENT) - 1), g: (is * e) / vt }
  }
  return { i: is * Math.expm1(x), g: (is * Math.exp(x)) / vt }
}

/** A depletion capacitance: cj0 at zero bias, potential vj, grading m; beyond fc·vj it goes on as a straight line. */
export interface Depletion {
  readonly cj0: number
  readonly vj: number
  readonly m: number
  readonly fc: number
}

/** Charge, C, and capacitance, F, at v; the charge is the capacitance's integral from 0. */
export function depletion({ cj0, vj, m, fc }: Depletion, v: number): { q: number; c: number } {
  if (cj0 === 0) return { q: 0, c: 0 }
  const edge = fc * vj
  const primitive = (x: number) =>
    m === 1 ? -vj * Math.log1p(-x / vj) : (vj * (1 - (1 - x / vj) ** (1 - m))) / (1 - m)
  if (v < edge) return { q: cj0 * primitive(v), c: cj0 * (1 - v / vj) ** -m }
  const atEdge = (1 - fc) ** -m
  const slope = ((1 - fc) ** (-m - 1) * m) / vj
  const d = v - edge
  return { q: cj0 * (primitive(edge) + atEdge * d + (slope * d * d) / 2), c: cj0 * (atEdge + slope * d) }
}

/** Flicker noise kf·I^af/f of a device. */
export interface Flicker {
  readonly kf: number
  readonly af: number
}

/** Flicker of a current, A²: what stands over the frequency. */
export const flickerOf = ({ kf, af }: Flicker, current: number): number => (kf === 0 ? 0 : kf * Math.abs(current) ** af)

/** Above this voltage, where the exponential bends most against a straight line, steps are damped. */
export const criticalVoltage = (is: number, vt: number): number => vt * Math.log(vt / (Math.SQRT2 * is))

/**
 * The junction voltage after a Newton step, damped: where the step would leave the exponential's neighbourhood, the
 * voltage is taken at which the junction really carries the current that the step promised. Common practice, no source.
 */
export function limitJunction(v: number, last: number, vt: number, critical: number): number {
  if (v <= critical || Math.abs(v - last) <= 2 * vt) return v
  if (last > 0) {
    const promised = 1 + (v - last) / vt
    return promised > 0 ? last + vt * Math.log(promised) : critical
  }
  return vt * Math.log(Math.max(v / vt, 1))
}

/** Factor of a saturation current at another temperature: (T/Tn)^(xti/n)·exp((T/Tn − 1)·eg/(n·kT/q)). */
export function saturationFactor(temperature: number, eg: number, xti: number, n: number): number {
  const ratio = temperature / NOMINAL_TEMPERATURE
  return ratio ** (xti / n) * Math.exp(((ratio - 1) * eg) / (n * thermalVoltage(temperature)))
}
