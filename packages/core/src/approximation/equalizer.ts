import { MOST_SECTIONS } from '../specification/filterSpec.js'
import { VoskelError } from '../errors/VoskelError.js'
import { complex } from '../numeric/complex.js'
import { solveLinear } from '../numeric/dense.js'
import { leastBetween } from '../numeric/goldenSection.js'
import { leastPower } from '../numeric/leastPower.js'
import { groupDelay, type TransferFunction, withConjugates } from '../numeric/transferFunction.js'

/** All-pass sections behind a filter, and what they make of its delay. */
export interface Equalizer {
  /** Of the all-pass, conjugates listed; its zeros are their mirror images. */
  readonly poles: TransferFunction['poles']
  /** Hz */
  readonly band: readonly [from: number, to: number]
  /** Greatest less smallest group delay in the band without and with the sections, s. */
  readonly before: number
  readonly after: number
}

/** Points of the band for each section and each pole of the filter. */
const POINTS_EACH = 12

/**
 * Powers of the error whose sum is made small, one after the other, before the ripples are made equal; the last of the
 * second list is near to the greatest error itself.
 */
const POWERS = [2, 8]
const MORE_POWERS = [16, 40]
const MOST_EXCHANGES = 12

/** What the grid's ripple may rise by in a step of the exchange, which looks between the grid's points. */
const SLACK = 1e-3

/** Ripples that differ by less than this part are equal. */
const EQUAL = 1e-7

/** A band as fractions of its upper end, with the filter's delay there. */
interface Task {
  readonly omega: Float64Array
  readonly delay: Float64Array
  readonly at: (w: number) => number
}

/** Sections as [ln σ, ω], ω in the band's upper end. */
type Sections = readonly (readonly [logSigma: number, omega: number])[]

/** Group delay of one section at ω, with its slopes by ln σ and ω₀ written into a row where one is given. */
function sectionDelay([logSigma, omega]: readonly [number, number], w: number, row?: Float64Array, at = 0): number {
  const s = Math.exp(logSigma)
  const [below, above] = [w - omega, w + omega]
  const [m, n] = [s * s + below * below, s * s + above * above]
  if (row) {
    row[at] = (2 * s * (below * below - s * s)) / (m * m) + (2 * s * (above * above - s * s)) / (n * n)
    row[at + 1] = (4 * s * below) / (m * m) - (4 * s * above) / (n * n)
  }
  return (2 * s) / m + (2 * s) / n
}

const total = ({ omega, delay }: Task, sections: Sections): Float64Array =>
  delay.map((d, i) => sections.reduce((sum, s) => sum + sectionDelay(s, omega[i]), d))

/** Delay of filter and sections together at any ω. */
const delayAt = ({ at }: Task, sections: Sections, w: number): number =>
  sections.reduce((sum, s) => sum + sectionDelay(s, w), at(w))

const highest = (values: Float64Array) => values.reduce((a, b) => Math.max(a, b))
const lowest = (values: Float64Array) => values.reduce((a, b) => Math.min(a, b))
const ripple = (values: Float64Array): number => highest(values) - lowest(values)

/** Errors against the level in the middle of the extremes, and the largest of them. */
function errors(values: Float64Array): { error: Float64Array; largest: number } {
  const level = (highest(values) + lowest(values)) / 2
  return { error: values.map((v) => v - level), largest: ripple(values) / 2 }
}

const moved = (sections: Sections, step: Float64Array): Sections =>
  sections.map(([s, o], k) => [s + step[2 * k], Math.abs(o + step[2 * k + 1])] as const)

/** Makes a power of the delay's error small. */
function flattened(task: Task, start: Sections, power: number): Sections {
  const n = 2 * start.length + 1
  const values = total(task, start)
  const level = (highest(values) + lowest(values)) / 2
  const row = new Float64Array(n)
  row[n - 1] = -1
  const found = leastPower(
    [...start.flat(), level],
    task.omega.length,
    (x, error, slopes) =>
      task.omega.forEach((w, i) => {
        let sum = task.delay[i] - x[n - 1]
        for (let k = 0; k < n - 1; k += 2) sum += sectionDelay([x[k], x[k + 1]], w, slopes ? row : undefined, k)
        error[i] = sum
        slopes?.set(row, i * n)
      }),
    power,
  )
  // A section's delay is even in its frequency.
  return start.map((_, k) => [found[2 * k], Math.abs(found[2 * k + 1])] as const)
}

