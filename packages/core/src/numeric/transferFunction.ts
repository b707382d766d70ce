import { abs, type Complex, compareRoots, complex, conjugate, divide, multiply, scale } from './complex.js'

/**
 * H(s) = gain · ∏(s − zₖ) / ∏(s − pₖ), s in rad/s, every conjugate listed. Kept as roots throughout: expanded
 * coefficients of order 20 lose all digits.
 */
export interface TransferFunction {
  readonly poles: readonly Complex[]
  readonly zeros: readonly Complex[]
  readonly gain: number
  /**
   * The gain is gain · 2^gainExponent, where a double cannot hold it: 50 poles at 1e8 rad/s make 1e400. Left out
   * wherever it can.
   */
  readonly gainExponent?: number
}

/** Exponents up to which a gain is kept as a plain double. */
const PLAIN_EXPONENT = 900

/** value · 2^exponent, without an intermediate result that over- or underflows where the result does not. */
export function ldexp(value: number, exponent: number): number {
  const half = Math.trunc(exponent / 2)
  return value * 2 ** half * 2 ** (exponent - half)
}

/** gain · 2^exponent as the fields of a response. */
export function gainFields(gain: number, exponent: number): Pick<TransferFunction, 'gain' | 'gainExponent'> {
  if (gain === 0 || !Number.isFinite(gain)) return { gain }
  const own = Math.floor(Math.log2(Math.abs(gain)))
  if (Math.abs(own + exponent) <= PLAIN_EXPONENT) return { gain: ldexp(gain, exponent) }
  return { gain: ldexp(gain, -own), gainExponent: exponent + own }
}

/** What H is at infinity, where it has as many zeros as poles. */
export const gainAtInfinity = (h: TransferFunction): number => ldexp(h.gain, h.gainExponent ?? 0)

/** log10 of the gain's magnitude. */
export const gainDecades = (h: TransferFunction): number =>
  Math.log10(Math.abs(h.gain)) + (h.gainExponent ?? 0) * Math.log10(2)

/** H at any complex frequency s, rad/s. */
export function evaluate(h: TransferFunction, s: Complex): Complex {
  // Factors are taken from both lists in turn and the exponent is kept apart, so that nothing over- or underflows.
  let value = complex(h.gain)
  let exponent = h.gainExponent ?? 0
  const count = Math.max(h.poles.length, h.zeros.length)
  for (let k = 0; k < count; k++) {
    const zero = h.zeros[k]
    const pole = h.poles[k]
    if (zero) value = multiply(value, { re: s.re - zero.re, im: s.im - zero.im })
    if (pole) value = divide(value, { re: s.re - pole.re, im: s.im - pole.im })
    const size = abs(value)
    if (size > 1e100 || (size < 1e-100 && size > 0)) {
      const shift = Math.round(Math.log2(size))
      value = { re: ldexp(value.re, -shift), im: ldexp(value.im, -shift) }
      exponent += shift
    }
  }
  return exponent === 0 ? value : { re: ldexp(value.re, exponent), im: ldexp(value.im, exponent) }
}

/** 20·log10|H(jω)|, dB; −∞ at a zero on the axis. */
export function magnitudeDb(h: TransferFunction, omega: number): number {
  const { poles, zeros } = h
  // Squares are multiplied as long as they can be, and logarithms taken of their products.
  let square = 1
  let decades = 2 * gainDecades(h)
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

/** The same just below ω: where a zero lies on the axis at ω it has not jumped yet. */
export function phaseBelow(h: TransferFunction, omega: number): number {
  const jumps = (roots: readonly Complex[]) => roots.filter((r) => r.re === 0 && r.im === omega).length
  return phase(h, omega) - Math.PI * (jumps(h.zeros) - jumps(h.poles))
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
  const excess = h.poles.length - h.zeros.length
  const exponent = Math.floor(Math.log2(factor))
  return {
    poles: h.poles.map((p) => scale(p, factor)),
    zeros: h.zeros.map((z) => scale(z, factor)),
    // The power of a number between 1 and 2 stays a double up to an excess of 1023.
    ...gainFields(h.gain * (factor / 2 ** exponent) ** excess, (h.gainExponent ?? 0) + exponent * excess),
  }
}

/** One behind the other, without loading. */
export function inSeries(a: TransferFunction, b: TransferFunction): TransferFunction {
  const exponent = (a.gainExponent ?? 0) + (b.gainExponent ?? 0)
  return {
    poles: [...a.poles, ...b.poles],
    zeros: [...a.zeros, ...b.zeros],
    ...gainFields(a.gain * b.gain, exponent),
  }
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
