import { abs, type Complex } from '../../numeric/complex.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'

/** What one section makes of a response: a real pole or two poles, and zeros, as many at most. Its gain is left to it. */
export interface Factor {
  /** rad/s; a pair of complex ones is conjugate. */
  readonly poles: readonly Complex[]
  readonly zeros: readonly Complex[]
}

/** ω₀ of a factor of second order, the pole of one of first order, rad/s. */
export const omegaOf = ({ poles }: Factor): number => poles.reduce((size, p) => size * abs(p), 1) ** (1 / poles.length)

/** Q of a factor of second order; of first order it is taken as one half. */
export const qOf = (factor: Factor): number =>
  factor.poles.length === 1 ? 0.5 : omegaOf(factor) / -(factor.poles[0].re + factor.poles[1].re)

/**
 * A response as sections make it: complex poles in their pairs, real ones two by two as long as there are two, lowest Q
 * first, so that no section clips before the output does (common practice, no source). Each pair of zeros goes to the poles
 * nearest to it, the highest Q choosing first (common practice, no source); zeros at the origin are dealt out in turn.
 */
export function factorsOf({ poles, zeros }: TransferFunction): Factor[] {
  const groups: Complex[][] = poles.flatMap((p) => (p.im > 0 ? [[p, { re: p.re, im: -p.im }]] : []))
  const reals = poles.filter((p) => p.im === 0)
  while (reals.length > 1) groups.push(reals.splice(0, 2))
  const bySize = groups.map((group) => ({ poles: group, zeros: [] as Complex[] })).sort((a, b) => qOf(a) - qOf(b))
  const factors = reals.length === 1 ? [{ poles: reals, zeros: [] as Complex[] }, ...bySize] : bySize

  const left = zeros.filter((z) => z.im >= 0 && abs(z) > 0)
  const room = (factor: (typeof factors)[number]) => factor.poles.length - factor.zeros.length
  for (const factor of factors.toReversed()) {
    while (left.length > 0 && room(factor) > 0) {
      const fitting = left.filter((z) => room(factor) > (z.im > 0 ? 1 : 0))
      if (fitting.length === 0) break
      const nearest = fitting.reduce((a, b) => (distance(b, factor) < distance(a, factor) ? b : a))
      left.splice(left.indexOf(nearest), 1)
      factor.zeros.push(nearest, ...(nearest.im > 0 ? [{ re: nearest.re, im: -nearest.im }] : []))
    }
  }
  let atOrigin = zeros.filter((z) => abs(z) === 0).length
  while (atOrigin > 0) {
    for (const factor of factors.toReversed()) {
      if (atOrigin === 0 || room(factor) === 0) continue
      factor.zeros.push({ re: 0, im: 0 })
      atOrigin--
    }
  }
  return factors
}

const distance = (zero: Complex, factor: Factor) => Math.abs(Math.log(abs(zero) / omegaOf(factor)))