/** Places where the error turns, ends of the band among them, neighbours of one sign joined to the larger. */
function turns(error: Float64Array): number[] {
  const found: number[] = []
  for (let i = 0; i < error.length; i++) {
    const [before, after] = [
      error[i - 1] ?? -Infinity * Math.sign(error[i]),
      error[i + 1] ?? -Infinity * Math.sign(error[i]),
    ]
    const top = error[i] > 0 ? error[i] >= before && error[i] > after : error[i] <= before && error[i] < after
    if (!top) continue
    const last = found.at(-1)
    if (last !== undefined && error[last] > 0 === error[i] > 0) {
      if (Math.abs(error[i]) > Math.abs(error[last])) found[found.length - 1] = i
    } else found.push(i)
  }
  return found
}

/** Where the delay is highest (side 1) or lowest (−1) around a point of the grid. */
function summit(task: Task, sections: Sections, i: number, side: number): number {
  const { omega } = task
  if (i === 0 || i === omega.length - 1) return omega[i]
  return leastBetween((w) => -side * delayAt(task, sections, w), omega[i - 1], omega[i + 1])
}

/** Greatest less smallest delay of the band itself, not of the grid. */
function trueRipple(task: Task, sections: Sections): number {
  const values = total(task, sections)
  const { error } = errors(values)
  const exact = turns(error).map((i) => delayAt(task, sections, summit(task, sections, i, Math.sign(error[i]))))
  // A section may be narrower than the grid: its own delay is highest where it lies.
  const [from, to] = [task.omega[0], task.omega[task.omega.length - 1]]
  const own = sections.flatMap(([, w]) => (w > from && w < to ? [delayAt(task, sections, w)] : []))
  return Math.max(...exact, ...own, highest(values)) - Math.min(...exact, lowest(values))
}

/**
 * Equal ripples, as many as the sections can have, by exchange: Newton's method on the errors where they are largest. Null
 * where the error does not turn that often, or the steps do not come to rest.
 */
function equiripple(task: Task, start: Sections): Sections | null {
  const n = 2 * start.length + 2
  let sections = start
  const row = new Float64Array(n)
  for (let exchange = 0; exchange < MOST_EXCHANGES; exchange++) {
    const values = total(task, sections)
    const { error, largest } = errors(values)
    const level = values[0] - error[0]
    const turned = turns(error)
    if (turned.length !== n) return null
    const places = turned.map((i) => summit(task, sections, i, Math.sign(error[i])))
    const exact = places.map((w) => delayAt(task, sections, w) - level)
    if (Math.max(...exact) - Math.min(...exact) < 2 * (1 + EQUAL) * Math.min(...exact.map(Math.abs))) return sections
    const rows: number[][] = []
    places.forEach((w, i) => {
      sections.forEach((section, k) => sectionDelay(section, w, row, 2 * k))
      row[n - 2] = -1
      row[n - 1] = -Math.sign(exact[i])
      rows.push(Array.from(row))
    })
    const step = solveLinear(
      rows,
      exact.map((e) => -e),
    )
    if (!step.every(Number.isFinite)) return null
    // Far from the goal only a part of the way keeps the turns.
    let part = 1
    let next = moved(sections, step)
    while (part > 0.05 && ripple(total(task, next)) > 2 * largest * (1 + SLACK)) {
      part /= 2
      next = moved(
        sections,
        step.map((v) => v * part),
      )
    }
    if (part <= 0.05) return null
    sections = next
  }
  return sections
}

/** The flattest of what powers and exchange come to. */
function flattest(task: Task, start: Sections): Sections {
  let sections = POWERS.reduce((s, power) => flattened(task, s, power), start)
  const exchanged = equiripple(task, sections)
  if (exchanged && ripple(total(task, exchanged)) <= ripple(total(task, sections))) return exchanged
  sections = MORE_POWERS.reduce((s, power) => flattened(task, s, power), sections)
  const again = equiripple(task, sections)
  return again && ripple(total(task, again)) < ripple(total(task, sections)) ? again : sections
}

/** A section whose delay is nowhere more than this part of what is to be evened out does nothing. */
const FELT = 1e-6

