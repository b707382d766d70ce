import { abs, type Complex } from '../numeric/complex.js'
import { choleskyFactor, solveLower } from '../numeric/dense.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { type Candidate, candidatesFor, type Ends, type Fit, fitOf, madeBy, startsOf } from './candidates.js'
import { type Off, type Place, placeAt, refined } from './leastSquares.js'
import { onAxis } from './prototypes.js'
import type { Rounding } from './rounding.js'

/** Kinds of response that are made from a low-pass. */
export type MadeResponse = 'lowpass' | 'highpass' | 'bandpass' | 'bandstop'

/** A family that a response may have been meant to be. */
export interface Likely extends Fit {
  /** χ², how improbable the rounding is that made of the family's response what is seen, and what its numbers cost. */
  readonly price: number
}

/** How much less improbable a family must be for each number that was chosen to suit. */
const CHOSEN = 2.5

/** And for one that is mostly left as it is. */
const UNUSUAL = 4

/** Most misfit that is taken for rounding: for each number that the response has, and besides. */
const BOUND = 2
const BESIDES = 8

/**
 * The family that a response was most likely meant to be before its parts were rounded: what they may have moved it by, they and
 * only they, counts by how far they would have to be off. Rounded parts move the roots of a narrow band far; which way they
 * cannot move them tells the families apart. Generalised least squares, A. C. Aitken, Proc. R. Soc. Edinburgh 55, 1935, 42–48.
 *
 * @param h less its all-pass sections
 * @returns null where it is none's
 */
export function likelyFit(h: TransferFunction, response: MadeResponse, rounding: Rounding): Likely | null {
  const seen = seenOf(h, response, rounding)
  let best: Likely | null = null
  for (const roots of seen ? readingsOf(h, response) : [])
    for (const fit of fitsTo(seen!, roots)) if (!best || fit.price < best.price) best = fit
  return best
}

/** How much more improbable a response is with every pole and zero that is taken for none. */
const NONE = 3

/** A pole that is so much nearer to the axis than poles are in the mean, and within this of its own size a zero, may be none. */
const UNDAMPED = 0.05
const CANCELLED = 0.06

/** Roots without which a response may have been meant, and what it is made from. */
interface Reading {
  readonly order: number
  /** How many pairs are left out. */
  readonly none: number
  /** Σ −Re of the poles, rad/s. */
  readonly damping: number
  /** The geometric mean of the poles, rad/s: the middle of a band. */
  readonly middle: number
  /** Where it has zeros on the axis, rad/s, ascending. */
  readonly zeros: readonly number[]
}

/** The response as it is, and without one, two … of the pairs of pole and zero that lie so near each other that they may be none. */
function readingsOf(h: TransferFunction, response: MadeResponse): Reading[] {
  const isBand = response === 'bandpass' || response === 'bandstop'
  const damping = -h.poles.reduce((sum, p) => sum + p.re, 0) / h.poles.length
  const near = h.poles
    .filter((p) => p.im > 0 && -p.re < UNDAMPED * damping)
    .flatMap((pole) =>
      h.zeros.map((z, zero) => ({ pole, zero, far: Math.hypot(z.re - pole.re, z.im - pole.im) / abs(pole) })),
    )
    .filter(({ far }) => far < CANCELLED)
    .sort((a, b) => a.far - b.far)
  const pairs: typeof near = []
  for (const pair of near)
    if (!pairs.some(({ pole, zero }) => pole === pair.pole || zero === pair.zero)) pairs.push(pair)
  const readings: Reading[] = []
  for (let count = 0; count <= pairs.length; count++) {
    const none = pairs.slice(0, count)
    const poles = h.poles.filter((p) => !none.some(({ pole }) => pole.re === p.re && pole.im === Math.abs(p.im)))
    const order = poles.length / (isBand ? 2 : 1)
    const zeros = h.zeros.filter((z, k) => z.im > 0 && !none.some(({ zero }) => zero === k))
    if (!Number.isInteger(order) || order < 2 || !zeros.every(onAxis)) continue
    readings.push({
      order,
      none: count,
      damping: -poles.reduce((sum, p) => sum + p.re, 0),
      middle: meanOf(poles),
      zeros: zeros.map(abs).sort((a, b) => a - b),
    })
  }
  return readings
}

