import { abs, add, type Complex, complex, conjugate, divide, multiply, scale } from '../numeric/complex.js'
import { type Dimension, dimensionOf, PLAIN, productOf, unitOf } from '../quantity/dimension.js'
import type { SignalFunction } from '../quantity/signalFunctions.js'
import type { Taylor } from './analyticLimit.js'

/** What a function does over frequency, over time and to units. */
interface FunctionMeaning {
  /** The dimension of its value; a text where it takes no such thing: what is wrong. */
  dimension(of: Dimension, isOverTime: boolean): Dimension | string
  /** Of a complex value and its derivative by ω; null where it has no meaning over frequency. */
  readonly complex: ((of: Taylor) => Taylor) | null
  /** Of a value at one time; null where it has no meaning over time. */
  readonly real: ((of: number) => number) | null
  /** Of a whole course over time, where one value is not enough. */
  readonly course?: (values: Float64Array, time: Float64Array) => Float64Array
  /** It is made of the derivative by ω, so that nothing else can be derived of it. */
  readonly isSloped?: boolean
}

const DEGREES = 180 / Math.PI
const DB = 20 / Math.LN10
const UNKNOWN = complex(NaN, NaN)

const same = (of: Dimension): Dimension => of
const plainOnly = (name: string) => (of: Dimension) =>
  unitOf(of) === '' ? PLAIN : `${name} takes a plain number, not one in ${unitOf(of)}: divide it by 1 ${unitOf(of)}`

/** A function of a real number that is its own over complex ones: value and derivative. */
const analytic = (value: (z: Complex) => Complex, derivative: (z: Complex, f: Complex) => Complex) => (of: Taylor) => {
  const f = value(of.value)
  return { value: f, slope: multiply(derivative(of.value, f), of.slope) }
}

const ln = (z: Complex): Complex => ({ re: Math.log(abs(z)), im: Math.atan2(z.im, z.re) })
const expOf = (z: Complex): Complex => scale({ re: Math.cos(z.im), im: Math.sin(z.im) }, Math.exp(z.re))
const sqrt = (z: Complex): Complex => {
  const size = abs(z)
  const re = Math.sqrt((size + Math.abs(z.re)) / 2)
  if (re === 0) return complex(0)
  const other = Math.abs(z.im) / (2 * re)
  const sign = z.im < 0 ? -1 : 1
  return z.re >= 0 ? { re, im: sign * other } : { re: other, im: sign * re }
}

/** Relative change of a value with ω. */
const relative = ({ value, slope }: Taylor): Complex => divide(slope, value)

export const FUNCTION_MEANINGS: Readonly<Record<SignalFunction, FunctionMeaning>> = {
  abs: {
    dimension: same,
    complex: (of) => {
      const size = abs(of.value)
      return { value: complex(size), slope: complex(size * relative(of).re) }
    },
    real: Math.abs,
  },
  db: {
    dimension: () => dimensionOf('dB'),
    complex: (of) => ({ value: complex(DB * Math.log(abs(of.value))), slope: complex(DB * relative(of).re) }),
    real: (x) => DB * Math.log(Math.abs(x)),
  },
  deg: {
    dimension: () => dimensionOf('°'),
    complex: (of) => ({
      value: complex(DEGREES * Math.atan2(of.value.im, of.value.re)),
      slope: complex(DEGREES * relative(of).im),
    }),
    real: null,
  },
  re: {
    dimension: same,
    complex: ({ value, slope }) => ({ value: complex(value.re), slope: complex(slope.re) }),
    real: (x) => x,
  },
  im: {
    dimension: same,
    complex: ({ value, slope }) => ({ value: complex(value.im), slope: complex(slope.im) }),
    real: () => 0,
  },
  conj: {
    dimension: same,
    complex: ({ value, slope }) => ({ value: conjugate(value), slope: conjugate(slope) }),
    real: (x) => x,
  },
  delay: {
    dimension: () => dimensionOf('s'),
    complex: (of) => ({ value: complex(-relative(of).im), slope: UNKNOWN }),
    real: null,
    isSloped: true,
  },
  derivative: {
    dimension: (of, isOverTime) => productOf(of, dimensionOf('s'), isOverTime ? -1 : 1),
    complex: ({ slope }) => ({ value: scale(slope, 2 * Math.PI), slope: UNKNOWN }),
    real: () => 0,
    course: derivative,
    isSloped: true,
  },
  mean: { dimension: same, complex: null, real: (x) => x, course: runningMean },
  sqrt: {
    dimension: (of) => productOf(PLAIN, of, 1 / 2),
    complex: analytic(sqrt, (_, f) => divide(complex(1 / 2), f)),
    real: Math.sqrt,
  },
  exp: { dimension: plainOnly('exp'), complex: analytic(expOf, (_, f) => f), real: Math.exp },
  ln: { dimension: plainOnly('ln'), complex: analytic(ln, (z) => divide(complex(1), z)), real: Math.log },
  log10: {
    dimension: plainOnly('log10'),
    complex: analytic(
      (z) => scale(ln(z), 1 / Math.LN10),
      (z) => divide(complex(1 / Math.LN10), z),
    ),
    real: Math.log10,
  },
}

/** v to a power, by its logarithm. */
export function poweredBy(base: Taylor, exponent: Taylor): Taylor {
  if (exponent.value.im === 0 && Number.isInteger(exponent.value.re) && abs(exponent.slope) === 0) {
    const n = exponent.value.re
    const lower = integerPower(base.value, n - 1)
    return { value: multiply(lower, base.value), slope: scale(multiply(lower, base.slope), n) }
  }
  const { complex: log } = FUNCTION_MEANINGS.ln
  const { complex: exp } = FUNCTION_MEANINGS.exp
  const { value, slope } = log!(base)
  const product = {
    value: multiply(value, exponent.value),
    slope: add(multiply(slope, exponent.value), multiply(value, exponent.slope)),
  }
  return exp!(product)
}

function integerPower(z: Complex, n: number): Complex {
  if (n < 0) return divide(complex(1), integerPower(z, -n))
  let [result, square] = [complex(1), z]
  for (let k = n; k > 0; k = Math.floor(k / 2)) {
    if (k % 2 === 1) result = multiply(result, square)
    square = multiply(square, square)
  }
  return result
}

/** By parabolas through each point and its neighbours; on each side of a jump the course goes on as it does there. */
function derivative(y: Float64Array, t: Float64Array): Float64Array {
  const last = y.length - 1
  const h = (k: number) => t[k + 1] - t[k]
  const slope = (k: number) => (y[k + 1] - y[k]) / h(k)
  /** At an end of a stretch, from its interval k and the one behind it; the straight line where that is a jump. */
  const atEnd = (k: number, next: number) =>
    next < 0 || next >= last || h(next) === 0
      ? slope(k)
      : slope(k) + ((slope(k) - slope(next)) * h(k)) / (h(k) + h(next))
  return y.map((_, k) => {
    if (last === 0) return NaN
    if (k === 0 || (k < last && h(k - 1) === 0)) return atEnd(k, k + 1)
    if (k === last || h(k) === 0) return atEnd(k - 1, k - 2)
    return (slope(k - 1) * h(k) + slope(k) * h(k - 1)) / (h(k - 1) + h(k))
  })
}

/** The mean from the begin to each time, by straight lines between the points. */
function runningMean(y: Float64Array, t: Float64Array): Float64Array {
  let area = 0
  return y.map((value, k) => {
    if (k > 0) area += ((y[k - 1] + value) / 2) * (t[k] - t[k - 1])
    const span = t[k] - t[0]
    return span > 0 ? area / span : value
  })
}
