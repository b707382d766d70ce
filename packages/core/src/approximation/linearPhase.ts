import { complex } from '../numeric/complex.js'
import { solveLinear } from '../numeric/dense.js'
import { leastBetween } from '../numeric/goldenSection.js'
import { gainForDc, scaleFrequency, type TransferFunction, withConjugates } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'
import { type Approximation, scaledToPeakLoss } from './Approximation.js'
import { unitDelay } from './bessel.js'

const DEFAULT_RIPPLE_DEG = 0.5
const MOST_NEWTON = 20
const MOST_EXCHANGES = 20

/** Poles of the upper half plane with the delay τ that their phase is compared with. */
interface Shape {
  /** −Re and Im of each pair. */
  readonly pairs: readonly (readonly [sigma: number, omega: number])[]
  /** −Re of the real pole of an odd order; 0 for none. */
  readonly real: number
  readonly tau: number
}

/** τω less the phase lag, rad: how far the lag stays behind a line. */
function deviation({ pairs, real, tau }: Shape, w: number): number {
  let lag = real > 0 ? Math.atan(w / real) : 0
  for (const [s, o] of pairs) lag += Math.atan((w + o) / s) + Math.atan((w - o) / s)
  return tau * w - lag
}

/** Derivatives of the deviation by the pairs' σ and ω, the real pole and τ, in this order. */
function slopes({ pairs, real }: Shape, w: number): number[] {
  const row: number[] = []
  for (const [s, o] of pairs) {
    const [up, down] = [s * s + (w + o) ** 2, s * s + (w - o) ** 2]
    row.push((w + o) / up + (w - o) / down, -s / up + s / down)
  }
  if (real > 0) row.push(w / (real * real + w * w))
  row.push(w)
  return row
}

function moved(shape: Shape, step: ArrayLike<number>): Shape {
  const n = shape.pairs.length
  return {
    pairs: shape.pairs.map(([s, o], k) => [s + step[2 * k], o + step[2 * k + 1]] as const),
    real: shape.real > 0 ? shape.real + step[2 * n] : 0,
    tau: shape.tau + step[step.length - 1],
  }
}

const sound = ({ pairs, real }: Shape, odd: boolean) => pairs.every(([s, o]) => s > 0 && o > 0) && (!odd || real > 0)

/** The shape near another whose deviation takes these values at these frequencies, by Newton's method; null if not near. */
function newton(start: Shape, points: readonly number[], wanted: readonly number[]): Shape | null {
  const odd = start.real > 0
  let shape = start
  let before = Infinity
  for (let iteration = 0; iteration < MOST_NEWTON; iteration++) {
    const miss = points.map((w, k) => wanted[k] - deviation(shape, w))
    const size = miss.reduce((most, v) => Math.max(most, Math.abs(v)), 0)
    if (size < 1e-14 || (size < 1e-11 && size >= before / 2)) return shape
    if (iteration > 2 && size > before) return null
    before = size
    const step = solveLinear(
      points.map((w) => slopes(shape, w)),
      miss,
    )
    shape = moved(shape, step)
    if (!sound(shape, odd)) return null
  }
  return null
}

/** The same from farther away: the values are led over from those that the shape has to those that are wanted. */
function led(start: Shape, points: readonly number[], wanted: readonly number[]): Shape {
  const from = points.map((w) => deviation(start, w))
  let shape = start
  let done = 0
  let part = 1
  while (done < 1 && part > 1e-6) {
    const next = Math.min(1, done + part)
    const found = newton(
      shape,
      points,
      wanted.map((v, k) => from[k] + next * (v - from[k])),
    )
    if (found) [shape, done, part] = [found, next, 2 * part]
    else part /= 2
  }
  return shape
}

/** Where the deviation is largest between its zeros; the band's end comes last. */
function extremes(shape: Shape, zeros: readonly number[]): number[] {
  const found: number[] = []
  for (let k = 0; k < zeros.length; k++) {
    // Between two zeros there is one summit.
    found.push(leastBetween((w) => -Math.abs(deviation(shape, w)), k === 0 ? 0 : zeros[k - 1], zeros[k]))
  }
  return [...found, 1]
}

/** A shape that has been found, with the zeros of its error. */
interface Found {
  readonly shape: Shape
  readonly zeros: readonly number[]
}

const known = new Map<string, Found>()

/** Orders from which on the shape of two orders less is nearer than Bessel's. */
const GROWN_FROM = 6