const meanOf = (roots: readonly Complex[]) =>
  Math.exp(roots.reduce((sum, r) => sum + Math.log(abs(r)), 0) / roots.length)

/** Points at which responses are compared, on one side of a low-pass's axis, and between which multiples of its edge. */
const POINTS = 20
const SPAN = [0.05, 2.5] as const

/** Of its highest: where a response is weaker it is not compared. */
const FLOOR = 0.03

/** Of the square of what rounding does at a point: what its second order may do. */
const BENT = 2

/** Least standard deviation of a point, as a share of the greatest of a part. */
const LEAST = 0.1

/** A response at some frequencies, and in what coordinates what rounding does to it is one in all directions. */
interface Seen {
  readonly response: MadeResponse
  /** rad/s */
  readonly omegas: readonly number[]
  readonly values: readonly Complex[]
  /** L of the covariance L·Lᵀ of relative errors, real and imaginary in turn. */
  readonly spread: Float64Array
  /** Standard deviation of a resonance, relative: that of two values under a root. */
  readonly resonance: number
  readonly parts: number
}

function seenOf(h: TransferFunction, response: MadeResponse, rounding: Rounding): Seen | null {
  const sizes = h.poles.map(abs)
  const middle = meanOf(h.poles)
  const damping = -h.poles.reduce((sum, p) => sum + p.re, 0)
  // Of the maximally flat response; what has ripples has less damping, and its poles lie farther apart.
  const width = Math.max((damping * Math.PI) / 2 / sizes.length, Math.max(...sizes) - Math.min(...sizes))
  const sides = response === 'bandpass' || response === 'bandstop' ? [1, -1] : [1]
  const grid = sides.flatMap((side) =>
    Array.from({ length: POINTS }, (_, k) => side * SPAN[0] * (SPAN[1] / SPAN[0]) ** (k / (POINTS - 1))),
  )
  const all = grid.map((x) => omegaOf(response, x, middle, width)).sort((a, b) => a - b)
  const own = valueAt(h)
  const floor = FLOOR * Math.max(...all.map((w) => abs(own(w))))
  const omegas = all.filter((w) => abs(own(w)) > floor)
  const parts = rounding.at(omegas.map((w) => w / (2 * Math.PI)))
  const greatest = Math.max(0, ...parts.map((p) => p.spread))
  if (greatest === 0) return null
  const n = 2 * omegas.length
  const covariance = new Float64Array(n * n)
  const reached = new Float64Array(omegas.length)
  for (const { spread, magnitude, phase } of parts) {
    const moved = Float64Array.from({ length: n }, (_, i) => spread * (i % 2 === 0 ? magnitude : phase)[i >> 1])
    for (let i = 0; i < n; i++) {
      reached[i >> 1] += moved[i] ** 2
      for (let j = 0; j <= i; j++) covariance[i * n + j] += moved[i] * moved[j]
    }
  }
  for (let i = 0; i < n; i++) covariance[i * n + i] += (LEAST * greatest) ** 2 + BENT * reached[i >> 1] ** 2
  return {
    response,
    omegas,
    values: omegas.map(own),
    spread: choleskyFactor(covariance, n),
    resonance: greatest * Math.SQRT1_2,
    parts: parts.length,
  }
}

/** The frequency at which a response made with some middle and width is what its low-pass is at Ω. */
function omegaOf(response: MadeResponse, x: number, middle: number, width: number): number {
  const half = (width * (response === 'bandpass' ? x : 1 / x)) / 2
  if (response === 'lowpass') return middle * x
  return response === 'highpass' ? middle / x : half + Math.hypot(half, middle)
}

