/** A course in time: s, ascending, and a value at each; two points of the same time are a jump. */
export interface Course {
  readonly time: Float64Array
  readonly value: Float64Array
}

/** What is read off a course between two times. */
export interface CourseMeasures {
  readonly least: number
  readonly greatest: number
  readonly peakToPeak: number
  /** Of whole periods where it is periodic. */
  readonly mean: number
  readonly rms: number
  /** s from one upward passage of its middle to the next; null where it passes less than twice. */
  readonly period: number | null
}

/** One harmonic: amplitude·cos(2πft + phase). */
export interface CourseHarmonic {
  /** Hz; 0 is the mean. */
  readonly frequency: number
  readonly amplitude: number
  /** degrees */
  readonly phase: number
}

export interface CourseSpectrum {
  /** The mean, the fundamental, and what is above it. */
  readonly harmonics: readonly CourseHarmonic[]
  /** Root of the harmonics' power over the fundamental's, %; null without a fundamental. */
  readonly distortionPercent: number | null
}

/** Points of a period, or of all there is, at which a course is sampled. */
const SAMPLES = 4096
/** A swing below this part of the greatest size is rounding. */
const NOTHING = 1e-12
/** A fundamental below this part of it is that of a course which has none. */
const NOTHING_HEARD = 1e-9

/**
 * Least, greatest, mean, rms and period of a course, extremes by a parabola through the points around them.
 *
 * @param from and @param to s
 * @param known s: its period, where its cause says it
 */
export function courseMeasures(course: Course, from: number, to: number, known: number | null = null): CourseMeasures {
  const { time, value } = course
  const [first, last] = [lowerBound(time, from), lowerBound(time, to * (1 + 1e-12) + Number.MIN_VALUE) - 1]
  const inside: number[] = [courseAt(course, from), courseAt(course, to)]
  for (let k = first; k <= last; k++) inside.push(value[k], crest(course, k))
  const least = inside.reduce((a, b) => Math.min(a, b))
  const greatest = inside.reduce((a, b) => Math.max(a, b))
  const swings = greatest - least > NOTHING * Math.max(Math.abs(least), Math.abs(greatest))
  const period = swings ? (known ?? periodOf(course, (least + greatest) / 2, from, to)) : null
  const whole = period !== null && period <= to - from ? period * Math.floor((to - from) / period + 1e-9) : to - from
  const { mean, rms } = means(course, to - whole, to)
  // What is left of equal areas above and below is rounding.
  const isNothing = Math.abs(mean) < NOTHING * Math.max(Math.abs(least), Math.abs(greatest))
  return { least, greatest, peakToPeak: greatest - least, mean: isNothing ? 0 : mean, rms, period }
}

/** s from one upward passage of a level to the next, on average. */
function periodOf({ time, value }: Course, level: number, from: number, to: number): number | null {
  const passed: number[] = []
  for (let k = 1; k < time.length; k++) {
    if (time[k] < from || time[k - 1] > to || !(value[k - 1] < level && value[k] >= level)) continue
    const share = (level - value[k - 1]) / (value[k] - value[k - 1])
    passed.push(time[k - 1] + share * (time[k] - time[k - 1]))
  }
  return passed.length < 2 ? null : (passed.at(-1)! - passed[0]) / (passed.length - 1)
}

/** By Simpson's rule between each two points, so that a jump counts for what stands on both its sides. */
function means(course: Course, from: number, to: number): { mean: number; rms: number } {
  const { time, value } = course
  const [first, last] = [upperBound(time, from), lowerBound(time, to)]
  let [sum, squares] = [0, 0]
  const add = (a: number, va: number, b: number, vb: number) => {
    if (!(b > a)) return
    const middle = courseAt(course, (a + b) / 2)
    sum += ((b - a) / 6) * (va + 4 * middle + vb)
    squares += ((b - a) / 6) * (va * va + 4 * middle * middle + vb * vb)
  }
  let [t, v] = [from, courseAt(course, from)]
  for (let k = first; k < last; k++) {
    add(t, v, time[k], value[k])
    t = time[k]
    v = value[k]
  }
  add(t, v, to, courseAt(course, to))
  return { mean: sum / (to - from), rms: Math.sqrt(squares / (to - from)) }
}

/**
 * The spectrum of the last whole period of a course.
 *
 * @param frequency of the fundamental, Hz
 * @param count harmonics, the fundamental included, ≥ 1
 * @returns null where the course is shorter than a period
 */
export function courseSpectrum(course: Course, frequency: number, count: number): CourseSpectrum | null {
  const end = course.time.at(-1)!
  const period = 1 / frequency
  if (!(period <= (end - course.time[0]) * (1 + 1e-9))) return null
  const values = Array.from({ length: SAMPLES }, (_, k) => courseAt(course, end - period + (period * k) / SAMPLES))
  const harmonics = Array.from({ length: count + 1 }, (_, h): CourseHarmonic => {
    const { re, im } = projected(values, h, frequency, end - period)
    const factor = h === 0 ? 1 : 2
    return {
      frequency: h * frequency,
      amplitude: factor * Math.hypot(re, im),
      phase: (Math.atan2(im, re) * 180) / Math.PI,
    }
  })
  const above = harmonics.slice(2).reduce((sum, { amplitude }) => sum + amplitude ** 2, 0)
  const [, { amplitude }] = harmonics
  return { harmonics, distortionPercent: amplitude > 0 ? (100 * Math.sqrt(above)) / amplitude : null }
}

