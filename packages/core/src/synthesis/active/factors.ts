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

/** A response taken apart, before its zeros are dealt out. */
export interface Taken {
  /** Factors that turn the phase alone: each zero mirrors a pole of its own. */
  readonly allpass: readonly Factor[]
  /** The other poles as sections make them: complex ones in their pairs, real ones two by two as long as there are two. */
  readonly poles: readonly (readonly Complex[])[]
  /** Pairs of conjugate zeros. */
  readonly pairs: readonly (readonly Complex[])[]
  /** Real zeros off the origin. */
  readonly reals: readonly Complex[]
  readonly atOrigin: number
}

/** Relative distance below which a zero mirrors a pole. */
const ALIKE = 1e-9

export function taken({ poles, zeros }: TransferFunction): Taken {
  const left = [...zeros]
  const allpass: Factor[] = []
  const others: Complex[][] = []
  const reals: Complex[] = []
  for (const p of poles) {
    if (p.im < 0) continue
    const pair = p.im > 0 ? [p, { re: p.re, im: -p.im }] : [p]
    const mirrored = pair.map((root) =>
      left.findIndex((z) => Math.hypot(z.re + root.re, z.im - root.im) <= ALIKE * abs(p)),
    )
    if (mirrored.every((at) => at >= 0)) {
      const own = mirrored.map((at) => left[at])
      for (const z of own) left.splice(left.indexOf(z), 1)
      allpass.push({ poles: pair, zeros: own })
    } else if (p.im > 0) others.push(pair)
    else reals.push(p)
  }
  while (reals.length > 1) others.push(reals.splice(0, 2))
  return {
    allpass,
    poles: [...others, ...(reals.length > 0 ? [reals] : [])],
    pairs: left.flatMap((z) => (z.im > 0 ? [[z, { re: z.re, im: -z.im }]] : [])),
    reals: left.filter((z) => z.im === 0 && z.re !== 0),
    atOrigin: left.filter((z) => abs(z) === 0).length,
  }
}

/**
 * The factors of a response.
 *
 * @param dealt the pair of zeros of each group of poles, null for none
 */
export function factorsWith(response: Taken, dealt: readonly (readonly Complex[] | null)[]): Factor[] {
  const factors = response.poles.map((poles, k) => ({ poles, zeros: [...(dealt[k] ?? [])] }))
  const byQ = [...factors].sort((a, b) => qOf(b) - qOf(a))
  const room = (factor: (typeof factors)[number]) => factor.poles.length - factor.zeros.length
  // Real zeros go to the nearest poles that have room, the highest Q choosing first (common practice, no source).
  const reals = [...response.reals]
  for (const factor of byQ) {
    while (reals.length > 0 && room(factor) > 0) {
      const nearest = reals.reduce((a, b) => (distance(b, factor) < distance(a, factor) ? b : a))
      reals.splice(reals.indexOf(nearest), 1)
      factor.zeros.push(nearest)
    }
  }
  // Zeros at the origin go where most room is left, so that every section stops DC before one of them does so twice.
  for (let atOrigin = response.atOrigin; atOrigin > 0; atOrigin--) {
    const factor = byQ.reduce((a, b) => (room(b) > room(a) ? b : a))
    if (room(factor) === 0) break
    factor.zeros.push({ re: 0, im: 0 })
  }
  return [...factors, ...response.allpass]
}

/** Each pair of zeros to the poles nearest to it, the highest Q choosing first (common practice, no source). */
export function nearestZeros(response: Taken): (readonly Complex[] | null)[] {
  const dealt: (readonly Complex[] | null)[] = response.poles.map(() => null)
  const left = [...response.pairs]
  const byQ = response.poles
    .map((poles, k) => ({ poles, k, factor: { poles, zeros: [] } }))
    .filter(({ poles }) => poles.length === 2)
  byQ.sort((a, b) => qOf(b.factor) - qOf(a.factor))
  for (const { factor, k } of byQ) {
    if (left.length === 0) break
    const nearest = left.reduce((a, b) => (distance(b[0], factor) < distance(a[0], factor) ? b : a))
    left.splice(left.indexOf(nearest), 1)
    dealt[k] = nearest
  }
  return dealt
}

const distance = (zero: Complex, factor: Factor) => Math.abs(Math.log(abs(zero) / omegaOf(factor)))

/** Lowest Q first, what turns the phase alone last: so no section clips before the output does (common practice, no source). */
export const asListed = (factors: readonly Factor[], { allpass }: Taken): Factor[] =>
  [...factors].sort(
    (a, b) =>
      Number(allpass.includes(a)) - Number(allpass.includes(b)) || a.poles.length - b.poles.length || qOf(a) - qOf(b),
  )
