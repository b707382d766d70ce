import { complex } from '../../numeric/complex.js'
import { leastPower } from '../../numeric/leastPower.js'
import { uniform } from '../../numeric/random.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import { quadraticRoots } from '../../numeric/roots.js'
import { type LimitPoint, limitsAt } from './Shape.js'

/** A point of a drawn mask; null where there is no limit. */
export type Point = readonly [frequency: number, lowest: number | null, highest: number | null]

/** What a response is fitted to. */
export type Masked = {
  order: number
  levels: readonly Point[]
  delays?: readonly Point[]
}

/** Places between neighbouring points of a mask at which the response is looked at, and for each decade between them. */
const BETWEEN = 8
const A_DECADE = 14

/** Where only one limit is set, the level is drawn to this much inside it, dB, or part of the delay. */
const INSIDE_DB = 6
const INSIDE_DELAY = 0.2

/** Limits nearer to each other than this are taken as this far apart, dB. */
const NARROWEST_DB = 0.02

/** The same of the delay, in units of the mask's middle ω. */
const NARROWEST_DELAY = 1e-6

/** Powers of the error, the last near to the greatest error itself. */
const FIRST_POWERS = [2, 6]
const LAST_POWERS = [12, 30, 80]

const DB = 10 / Math.LN10

/** A mask as limits, open sides at infinity. */
export const limitPoints = (points: readonly Point[]): LimitPoint[] =>
  points.map(([f, lowest, highest]) => [f, lowest ?? -Infinity, highest ?? Infinity])

/** A wanted value with half the room around it, or one side alone. */
interface Goal {
  readonly omega: number
  readonly middle: number
  /** Above 0; the error is 1 where a limit is touched. */
  readonly half: number
  /** 0 both, 1 only a highest, −1 only a lowest. */
  readonly side: -1 | 0 | 1
  /** Of the delay, where its place in the list does not say so. */
  readonly ofDelay?: boolean
}

/** Goals along a mask, ω in units of `unit`. */
function goalsOf(
  points: readonly LimitPoint[],
  unit: number,
  inside: (limit: number) => number,
  narrowest: number,
  density = 1,
): Goal[] {
  const goals: Goal[] = []
  const add = (f: number, lowest: number, highest: number) => {
    const omega = (2 * Math.PI * f) / unit
    if (Number.isFinite(lowest) && Number.isFinite(highest))
      goals.push({ omega, middle: (lowest + highest) / 2, half: Math.max((highest - lowest) / 2, narrowest), side: 0 })
    else if (Number.isFinite(highest))
      goals.push({ omega, middle: highest - inside(highest), half: inside(highest), side: 1 })
    else if (Number.isFinite(lowest))
      goals.push({ omega, middle: lowest + inside(lowest), half: inside(lowest), side: -1 })
  }
  points.forEach(([f], k) => {
    const next = points[k + 1]?.[0]
    add(f, ...limitsAt(points, f))
    if (next === undefined || next === f) return
    const count = density * (BETWEEN + Math.ceil(A_DECADE * Math.log10(next / f)))
    for (let i = 1; i < count; i++) {
      // Closer towards the ends, where responses are steep.
      const at = f * (next / f) ** ((1 - Math.cos((Math.PI * i) / count)) / 2)
      add(at, ...limitsAt(points, at))
    }
  })
  return goals
}

/** How many pole pairs, single poles and zero pairs the variables stand for. */
interface Form {
  readonly pairs: number
  readonly single: boolean
  readonly zeroPairs: number
}

/**
 * Variables: [ln a, ln ω] of factors s² + a·s + ω² of poles, whether their roots are real or not, ln of a single pole,
 * [c/ω, ln ω] of factors s² + c·s + ω² of zeros, ln of the gain.
 */
function responseOf(x: readonly number[], { pairs, single, zeroPairs }: Form, unit: number): TransferFunction {
  const poles = Array.from({ length: pairs }, (_, k) =>
    quadraticRoots(unit * Math.exp(x[2 * k + 1]), unit * Math.exp(x[2 * k])),
  ).flat()
  let at = 2 * pairs
  if (single) poles.push(complex(-unit * Math.exp(x[at++])))
  const zeros = Array.from({ length: zeroPairs }, (_, k) => {
    const w = unit * Math.exp(x[at + 2 * k + 1])
    const turned = x[at + 2 * k] < 0
    const roots = quadraticRoots(w, Math.abs(x[at + 2 * k]) * w)
    return turned ? roots.map((r) => complex(-r.re, r.im)) : roots
  }).flat()
  return { poles, zeros, gain: Math.exp(x[x.length - 1]) * unit ** (poles.length - zeros.length) }
}