function projected(values: readonly number[], h: number, frequency: number, begin: number): { re: number; im: number } {
  let [re, im] = [0, 0]
  values.forEach((v, k) => {
    const angle = 2 * Math.PI * h * (k / values.length + begin * frequency)
    re += v * Math.cos(angle)
    im -= v * Math.sin(angle)
  })
  return { re: re / values.length, im: im / values.length }
}

/**
 * How much later one course is than another of the same frequency, by their fundamentals over the last period.
 *
 * @returns degrees in (−180, 180], positive: it lags; null where one of them has no fundamental
 */
export function lagBetween(of: Course, behind: Course, frequency: number): number | null {
  const [a, b] = [of, behind].map((c) => {
    const size = c.value.reduce((most, v) => Math.max(most, Math.abs(v)), 0)
    const first = courseSpectrum(c, frequency, 1)?.harmonics[1]
    return first && first.amplitude > NOTHING_HEARD * size ? first : null
  })
  if (!a || !b) return null
  const turn = b.phase - a.phase
  return turn - 360 * Math.ceil((turn - 180) / 360)
}

/** What a cursor over time can be put on: a maximum, a minimum, a passage through 0. */
export const COURSE_SNAPS = [
  { id: 'peak', name: 'peak', says: 'the next maximum' },
  { id: 'dip', name: 'dip', says: 'the next minimum' },
  { id: 'zero', name: '0', says: 'the next passage through 0' },
] as const
export type CourseSnap = (typeof COURSE_SNAPS)[number]['id']

/** Every time between two at which a course has a value, s, ascending; a jump over it counts. */
export function timesWhere(course: Course, wanted: number, from: number, to: number): number[] {
  const { time, value } = course
  const found: number[] = []
  for (let k = 1; k < time.length; k++) {
    if (time[k] < from || time[k - 1] > to) continue
    const [a, b] = [value[k - 1] - wanted, value[k] - wanted]
    if (a === 0 && (k === 1 || value[k - 2] !== wanted)) found.push(time[k - 1])
    if (!(a * b < 0)) continue
    if (time[k] === time[k - 1]) {
      found.push(time[k])
      continue
    }
    let [lo, hi] = [time[k - 1], time[k]]
    for (;;) {
      const middle = (lo + hi) / 2
      if (!(middle > lo && middle < hi)) break
      if ((courseAt(course, middle) - wanted) * a > 0) lo = middle
      else hi = middle
    }
    found.push(hi)
  }
  return found.filter((t) => t >= from && t <= to)
}

/** The places of a kind on a course between two times, s, ascending; extremes by the parabola through three points. */
export function coursePlaces(course: Course, snap: CourseSnap, from: number, to: number): number[] {
  if (snap === 'zero') return timesWhere(course, 0, from, to)
  const { time, value } = course
  const sign = snap === 'peak' ? 1 : -1
  const found: number[] = []
  for (let k = 1; k + 1 < time.length; k++) {
    const [d0, d1] = [sign * (value[k] - value[k - 1]), sign * (value[k + 1] - value[k])]
    if (!(d0 > 0 && d1 <= 0)) continue
    const [h0, h1] = [time[k] - time[k - 1], time[k + 1] - time[k]]
    if (h0 === 0 || h1 === 0 || d1 === 0) {
      found.push(time[k])
      continue
    }
    const curvature = (d1 / h1 - d0 / h0) / (h0 + h1)
    const slope = ((d0 / h0) * h1 + (d1 / h1) * h0) / (h0 + h1)
    found.push(time[k] - slope / (2 * curvature))
  }
  return found.filter((t) => t >= from && t <= to)
}

/** The value at a time: by the cubic through the four points around it, none of them beyond a jump. */
export function courseAt({ time, value }: Course, t: number): number {
  const n = time.length
  const k = Math.min(n - 1, Math.max(1, lowerBound(time, t)))
  if (t >= time[n - 1]) return value[n - 1]
  if (t <= time[0]) return value[0]
  if (time[k] === time[k - 1]) return value[k]
  const around = [k - 1, k]
  if (k - 2 >= 0 && time[k - 2] < time[k - 1]) around.unshift(k - 2)
  if (k + 1 < n && time[k + 1] > time[k]) around.push(k + 1)
  let sum = 0
  for (const j of around) {
    let weight = value[j]
    for (const m of around) if (m !== j) weight *= (t - time[m]) / (time[j] - time[m])
    sum += weight
  }
  return sum
}

/** The extreme of the parabola through a point and its neighbours, where the point is one among them. */
function crest({ time, value }: Course, k: number): number {
  if (k === 0 || k === time.length - 1) return value[k]
  const [a, b, c] = [value[k - 1], value[k], value[k + 1]]
  const [h0, h1] = [time[k] - time[k - 1], time[k + 1] - time[k]]
  if (h0 === 0 || h1 === 0 || (b - a) * (c - b) >= 0) return b
  const [d0, d1] = [(b - a) / h0, (c - b) / h1]
  const curvature = (d1 - d0) / (h0 + h1)
  const slope = (d0 * h1 + d1 * h0) / (h0 + h1)
  const top = b - (slope * slope) / (4 * curvature)
  // A corner is as high as it is.
  return Math.abs(top - b) > Math.max(Math.abs(a - b), Math.abs(c - b)) ? b : top
}

/** Index of the first value that is above another. */
function upperBound(x: Float64Array, value: number): number {
  let k = lowerBound(x, value)
  while (k < x.length && x[k] <= value) k++
  return k
}

/** Index of the first value that is not below another. */
function lowerBound(x: Float64Array, value: number): number {
  let [lo, hi] = [0, x.length]
  while (lo < hi) {
    const middle = (lo + hi) >> 1
    if (x[middle] < value) lo = middle + 1
    else hi = middle
  }
  return lo
}
