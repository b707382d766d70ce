import { DoubleDouble } from './doubleDouble.js'
import { QuadDouble } from './quadDouble.js'

/** A real number of more digits than a double has. */
export interface Real {
  add(other: Real | number): Real
  sub(other: Real | number): Real
  mul(other: Real | number): Real
  div(other: Real | number): Real
  neg(): Real
  abs(): Real
  sqrt(): Real
  isZero(): boolean
  lt(other: Real | number): boolean
  gt(other: Real | number): boolean
  toNumber(): number
}

/** A kind of such numbers. */
export interface Arithmetic {
  /** A double, or one of its own numbers. */
  readonly of: (value: number | Real) => Real
  /** Relative rounding of one operation. */
  readonly epsilon: number
}

/** 62 decimal digits: for what fewer have lost. */
export const QUAD_DOUBLES: Arithmetic = {
  of: (value) => QuadDouble.of(value as number | QuadDouble),
  epsilon: 1e-62,
}

/** 31 decimal digits, several times as fast. */
export const DOUBLE_DOUBLES: Arithmetic = {
  of: (value) => DoubleDouble.of(value as number | DoubleDouble),
  epsilon: 1e-31,
}

/** A whole number of up to 62 digits. */
export const whole = (number: bigint): Real => QuadDouble.ofDigits(String(number))

/** Coefficients of s⁰, s¹, …; the last is not zero. */
export type Polynomial = readonly Real[]

/** Polynomials whose coefficients are numbers of one kind. */
export class Polynomials {
  private readonly zero: Real

  constructor(readonly arithmetic: Arithmetic) {
    this.zero = arithmetic.of(0)
  }

  of(...coefficients: (number | Real)[]): Polynomial {
    return coefficients.map((c) => this.arithmetic.of(c))
  }

  times(a: Polynomial, b: Polynomial): Polynomial {
    const result: Real[] = Array.from({ length: a.length + b.length - 1 }, () => this.zero)
    a.forEach((x, i) => b.forEach((y, j) => (result[i + j] = result[i + j].add(x.mul(y)))))
    return result
  }

  product(factors: readonly Polynomial[]): Polynomial {
    return factors.reduce((a, b) => this.times(a, b), this.of(1))
  }

  /** a + factor·sᵏ·b */
  plus(a: Polynomial, b: Polynomial, factor: number | Real = 1, power = 0): Polynomial {
    const result = Array.from({ length: Math.max(a.length, b.length + power) }, (_, k) => a[k] ?? this.zero)
    b.forEach((c, k) => (result[k + power] = result[k + power].add(c.mul(factor))))
    return result
  }

  /** The even part, or the odd one. */
  parity(a: Polynomial, odd: boolean): Polynomial {
    return a.map((c, k) => ((k % 2 === 1) === odd ? c : this.zero))
  }

  /** a(s)·a(−s) as a polynomial in s². */
  squared(a: Polynomial): Polynomial {
    const result: Real[] = a.map(() => this.zero)
    a.forEach((x, i) =>
      a.forEach((y, j) => {
        if ((i + j) % 2 === 0) result[(i + j) / 2] = result[(i + j) / 2].add(x.mul(j % 2 === 1 ? y.neg() : y))
      }),
    )
    return result
  }

  /** a/(s² + w2), which is known to divide it. */
  overResonance(a: Polynomial, w2: Real): Polynomial {
    const result: Real[] = Array.from({ length: a.length - 2 }, () => this.zero)
    for (let k = a.length - 1; k >= 2; k--) result[k - 2] = a[k].sub((result[k] ?? this.zero).mul(w2))
    return result
  }

  /** Real and imaginary part at s = jω, w2 = ω². */
  onAxis(a: Polynomial, w2: Real): { re: Real; im: Real } {
    let [re, im] = [this.zero, this.zero]
    for (let k = a.length - 1; k >= 0; k--) {
      if (k % 2 === 0) re = a[k].sub(re.mul(w2))
      else im = a[k].sub(im.mul(w2))
    }
    return { re, im: im.mul(w2.sqrt()) }
  }
}

/** Its first terms, up to a degree: the others are known to vanish. */
export const upTo = (a: Polynomial, degree: number): Polynomial => a.slice(0, degree + 1)