/** Level in dB and delay at ω with their slopes by the variables. */
function evaluate(
  x: readonly number[],
  form: Form,
  w: number,
  level: Float64Array,
  delay: Float64Array,
): [number, number] {
  const last = x.length - 1
  let [db, tau] = [2 * DB * x[last], 0]
  level[last] = 2 * DB
  delay[last] = 0
  /** The factor s² + a·s + b: ∂/∂a and ∂/∂b of its level and its lead. */
  const factor = (a: number, b: number, sign: 1 | -1) => {
    const [off, sum] = [b - w * w, b + w * w]
    const size = off * off + a * a * w * w
    const lag = (a * sum) / size
    db += sign * DB * Math.log(size)
    tau -= sign * lag
    return {
      levelByA: (sign * DB * 2 * a * w * w) / size,
      levelByB: (sign * DB * 2 * off) / size,
      delayByA: -sign * (sum / size - (lag * 2 * a * w * w) / size),
      delayByB: -sign * (a / size - (lag * 2 * off) / size),
    }
  }
  for (let k = 0; k < 2 * form.pairs; k += 2) {
    const [a, b] = [Math.exp(x[k]), Math.exp(2 * x[k + 1])]
    const by = factor(a, b, -1)
    level[k] = by.levelByA * a
    level[k + 1] = by.levelByB * 2 * b
    delay[k] = by.delayByA * a
    delay[k + 1] = by.delayByB * 2 * b
  }
  let at = 2 * form.pairs
  if (form.single) {
    const a = Math.exp(x[at])
    const size = a * a + w * w
    db -= DB * Math.log(size)
    tau += a / size
    level[at] = (-DB * 2 * a * a) / size
    delay[at] = (a * (w * w - a * a)) / (size * size)
    at++
  }
  for (let k = 0; k < form.zeroPairs; k++, at += 2) {
    const w0 = Math.exp(x[at + 1])
    const by = factor(x[at] * w0, w0 * w0, 1)
    level[at] = by.levelByA * w0
    level[at + 1] = by.levelByA * x[at] * w0 + by.levelByB * 2 * w0 * w0
    delay[at] = by.delayByA * w0
    delay[at + 1] = by.delayByA * x[at] * w0 + by.delayByB * 2 * w0 * w0
  }
  return [db, tau]
}

const known = new Map<string, TransferFunction>()
const MOST_KNOWN = 50

/** The response whose greatest error against the mask is the least that was found. */
export function fittedToMask(masked: Masked): TransferFunction {
  const key = JSON.stringify(masked)
  let found = known.get(key)
  if (!found) {
    found = search(masked)
    if (known.size >= MOST_KNOWN) known.clear()
    known.set(key, found)
  }
  return found
}

function search({ order, levels, delays = [] }: Masked): TransferFunction {
  const [first, last] = [levels[0][0], levels.at(-1)![0]]
  const unit = 2 * Math.PI * Math.sqrt(first * last)
  const inUnits = limitPoints(delays).map(([f, low, high]): LimitPoint => [f, low * unit, high * unit])
  const taskOf = (density: number): Task => {
    const levelGoals = goalsOf(limitPoints(levels), unit, () => INSIDE_DB, NARROWEST_DB, density)
    const delayGoals = goalsOf(inUnits, unit, (limit) => INSIDE_DELAY * Math.abs(limit), NARROWEST_DELAY, density)
    return { goals: [...levelGoals, ...delayGoals], levels: levelGoals.length }
  }
  const [task, fine] = [taskOf(1), taskOf(FINE)]
  let drawn = 0
  const random = () => uniform(SEED, drawn++)
  // Fewer zeros fall faster far out; which number suits, and from where, is tried.
  const best = Array.from({ length: Math.floor(order / 2) + 1 }, (_, zeroPairs): Try[] => {
    const form = { pairs: Math.floor(order / 2), single: order % 2 === 1, zeroPairs }
    const tries = Array.from({ length: STARTS }, (): Try => {
      const x = fit(task, form, begin(form, task.goals.slice(0, task.levels), random), FIRST_POWERS)
      return { x, form, worst: worstOf(fine, form, x) }
    })
    return tries.sort((a, b) => a.worst - b.worst).slice(0, KEPT)
  })
    .flat()
    .map((t) => refined(t, task, fine))
    .reduce((a, b) => (b.worst < a.worst ? b : a))
  return responseOf(best.x, best.form, unit)
}