/** And back. */
function lowpassOf(response: MadeResponse, omega: number, middle: number, width: number): number {
  switch (response) {
    case 'lowpass':
      return omega / width
    case 'highpass':
      return -width / omega
    case 'bandpass':
      return (omega * omega - middle * middle) / (width * omega)
    case 'bandstop':
      return (width * omega) / (middle * middle - omega * omega)
  }
}

/** A response at frequencies, rad/s, but for a factor. */
function valueAt({ poles, zeros }: TransferFunction): (omega: number) => Complex {
  const finite = zeros.filter((z) => abs(z) > 0)
  const origin = zeros.length - finite.length
  return (omega) => {
    let [re, im] = origin % 2 === 0 ? [1, 0] : [0, 1]
    if (origin % 4 > 1) [re, im] = [-re, -im]
    const times = (x: number, y: number) => ([re, im] = [re * x - im * y, re * y + im * x])
    for (const z of finite) {
      // 1 − jω/z
      const size = z.re * z.re + z.im * z.im
      times(1 - (omega * z.im) / size, (-omega * z.re) / size)
    }
    for (const p of poles) {
      const size = p.re * p.re + p.im * p.im
      const [x, y] = [1 - (omega * p.im) / size, (-omega * p.re) / size]
      const norm = x * x + y * y
      times(x / norm, -y / norm)
    }
    const factor = origin === 0 ? 1 : omega ** origin
    return { re: factor * re, im: factor * im }
  }
}

/** What is nobody's own: the edge, as a logarithm over where the poles put it, and the middle of a band. */
const FREE: readonly Ends[] = [
  [-1, 1],
  [-0.3, 0.3],
]

/** Responses that begin so much farther away than the nearest, as a factor and besides, are not sought further. */
const FARTHER = [10, 40] as const

/** How soon a search is content: at the begin, and at the end. */
const BRIEF = { settled: 0.05, enough: 1e-3, most: 3 }
const LONG = { settled: 0.005, enough: 0.02 }

function fitsTo(seen: Seen, reading: Reading): Likely[] {
  const { order } = reading
  const free = seen.response.startsWith('band') ? FREE : FREE.slice(0, 1)
  const bound = BOUND * Math.min(seen.parts, order * (free.length === 2 ? 2 : 1) + reading.zeros.length) + BESIDES
  const begun = candidatesFor(order).flatMap((candidate) => {
    const places = startsOf(candidate, order).flatMap(({ at, made }): { at: readonly number[]; place: Place }[] => {
      const place = placeAt(
        free.map(() => 0),
        offOf(seen, reading, made),
      )
      return place ? [{ at, place }] : []
    })
    if (places.length === 0) return []
    const { at, place } = places.reduce((a, b) => (b.place.size < a.place.size ? b : a))
    const { made } = startsOf(candidate, order).find((s) => s.at === at)!
    const near = refined(place, free, offOf(seen, reading, made), BRIEF)
    return [{ candidate, place: { ...near, at: [...at, ...near.at] } }]
  })
  let nearest = Infinity
  begun.sort((a, b) => a.place.size - b.place.size)
  return begun.flatMap(({ candidate, place }) => {
    if (place.size > FARTHER[0] * nearest + FARTHER[1]) return []
    const count = candidate.open.length
    const found = refined(place, [...candidate.open, ...free], offAt(seen, reading, candidate), LONG)
    nearest = Math.min(nearest, found.size)
    if (found.size > bound) return []
    const fit = fitOf(candidate, order, found.at.slice(0, count))
    const price = CHOSEN * count + (candidate.unusual ? UNUSUAL : 0) + NONE * reading.none
    return [{ ...fit, price: price + found.size - orderings(seen.response, candidate, order, found.at) }]
  })
}

/**
 * How much more probable some places of zeros are for those that were meant to lie in the middle of a band-stop, all at one
 * place: any of them may have come to any of these. 2·ln(n!)
 */
