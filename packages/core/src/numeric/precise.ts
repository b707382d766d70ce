import { Decimal } from 'decimal.js'

/** Arithmetic of 60 decimal digits, for what doubles lose: expanded polynomials of high order. */
export const Precise = Decimal.clone({ precision: 60 })

/** A complex root of a real polynomial. */
export interface PreciseRoot {
  readonly re: Decimal
  readonly im: Decimal
}

/** Coefficients of s⁰, s¹, …; the last is not zero. */
export type Polynomial = readonly Decimal[]

const ZERO = new Precise(0)

export const polynomial = (...coefficients: Decimal.Value[]): Polynomial => coefficients.map((c) => new Precise(c))

export function times(a: Polynomial, b: Polynomial): Polynomial {
  const result = Array.from({ length: a.length + b.length - 1 }, () => ZERO)
  a.forEach((x, i) => b.forEach((y, j) => (result[i + j] = result[i + j].add(x.mul(y)))))
  return result
}

export const product = (factors: readonly Polynomial[]): Polynomial => factors.reduce(times, polynomial(1))

/** a + factor·sᵏ·b */
export function plus(a: Polynomial, b: Polynomial, factor: Decimal.Value = 1, power = 0): Polynomial {
  const result = Array.from({ length: Math.max(a.length, b.length + power) }, (_, k) => a[k] ?? ZERO)
  b.forEach((c, k) => (result[k + power] = result[k + power].add(c.mul(factor))))
  return result
}

/** Its first terms, up to a degree: the others are known to vanish. */
export const upTo = (a: Polynomial, degree: number): Polynomial => a.slice(0, degree + 1)

/** The even part, or the odd one. */
export const parity = (a: Polynomial, odd: boolean): Polynomial => a.map((c, k) => ((k % 2 === 1) === odd ? c : ZERO))

/** a/(s² + w2), which is known to divide it. */
export function overResonance(a: Polynomial, w2: Decimal): Polynomial {
  const result: Decimal[] = Array.from({ length: a.length - 2 }, () => ZERO)
  for (let k = a.length - 1; k >= 2; k--) result[k - 2] = a[k].sub((result[k] ?? ZERO).mul(w2))
  return result
}

/** Real and imaginary part at s = jω, w2 = ω². */
export function onAxis(a: Polynomial, w2: Decimal): { re: Decimal; im: Decimal } {
  let [re, im] = [ZERO, ZERO]
  for (let k = a.length - 1; k >= 0; k--) {
    if (k % 2 === 0) re = a[k].sub(re.mul(w2))
    else im = a[k].sub(im.mul(w2))
  }
  return { re, im: im.mul(w2.sqrt()) }
}