/**
 * Sections without those that do nothing: where one more cannot help, the search makes it narrower than the grid or puts it
 * far beyond the band.
 */
function felt(task: Task, sections: Sections): Sections {
  const least = FELT * ripple(task.delay)
  return sections.filter((s) => task.omega.some((w) => sectionDelay(s, w) > least))
}

/** A section whose own delay is nearly flat over the whole band. */
const BROAD = [Math.log(4), 0.5] as const

/** A section more should bring at least this. */
const BETTER = 0.8

/** Sections evenly over the band, as broad as they are apart. */
function spread(from: number, count: number): Sections {
  const apart = (1 - from) / count
  return Array.from({ length: count }, (_, k) => [Math.log(0.6 * apart), from + (k + 0.5) * apart] as const)
}

/** One section more: between the two that are farthest apart, or below the first. */
function grown(sections: Sections, from: number): Sections {
  const sorted = [...sections].sort((a, b) => a[1] - b[1])
  const places = [from, ...sorted.map((s) => s[1]), 1]
  const gaps = places.slice(1).map((p, k) => p - places[k])
  const widest = gaps.indexOf(Math.max(...gaps))
  const at = (places[widest] + places[widest + 1]) / 2
  return [...sorted, [Math.log(Math.max(gaps[widest] / 2, 1e-3)), at] as const]
}

/**
 * All-pass sections of second order that flatten a filter's group delay in a band.
 *
 * Source: of the approach, A. G. Deczky, IEEE Trans. AU-20, 1972, 257–263 (from memory).
 *
 * @param band Hz; may begin at 0
 * @param wanted how many sections, or what their number follows from: greatest less smallest delay, s; fewer are made where
 *   another one flattens nothing
 * @throws VoskelError `EQUALIZER_UNREACHED` where so many sections do not reach the ripple
 */
export function equalize(h: TransferFunction, band: Equalizer['band'], wanted: Wanted): Equalizer {
  const key = JSON.stringify([h, band, wanted])
  let found = known.get(key)
  if (!found) {
    found = search(h, band, wanted)
    if (known.size >= MOST_KNOWN) known.clear()
    known.set(key, found)
  }
  return found
}

export type Wanted = { readonly sections: number } | { readonly ripple: number }

/** What was asked for lately: a specification is looked at many times, and a search takes a second. */
const known = new Map<string, Equalizer>()
const MOST_KNOWN = 100

function search(h: TransferFunction, band: Equalizer['band'], wanted: Wanted): Equalizer {
  const unit = 2 * Math.PI * band[1]
  const from = band[0] / band[1]
  const most = 'sections' in wanted ? wanted.sections : MOST_SECTIONS
  const points = Math.max(200, POINTS_EACH * (most + h.poles.length))
  // Closer towards the ends, where the ripples are.
  const omega = Float64Array.from(
    { length: points },
    (_, k) => (1 + from - (1 - from) * Math.cos((Math.PI * k) / (points - 1))) / 2,
  )
  const at = (w: number) => groupDelay(h, w * unit) * unit
  const task = { omega, delay: omega.map(at), at }
  const before = trueRipple(task, []) / unit
  let best: { sections: Sections; after: number } = { sections: [], after: before }
  for (let count = 1; count <= most; count++) {
    // Evenly spread, one more in the widest gap, and one so broad that it harms nothing.
    const starts = [spread(from, count), grown(best.sections, from), [...best.sections, BROAD]]
    const before = best
    for (const start of starts) {
      if (start === starts[2] && best.after < BETTER * before.after) break
      const sections = felt(task, flattest(task, start))
      const after = trueRipple(task, sections) / unit
      if (after < best.after) best = { sections, after }
    }
    if ('ripple' in wanted && best.after <= wanted.ripple) break
  }
  if ('ripple' in wanted && best.after > wanted.ripple)
    throw new VoskelError(
      'EQUALIZER_UNREACHED',
      { wanted: wanted.ripple, most: MOST_SECTIONS, reached: best.after },
      { path: 'equalizer.ripple' },
    )
  const poles = withConjugates(best.sections.map(([s, o]) => complex(-Math.exp(s) * unit, o * unit)))
  return { poles, band, before, after: best.after }
}