/** Phase within ±δ of a line up to ω = 1, its error touching both bounds as often as it can. */
function equiripple(order: number, degrees: number): Found {
  const key = `${order} ${degrees}`
  const stored = known.get(key)
  if (stored) return stored
  const delta = (degrees * Math.PI) / 180
  const start = order < GROWN_FROM ? besselShape(order, delta) : grown(equiripple(order - 2, degrees))
  let zeros = start.zeros
  let shape = led(start.shape, [...zeros, 1], [...zeros.map(() => 0), delta])
  for (let exchange = 0; exchange < MOST_EXCHANGES; exchange++) {
    const points = extremes(shape, zeros)
    const heights = points.map((w) => Math.abs(deviation(shape, w)))
    if (Math.max(...heights) - Math.min(...heights) < 1e-9 * delta) break
    shape = led(
      shape,
      points,
      points.map((_, i) => (-1) ** (order - i) * delta),
    )
    zeros = points.slice(1).map((b, i) => zeroBetween(shape, points[i], b))
  }
  const found = { shape, zeros }
  known.set(key, found)
  return found
}

/** Bessel's poles, scaled so that they have left the line by δ at ω = 1; zeros as those of an odd Chebyshev polynomial. */
function besselShape(order: number, delta: number): Found {
  const unit = startingScale(order, delta)
  const { poles } = scaleFrequency(unitDelay(order), unit)
  const shape = {
    pairs: poles.filter((p) => p.im > 0).map((p) => [-p.re, p.im] as const),
    real: -(poles.find((p) => p.im === 0)?.re ?? 0),
    tau: 1 / unit,
  }
  const zeros = Array.from({ length: order }, (_, j) => Math.cos((Math.PI * (2 * j + 1)) / (2 * (2 * order + 1))))
  return { shape, zeros: zeros.reverse() }
}

/**
 * One pair more. Inside the band the poles stand nearly at equal distances: one is put in there, and what lies above
 * moves up by a distance, so that both ends of the band stay as they were.
 */
function grown({ shape: { pairs, real, tau }, zeros }: Found): Found {
  const sorted = [...pairs].sort((a, b) => a[1] - b[1])
  const middle = Math.floor(sorted.length / 2)
  const below = sorted[middle - 1]
  const distance = sorted[middle][1] - below[1]
  const scale = 1 / (1 + distance)
  const all = [
    ...sorted.slice(0, middle),
    [below[0], below[1] + distance] as const,
    ...sorted.slice(middle).map(([s, o]) => [s, o + distance] as const),
  ]
  const half = Math.floor(zeros.length / 2)
  const last = zeros[half - 1]
  const more = [
    ...zeros.slice(0, half),
    last + distance / 2,
    last + distance,
    ...zeros.slice(half).map((z) => z + distance),
  ]
  return {
    shape: { pairs: all.map(([s, o]) => [scale * s, scale * o] as const), real: scale * real, tau: tau / scale },
    zeros: more.map((z) => scale * z),
  }
}

/** The response with this shape. */
function responseOf({ pairs, real }: Shape): TransferFunction {
  const upper = pairs.map(([s, o]) => complex(-s, o))
  const poles = withConjugates(upper, real > 0 ? [-real] : [])
  return { poles, zeros: [], gain: gainForDc(poles, [], 1) }
}

/** Bessel poles times this have left the line by δ at ω = 1. */
function startingScale(order: number, delta: number): number {
  const poles = unitDelay(order).poles
  const off = (w: number) => w - poles.reduce((sum, p) => sum + Math.atan((w - p.im) / -p.re), 0)
  let [low, high] = [0, 1]
  while (off(high) < delta) [low, high] = [high, 2 * high]
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2
    if (off(middle) < delta) low = middle
    else high = middle
  }
  return 1 / high
}

function zeroBetween(shape: Shape, a: number, b: number): number {
  let [low, high] = [a, b]
  const rising = deviation(shape, b) > 0
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2
    if (deviation(shape, middle) > 0 === rising) high = middle
    else low = middle
  }
  return (low + high) / 2
}

/** Equal ripples of the phase around a line: linear phase farther up than Bessel's for the same order. */
export const linearPhase: Approximation = {
  id: 'linear-phase',
  name: 'Linear phase',
  character: 'Phase within equal ripples of a line: a flat delay farther up than Bessel’s, a little ripple in it.',
  source:
    'E. Ulbrich, H. Piloty, Archiv der elektrischen Übertragung 14, 1960, 451–467 (from memory); A. I. Zverev, "Handbook of Filter Synthesis", Wiley 1967',
  formulas: [
    'arg H = −τΩ ± δ up to Ω = 1, the error touching both bounds n + 1 times',
    'poles by exchange and Newton’s method on the phase',
  ],
  defaultRippleDb: HALF_POWER_DB,
  fields: [{ id: 'phaseRipple', name: 'Phase ripple', unit: '°', least: 0.001, most: 5, default: DEFAULT_RIPPLE_DEG }],
  prototype: ({ order, rippleDb, parameters: { phaseRipple = DEFAULT_RIPPLE_DEG } }) =>
    scaledToPeakLoss(responseOf(equiripple(order, phaseRipple).shape), rippleDb),
}