interface Task {
  readonly goals: readonly Goal[]
  /** How many of the first are goals of the level. */
  readonly levels: number
}

interface Try {
  readonly x: readonly number[]
  readonly form: Form
  /** Greatest error; 1 touches a limit. */
  readonly worst: number
}

/** Starts for each number of zeros, and how many of the best of them go on. */
const STARTS = 20
const KEPT = 5
const SEED = 61

/** Poles where the level is held from below, zeros where it is only held down. */
function begin({ pairs, single, zeroPairs }: Form, goals: readonly Goal[], random: () => number): number[] {
  const held = goals.filter((g) => g.side !== 1)
  const down = goals.filter((g) => g.side === 1)
  const place = (list: readonly Goal[]) => {
    const from = list.length > 0 ? list : goals
    return Math.log(from[Math.floor(random() * from.length)].omega) + 0.3 * (random() - 0.5)
  }
  // Side by side over what is held, as broad as they are apart, or a few times more or less.
  const places = (held.length > 0 ? held : goals).map((g) => g.omega)
  const apart = (Math.max(...places) - Math.min(...places)) / Math.max(1, pairs)
  const x = Array.from({ length: pairs }, () => {
    const w = place(held)
    return [Math.log(Math.min(2 * Math.exp(w), apart || Math.exp(w))) + 3 * (random() - 0.6), w]
  }).flat()
  if (single) x.push(place(held))
  for (let k = 0; k < zeroPairs; k++) x.push(down.length > 0 ? 0.1 * random() : 2 * random(), place(down))
  // The gain that meets the highest goal.
  const top = goals.reduce((a, b) => (b.middle > a.middle ? b : a))
  const slopes = new Float64Array(x.length + 1)
  const [db] = evaluate([...x, 0], { pairs, single, zeroPairs }, top.omega, slopes, slopes.slice())
  return [...x, (top.middle - db) / (2 * DB)]
}

/** Errors at all goals of a task, and their slopes where they are asked. */
function errorsOf({ goals, levels }: Task, form: Form) {
  return (x: readonly number[], error: Float64Array, slopes: Float64Array | null): void => {
    const n = x.length
    const [level, delay] = [new Float64Array(n), new Float64Array(n)]
    goals.forEach(({ omega, middle, half, side, ofDelay }, i) => {
      const [db, tau] = evaluate(x, form, omega, level, delay)
      const timed = ofDelay ?? i >= levels
      const e = ((timed ? tau : db) - middle) / half
      // Farther inside a single limit is no error.
      const idle = side !== 0 && e * side < 0
      error[i] = idle ? 0 : Number.isFinite(e) ? e : FAR
      if (!slopes) return
      const row = timed ? delay : level
      for (let k = 0; k < n; k++) slopes[i * n + k] = idle ? 0 : row[k] / half
    })
  }
}

const fit = (task: Task, form: Form, start: readonly number[], powers: readonly number[]): number[] =>
  powers.reduce((x, power) => leastPower(x, task.goals.length, errorsOf(task, form), power), [...start])

const errorAt = (task: Task, form: Form, x: readonly number[]): Float64Array => {
  const error = new Float64Array(task.goals.length)
  errorsOf(task, form)(x, error, null)
  return error.map(Math.abs)
}

const worstOf = (task: Task, form: Form, x: readonly number[]): number =>
  errorAt(task, form, x).reduce((most, e) => Math.max(most, e), 0)

/** On to high powers; what rises between the places that were looked at is looked at as well. */
function refined({ x: start, form }: Try, coarse: Task, fine: Task): Try {
  let task = coarse
  let best: Try = { x: start, form, worst: worstOf(fine, form, start) }
  let x: readonly number[] = start
  for (let round = 0; round < ROUNDS; round++) {
    x = fit(task, form, x, LAST_POWERS)
    const error = errorAt(fine, form, x)
    const worst = error.reduce((most, e) => Math.max(most, e), 0)
    if (worst < best.worst) best = { x, form, worst }
    const summits = fine.goals.flatMap((goal, i) =>
      error[i] > SUMMIT * worst && error[i] >= (error[i - 1] ?? 0) && error[i] >= (error[i + 1] ?? 0)
        ? [{ ...goal, ofDelay: i >= fine.levels }]
        : [],
    )
    task = { goals: [...task.goals, ...summits], levels: task.levels }
  }
  return best
}

const ROUNDS = 3

/** Errors above this part of the worst are looked at where they are highest. */
const SUMMIT = 0.9

/** How many times more places tell how good a response is than lead to it. */
const FINE = 6

/** Stands for an error that is no number. */
const FAR = 1e6
