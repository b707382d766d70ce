import { add, type Complex, complex, divide, scale, subtract } from '../numeric/complex.js'
import { QUAD_DOUBLES, whole } from '../numeric/real.js'
import { preciseRoots, simultaneousRoots } from '../numeric/simultaneousRoots.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, scaledToLoss, scaledToPeakLoss } from './Approximation.js'
import { fromSquared } from './legendre.js'

const known = new Map<number, TransferFunction>()

/** |H|² = 1/Σ xᵏ/k!, x = ω², k up to the order: the exponential's first terms. */
function truncated(order: number): TransferFunction {
  let h = known.get(order)
  if (!h) {
    const factorial = (k: number): bigint => (k < 2 ? 1n : BigInt(k) * factorial(k - 1))
    const coefficients = Array.from({ length: order + 1 }, (_, k) => whole(factorial(order) / factorial(k)))
    h = fromSquared(preciseRoots(coefficients, QUAD_DOUBLES))
    known.set(order, h)
  }
  return h
}

/** Deviation from the Gaussian curve that buys the steeper fall beyond the break, dB. */
const BREAK_RIPPLE_DB = 0.05

/** Terms of the exponential's expansion in Chebyshev polynomials that doubles can tell. */
const MOST_TERMS = 40

/** e^(half·(1 + t)) = Σ′ 2·e^half·Iₖ(half)·Tₖ(t), t from −1 at DC to 1 at the break. */
function expanded(order: number, breakDb: number): { half: number; series: number[] } {
  const half = (breakDb * Math.LN10) / 20
  const series = Array.from({ length: order + 1 }, (_, k) => (k === 0 ? 1 : 2) * Math.exp(half) * besselI(k, half))
  series[order] = Math.max(series[order], Math.expm1((BREAK_RIPPLE_DB * Math.LN10) / 10))
  return { half, series }
}

/** Places between DC and break at which a loss is looked at. */
const LOOKED_AT = 400

/** Whether the loss stays above 0 up to the break: of few terms it may not, and there is no such response. */
function isLoss(order: number, breakDb: number): boolean {
  const { series } = expanded(order, breakDb)
  return Array.from({ length: LOOKED_AT + 1 }, (_, k) => Math.acos((2 * k) / LOOKED_AT - 1)).every(
    (angle) => series.reduce((sum, c, n) => sum + c * Math.cos(n * angle), 0) > 0,
  )
}

/**
 * The loss e^x followed to `breakDb` with equal ripples: its expansion in Chebyshev polynomials on 0 … ln(10)/10·breakDb,
 * the last term enlarged to the ripple. That this is the order's own steepest way to keep the curve is Chebyshev's
 * theorem; the figure of the ripple is ours, and handbook tables differ.
 */
function toBreak(order: number, breakDb: number): TransferFunction {
  const { half, series } = expanded(order, breakDb)
  const newton = (t: Complex): Complex => {
    // Clenshaw's recurrence for the value and the derivative.
    let [b1, b2, d1, d2] = [complex(0), complex(0), complex(0), complex(0)]
    for (let k = order; k >= 1; k--) {
      const d = add(subtract(scale(multiply2(t, d1), 1), d2), scale(b1, 2))
      const b = add(subtract(multiply2(t, b1), b2), complex(series[k]))
      ;[d2, d1] = [d1, d]
      ;[b2, b1] = [b1, b]
    }
    const value = add(subtract(scale(multiply2(t, b1), 0.5), b2), complex(series[0]))
    const slope = add(subtract(scale(multiply2(t, d1), 0.5), d2), b1)
    return divide(value, slope)
  }
  const starts = Array.from({ length: order }, (_, k) => {
    const angle = (Math.PI * (2 * k + 1)) / order + 1e-3
    return complex(2 * Math.cos(angle), 2 * Math.sin(angle))
  })
  const roots = simultaneousRoots(newton, starts)
  return fromSquared(roots.map((t) => complex(half * (1 + t.re), half * t.im)))
}

/** 2·a·b */
const multiply2 = (a: Complex, b: Complex): Complex =>
  complex(2 * (a.re * b.re - a.im * b.im), 2 * (a.re * b.im + a.im * b.re))

/** Modified Bessel function of the first kind by its power series, which has no cancellation. */
function besselI(order: number, x: number): number {
  let term = 1
  for (let k = 1; k <= order; k++) term *= x / (2 * k)
  let sum = 0
  for (let k = 0; k < MOST_TERMS; k++) {
    sum += term
    term *= (x * x) / (4 * (k + 1) * (k + 1 + order))
  }
  return sum
}

/** Magnitude near e^(−ω²): pulses without overshoot. */
export const gaussian: Approximation = {
  id: 'gaussian',
  name: 'Gaussian',
  character: 'Magnitude along a Gaussian curve: next to no overshoot; falls slowest, faster beyond a break.',
  source:
    'A. I. Zverev, "Handbook of Filter Synthesis", Wiley 1967 (truncated exponential); to a break: Chebyshev’s equal ripples, our own figure',
  formulas: ['|H|² = 1/Σ Ω^(2k)/k!, k = 0 … n; or to a break: equal ripples around e^(−Ω²)'],
  defaultRippleDb: HALF_POWER_DB,
  fields: [{ id: 'breakDb', name: 'Gaussian down to', unit: 'dB', least: 3, most: 20, default: null, usual: [6, 12] }],
  leastOrder({ breakDb }) {
    let order = 1
    while (breakDb !== undefined && !isLoss(order, breakDb)) order++
    return order
  },
  prototype({ order, rippleDb, parameters: { breakDb } }) {
    return breakDb === undefined
      ? scaledToLoss(truncated(order), rippleDb)
      : scaledToPeakLoss(toBreak(order, breakDb), rippleDb)
  },
}
