import { abs, type Complex, compareRoots, complex, conjugate, divide, multiply, scale } from './complex.js'

/**
 * H(s) = gain · ∏(s − zₖ) / ∏(s − pₖ), s in rad/s, every conjugate listed. Kept as roots throughout: expanded
 * coefficients of order 20 lose all digits.
 */
export interface TransferFunction {
  readonly poles: readonly Complex[]
  readonly zeros: readonly Complex[]
  readonly gain: number
}

/** H at any complex frequency s, rad/s. */
export function evaluate(h: TransferFunction, s: Complex): Complex {
  // Factors are taken from both lists in turn and the exponent is kept apart, so that nothing over- or underflows.
  let value = complex(h.gain)
  let exponent = 0
  const count = Math.max(h.poles.length, h.zeros.length)
  for (let k = 0; k < count; k++) {
    const zero = h.zeros[k]
    const pole = h.poles[k]
    if (zero) value = multiply(value, { re: s.re - zero.re, im: s.im - zero.im })
    if (pole) value = divide(value, { re: s.re - pole.re, im: s.im - pole.im })
    const size = abs(value)
    if (size > 1e100 || (size < 1e-100 && size > 0)) {
      const shift = Math.round(Math.log2(size))
      value = scale(scale(value, 2 ** -Math.trunc(shift / 2)), 2 ** -(shift - Math.trunc(shift / 2)))
      exponent += shift
    }
  }
  return exponent === 0
    ? value
    : scale(scale(value, 2 ** Math.trunc(exponent / 2)), 2 ** (exponent - Math.trunc(exponent / 2)))
}

/** 20·log10|H(jω)|, dB; −∞ at a zero on the axis. */
export function magnitudeDb(h: TransferFunction, omega: number): number {
  const { poles, zeros } = h
  // Squares are multiplied as long as they can be, and logarithms taken of their products.
  let square = 1
  let decades = 2 * Math.log10(Math.abs(h.gain))
  for (let k = 0; k < poles.length || k < zeros.length; k++) {
    const [p, z] = [poles[k], zeros[k]]
    if (p) square /= p.re * p.re + (omega - p.im) * (omega - p.im)
    if (z) square *= z.re * z.re + (omega - z.im) * (omega - z.im)
    if (square > 1e150 || square < 1e-150) {
      decades += Math.log10(square)
      square = 1
    }
  }
  return 10 * (decades + Math.log10(square))
}

/**
 * Phase of H(jω), rad, continuous in ω ≥ 0 (unwrapped). A zero on the axis makes it jump up by π.
 * At DC it is 0, or π where H(0) < 0; poles or zeros at the origin shift it by π/2 each.
 */
export function phase(h: TransferFunction, omega: number): number {
  let sum = 0
  let negative = h.gain < 0
  for (const z of h.zeros) {
    sum += argument(z, omega)
    if (z.re > 0) negative = !negative
  }
  for (const p of h.poles) {
    sum -= argument(p, omega)
    if (p.re > 0) negative = !negative
  }
  return negative ? sum + Math.PI : sum
}

/** Argument of jω − root, without its half turn where the root lies in the right half plane. */
function argument(root: Complex, omega: number): number {
  const y = omega - root.im
  if (root.re > 0) return -Math.atan2(y, root.re)
  // On the axis the root itself takes the value from above, so that s at the origin gives +π/2 at DC.
  if (root.re === 0) return y >= 0 ? Math.PI / 2 : -Math.PI / 2
  return Math.atan2(y, -root.re)
}

/** Group delay −dφ/dω at ω, s; from the derivative of each factor, not from differences. */
export function groupDelay(h: TransferFunction, omega: number): number {
  let sum = 0
  for (const p of h.poles) sum -= p.re / (p.re * p.re + (omega - p.im) ** 2)
  for (const z of h.zeros) if (z.re !== 0) sum += z.re / (z.re * z.re + (omega - z.im) ** 2)
  return sum
}

/** The same response with every frequency multiplied by `factor`: H′(s) = H(s / factor). */
export function scaleFrequency(h: TransferFunction, factor: number): TransferFunction {
  return {
    poles: h.poles.map((p) => scale(p, factor)),
    zeros: h.zeros.map((z) => scale(z, factor)),
    gain: h.gain * factor ** (h.poles.length - h.zeros.length),
  }
}

/** One behind the other, without loading. */
export function inSeries(a: TransferFunction, b: TransferFunction): TransferFunction {
  return { poles: [...a.poles, ...b.poles], zeros: [...a.zeros, ...b.zeros], gain: a.gain * b.gain }
}

/** Roots with exact conjugates: each of `upper` (im > 0) with its mirror image, each of `real` alone; sorted. */
export function withConjugates(upper: readonly Complex[], real: readonly number[] = []): Complex[] {
  return [...upper, ...upper.map(conjugate), ...real.map((re) => complex(re))].sort(compareRoots)
}

/** The gain that makes H(0) = `value`, for roots none of which lies at the origin. */
export function gainForDc(poles: readonly Complex[], zeros: readonly Complex[], value: number): number {
  const dc = evaluate({ poles, zeros, gain: 1 }, complex(0)).re
  return value / dc
}
