import type { Transient } from './transient.js'

/** Most points that a polynomial goes through: order 7, well above the order of the steps. */
const MOST_POINTS = 8

/** A neighbour on the side that has more of them already must promise this much less of a bend to be taken. */
const LOPSIDED = 4

/**
 * One output at given times, by polynomials through the nearest steps of the same smooth stretch. The steps that a
 * polynomial goes through are chosen where the curve bends least (so that none reaches across a knee), and no more are
 * taken once they stop to add less and less. Where steps have points inside, it is those that the course goes through, and
 * which it was judged by.
 *
 * Source: A. Harten, B. Engquist, S. Osher, S. R. Chakravarthy, "Uniformly high order accurate essentially
 * non-oscillatory schemes, III", J. Comput. Phys. 71, 1987, 231–303 (from memory).
 *
 * @param times s, within the run; quickest where they ascend
 */
export function interpolate(run: Transient, output: number, times: Float64Array): Float64Array {
  const joined = run.joined?.[output]
  if (joined)
    return joined.join(
      joined.parts.map((part) => interpolated(run, part, times)),
      times,
    )
  return interpolated(run, run.outputs[output], times)
}

function interpolated({ time, stretches, inside }: Transient, values: Float64Array, times: Float64Array): Float64Array {
  const result = new Float64Array(times.length)
  const polynomial = new StepPolynomial(time, values)
  let step = -1
  let stretch = 0
  let drawn = -1
  for (let k = 0; k < times.length; k++) {
    const t = times[k]
    // A time that rounding alone puts before a step, a jump above all, lies on it.
    const reached = t * (1 + SAME_TIME)
    if (step < 0 || reached < time[step]) step = lastNotAfter(time, reached)
    else while (step + 1 < time.length && time[step + 1] <= reached) step++
    if (time[step] >= t || step === time.length - 1) {
      result[k] = values[step]
      continue
    }
    if (step !== drawn) {
      while (stretch > 0 && stretches[stretch] > step) stretch--
      while (stretch + 1 < stretches.length && stretches[stretch + 1] <= step) stretch++
      const begin = stretches[stretch]
      const end = (stretches[stretch + 1] ?? time.length) - 1
      if (inside > 0) polynomial.drawStep(...stepAround(step, begin, inside))
      else polynomial.draw(step, begin, end)
      drawn = step
    }
    result[k] = polynomial.at(t)
  }
  return result
}

/** First and last point of the step that a point lies in. */
function stepAround(point: number, begin: number, inside: number): [first: number, last: number] {
  const first = point - ((point - begin) % (inside + 1))
  return [first, first + inside + 1]
}

/** Times that differ by less than this part are one. */
const SAME_TIME = 4 * Number.EPSILON

/** Newton's form of the polynomial around one step. */
class StepPolynomial {
  private readonly nodes = new Float64Array(MOST_POINTS)
  private readonly coefficients = new Float64Array(MOST_POINTS)
  private count = 0

  constructor(
    private readonly x: Float64Array,
    private readonly y: Float64Array,
  ) {}

  /** Through all points of one step. */
  drawStep(first: number, last: number): void {
    this.count = 0
    for (let k = first; k <= last; k++) this.add(k, this.difference(k))
  }

  /** Through points around [step, step + 1], none outside begin … end. */
  draw(step: number, begin: number, end: number): void {
    const { x } = this
    this.count = 0
    this.add(step, this.difference(step))
    if (step === end) return
    this.add(step + 1, this.difference(step + 1))
    let left = step - 1
    let right = step + 2
    const middle = (x[step] + x[step + 1]) / 2
    let reach = (x[step + 1] - middle) ** 2
    // The larger of the last two terms: at a summit the odd ones vanish.
    let last = Math.abs(this.coefficients[1] * (x[step + 1] - x[step]))
    let beforeLast = Infinity
    while (this.count < MOST_POINTS && (left >= begin || right <= end)) {
      const dl = left >= begin ? this.difference(left) : Infinity
      const dr = right <= end ? this.difference(right) : Infinity
      const balance = step - left - (right - step - 1)
      const weightLeft = balance > 0 ? LOPSIDED : 1
      const weightRight = balance < 0 ? LOPSIDED : 1
      const toLeft = weightLeft * Math.abs(dl) <= weightRight * Math.abs(dr)
      const d = toLeft ? dl : dr
      const term = Math.abs(d) * reach
      if (!(term < Math.max(last, beforeLast)) && this.count > 3) return
      beforeLast = last
      last = term
      reach *= Math.abs((toLeft ? x[left] : x[right]) - middle)
      this.add(toLeft ? left-- : right++, d)
    }
  }

  at(t: number): number {
    const { nodes, coefficients } = this
    let y = coefficients[this.count - 1]
    for (let j = this.count - 2; j >= 0; j--) y = y * (t - nodes[j]) + coefficients[j]
    return y
  }

  /** The divided difference that a further point brings. */
  private difference(point: number): number {
    let d = this.y[point]
    for (let j = 0; j < this.count; j++) d = (d - this.coefficients[j]) / (this.x[point] - this.nodes[j])
    return d
  }

  private add(point: number, difference: number): void {
    this.nodes[this.count] = this.x[point]
    this.coefficients[this.count++] = difference
  }
}

/** Index of the last time that is not after t; 0 where all are. */
function lastNotAfter(time: Float64Array, t: number): number {
  let lo = 0
  let hi = time.length - 1
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1
    if (time[mid] <= t) lo = mid
    else hi = mid - 1
  }
  return lo
}

/** `points` evenly spaced times from 0 to `stop`. */
export function uniformTimes(stop: number, points: number): Float64Array {
  return Float64Array.from({ length: points }, (_, k) => (points === 1 ? 0 : (stop * k) / (points - 1)))
}
