import { add, type Complex, complex, divide, multiply, scale } from '../numeric/complex.js'
import { simultaneousRoots } from '../numeric/simultaneousRoots.js'
import { gainForDc, withConjugates } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, rippleFactor } from './Approximation.js'

/** Weights of Legendre polynomials in the square root of the derivative of L. */
function weights(order: number): number[] {
  const k = order % 2 === 1 ? (order - 1) / 2 : order / 2 - 1
  return Array.from({ length: k + 1 }, (_, i) => {
    if (order % 2 === 1) return (2 * i + 1) / (Math.SQRT2 * (k + 1))
    return (i - k) % 2 === 0 ? (2 * i + 1) / Math.sqrt((k + 1) * (k + 2)) : 0
  })
}

/** Σ wᵢ·Pᵢ(x) by the polynomials' own recurrence, which keeps its digits where expanded ones lose all. */
function combination(w: readonly number[], x: Complex): Complex {
  let [before, now] = [complex(0), complex(1)]
  let sum = complex(w[0])
  for (let i = 1; i < w.length; i++) {
    const next = add(scale(multiply(x, now), (2 * i - 1) / i), scale(before, -(i - 1) / i))
    ;[before, now] = [now, next]
    sum = add(sum, scale(now, w[i]))
  }
  return sum
}

/** dL/dx, x = 2ω² − 1. */
function density(order: number, w: readonly number[], x: Complex): Complex {
  const v = combination(w, x)
  const square = multiply(v, v)
  return order % 2 === 1 ? square : multiply(square, complex(x.re + 1, x.im))
}

/** Nodes and weights of Gauss's quadrature on −1 … 1, by Newton's method. */
function gauss(n: number): { node: number; weight: number }[] {
  return Array.from({ length: n }, (_, k) => {
    let x = Math.cos((Math.PI * (k + 0.75)) / (n + 0.5))
    for (let iteration = 0; ; iteration++) {
      let [before, now] = [1, x]
      for (let i = 2; i <= n; i++) [before, now] = [now, ((2 * i - 1) * x * now - (i - 1) * before) / i]
      const slope = (n * (x * now - before)) / (x * x - 1)
      const step = n === 1 ? x : now / slope
      x -= step
      if (Math.abs(step) < 1e-16 || iteration > 20) {
        return { node: x, weight: n === 1 ? 2 : 2 / ((1 - x * x) * slope * slope) }
      }
    }
  })
}

/**
 * Lₙ(ω²) at any complex ω²: its integrand is a polynomial, which Gauss's quadrature integrates exactly along any straight
 * way.
 */
export function legendreLoss(order: number, squared: Complex): Complex {
  const w = weights(order)
  let sum = complex(0)
  for (const { node, weight } of gauss(Math.floor(order / 2) + 1)) {
    const part = (1 + node) / 2
    sum = add(sum, scale(density(order, w, complex(2 * squared.re * part - 1, 2 * squared.im * part)), weight))
  }
  return multiply(sum, squared)
}

/** |H|² = 1/(1 + ε²·Lₙ(ω²)): the steepest fall at the edge that a magnitude without a rise can have. */
export const legendre: Approximation = {
  id: 'legendre',
  name: 'Legendre',
  character: 'Falls all the way and as steeply as that allows: between Butterworth and Chebyshev.',
  source: 'A. Papoulis, "Optimum filters with monotonic response", Proc. IRE 46, 1958, 606–609',
  formulas: ['|H|² = 1/(1 + ε²·Lₙ(Ω²)), Lₙ of Legendre polynomials, rising all the way and steepest at Ω = 1'],
  defaultRippleDb: HALF_POWER_DB,
  followsEdgeLoss: true,

  prototype({ order, rippleDb }) {
    const epsilon = rippleFactor(rippleDb)
    const w = weights(order)
    const radius = epsilon ** (-1 / order)
    // Roots in ω², from where a Butterworth response has them.
    const starts = Array.from({ length: order }, (_, k) => {
      const angle = (Math.PI * (2 * k + 1)) / order + 1e-3
      return complex(radius ** 2 * Math.cos(angle), radius ** 2 * Math.sin(angle))
    })
    const newton = (squared: Complex): Complex => {
      const loss = legendreLoss(order, squared)
      const value = complex(1 / epsilon ** 2 + loss.re, loss.im)
      return divide(value, scale(density(order, w, complex(2 * squared.re - 1, 2 * squared.im)), 2))
    }
    return fromSquared(simultaneousRoots(newton, starts))
  },
}

/** The response without zeros whose loss has these roots in ω²; DC is 1. */
export function fromSquared(roots: readonly Complex[]): ReturnType<Approximation['prototype']> {
  const upper: Complex[] = []
  const real: number[] = []
  for (const { re, im } of roots) {
    // s² = −ω²; of the two square roots the one in the left half plane.
    const size = Math.hypot(re, im)
    if (Math.abs(im) <= 1e-9 * size && re < 0) real.push(-Math.sqrt(-re))
    else if (im > 0) {
      const half = Math.sqrt((size - re) / 2)
      const across = Math.sqrt((size + re) / 2)
      // Whichever part is the smaller follows from the product without cancellation.
      upper.push(re < 0 ? complex(-half, im / (2 * half)) : complex(-im / (2 * across), across))
    }
  }
  const poles = withConjugates(upper, real)
  return { poles, zeros: [], gain: gainForDc(poles, [], 1) }
}