function orderings(response: MadeResponse, candidate: Candidate, order: number, at: readonly number[]): number {
  if (response !== 'bandstop') return 0
  const { poles, zeros } = madeBy(candidate, order, at.slice(0, candidate.open.length))!
  let sum = 0
  for (let n = 2; n <= poles.length - zeros.length; n++) sum += 2 * Math.log(n)
  return sum
}

/** How far a response is off what is seen, by what is free, in standard deviations; the factor is the best one. */
function offOf(seen: Seen, reading: Reading, made: TransferFunction): Off {
  const { response, omegas, values, spread, resonance } = seen
  const n = 2 * omegas.length
  const at = valueAt(made)
  const zeros = made.zeros.filter((z) => z.im > 0).map((z) => z.im)
  const toZeros = zerosOf(response, zeros, made.poles.length - made.zeros.length)
  const isInverse = response === 'highpass' || response === 'bandstop'
  const own = made.poles.reduce((sum, p) => sum - (isInverse ? p.re / (p.re * p.re + p.im * p.im) : p.re), 0)
  const edge = reading.damping / own
  const one = solveLower(
    spread,
    Float64Array.from({ length: n }, (_, i) => 1 - (i % 2)),
  )
  return ([wider, higher = 0]) => {
    const [width, middle] = [edge * Math.exp(wider), reading.middle * Math.exp(higher)]
    const places = toZeros(middle, width)
    // Where there are not as many, no number helps.
    if (places.length !== reading.zeros.length) return null
    const ratio = new Float64Array(n)
    omegas.forEach((omega, k) => {
      const [x, y] = [at(lowpassOf(response, omega, middle, width)), values[k]]
      const size = x.re * x.re + x.im * x.im
      ratio[2 * k] = (y.re * x.re + y.im * x.im) / size
      ratio[2 * k + 1] = (y.im * x.re - y.re * x.im) / size
    })
    const a = solveLower(spread, ratio)
    let [ab, aa] = [0, 0]
    for (let i = 0; i < n; i++) {
      ab += a[i] * one[i]
      aa += a[i] * a[i]
    }
    if (!(aa > 0 && Number.isFinite(aa))) return null
    const off = new Float64Array(n + places.length)
    for (let i = 0; i < n; i++) off[i] = (ab / aa) * a[i] - one[i]
    places.forEach((place, k) => (off[n + k] = (reading.zeros[k] / place - 1) / resonance))
    return off
  }
}

/**
 * Where a response has zeros on the axis, rad/s, ascending, by its middle and its width.
 *
 * @param zeros of its low-pass
 * @param atInfinity how many it has there besides
 */
function zerosOf(response: MadeResponse, zeros: readonly number[], atInfinity: number) {
  return (middle: number, width: number): number[] => {
    if (response === 'lowpass') return zeros.map((z) => z * width).sort((a, b) => a - b)
    if (response === 'highpass') return zeros.map((z) => width / z).sort((a, b) => a - b)
    const both = zeros.flatMap((z) => [-z, z]).map((z) => omegaOf(response, z, middle, width))
    const inside = response === 'bandstop' ? Array.from({ length: atInfinity }, () => middle) : []
    return [...both, ...inside].sort((a, b) => a - b)
  }
}

/** The same of a candidate's numbers and what is free after them. */
function offAt(seen: Seen, reading: Reading, candidate: Candidate): Off {
  const count = candidate.open.length
  let last: { readonly own: readonly number[]; readonly off: Off | null } | null = null
  return (at) => {
    const own = at.slice(0, count)
    // What is free besides moves nothing of the family's own.
    if (!last || own.some((x, k) => x !== last!.own[k])) {
      const made = madeBy(candidate, reading.order, own)
      last = { own, off: made && offOf(seen, reading, made) }
    }
    return last.off?.(at.slice(count)) ?? null
  }
}
