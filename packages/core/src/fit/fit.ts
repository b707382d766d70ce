import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import { dot } from '../numeric/dense.js'
import { type LeastSquaresResult, leastSquares } from '../numeric/levenbergMarquardt.js'
import { uniform } from '../numeric/random.js'
import { type Model, modelOf, type ModelOptions } from './model.js'
import { residualsAt } from './residuals.js'
import { DB_WEIGHT, DEGREES_WEIGHT, type Samples } from './Samples.js'
import { statisticsOf, type Trade } from './statistics.js'
import { type Varied, VariedCircuit } from './varied.js'

export interface FitOptions extends ModelOptions {
  /** Names as `VariedCircuit` reads them. */
  readonly vary: readonly string[]
  /** By name, in any case: [least, greatest], SI. Left out, a value keeps its sign. */
  readonly bounds?: Readonly<Record<string, readonly [least: number, most: number]>>
}

/** A value that was estimated. */
export interface Fitted {
  readonly name: string
  readonly unit: string
  /** What the circuit said before. */
  readonly before: number
  readonly value: number
  /** 95 % confidence interval; null where there are no more residuals than values. */
  readonly confidence95: readonly [low: number, high: number] | null
  /** It stands at a bound that it would leave. */
  readonly atBound: boolean
}

export interface Fit {
  readonly values: readonly Fitted[]
  /** Between each two values, in their order. */
  readonly correlation: readonly (readonly number[])[]
  /** Root of the mean square of the residuals in their weights: (re and im), 0.1 dB and 1°, or V. */
  readonly rms: number
  /** The same before, at the circuit's own values. */
  readonly rmsBefore: number
  readonly samples: number
  readonly iterations: number
  /** Other values, in the same order, that fit as well: parts that may trade places. */
  readonly alternatives: readonly (readonly number[])[]
}

/** How far a fit has come. */
export interface FitProgress {
  readonly iterations: number
  readonly rms: number
}

/** Other places to begin from, where what is found explains too little, and how far away they lie. */
const MOST_RESTARTS = 24
const RESTART_DECADES = 1
const SEED = 15

/** Part of what is worth explaining that may be left over before other beginnings are tried. */
const POOR = 0.05

/** As `fitting`, all at once. */
export function fit(circuit: Circuit, samples: Samples, options: FitOptions): Fit {
  const run = fitting(circuit, samples, options)
  for (;;) {
    const next = run.next()
    if (next.done) return next.value
  }
}

/**
 * Values of a circuit from measured samples: least squares by damped Gauss–Newton steps, in the logarithm of each value that keeps
 * its sign. Where what is found leaves more than a twentieth of what the samples vary by, other beginnings are tried, the same every time.
 *
 * @throws VoskelError `ARGUMENT` for names, bounds and samples that cannot be used; `FIT_UNDETERMINED` naming the values that trade
 *   against each other; as the analysis
 */
export function* fitting(circuit: Circuit, samples: Samples, options: FitOptions): Generator<FitProgress, Fit> {
  const varied = new VariedCircuit(circuit, options.vary)
  const scales = varied.varied.map((v) => scaleOf(v, boundsOf(v, options.bounds)))
  refuseStrangers(varied, options.bounds)
  const model = modelOf(varied, samples, options)
  const count = countOf(samples)
  if (count < scales.length)
    throw refused(
      `${count} ${count === 1 ? 'number was' : 'numbers were'} measured, and ${scales.length} values are asked for.`,
      'Measure at more points, or vary fewer values.',
    )
  const problem = problemOf(model, samples, scales)
  const own = Float64Array.from(scales, (s, k) => s.inner(varied.varied[k].value))
  let iterations = 0
  const from = function* (
    start: Float64Array,
    of: typeof problem = problem,
    hopeless = Infinity,
  ): Generator<FitProgress, LeastSquaresResult | null> {
    const run = leastSquares(of, start)
    for (let k = 0; ; k++) {
      const next = run.next()
      if (next.done) return next.value
      if (k === PATIENCE && next.value.sum > hopeless) return null
      iterations++
      yield { iterations, rms: Math.sqrt(next.value.sum / count) }
    }
  }
  const first = yield* from(own)
  if (!first) throw unusable(model, samples, scales, own)
  const rmsBefore = Math.sqrt(first.sumBefore / count)
  let best = first
  const poor = POOR * variationOf(samples)
  const levels = best.sum > poor ? levelsOf(samples) : null
  const guide = levels && problemOf(model, levels, scales, softened)
  for (let k = 0; k < MOST_RESTARTS && best.sum > poor; k++) {
    const start =
      k === 0 ? own : Float64Array.from(scales, (s, j) => s.elsewhere(own[j], uniform(SEED, k * scales.length + j)))
    // A resonance far away is felt in its level, and not at all in volts; single points at its peak must not stand in the way.
    const guided = guide && (yield* from(start, guide))
    const other = yield* from(guided?.at ?? start)
    if (other && other.sum < best.sum) best = other
  }
  // What compiled code said is confirmed by solutions that are checked; where it is not, all is done once more without it.
  if (!model.confirmed(Float64Array.from(scales, (s, k) => s.outer(best.at[k])))) best = (yield* from(best.at))!
  const found = Float64Array.from(scales, (s, k) => s.outer(best.at[k]))
  const asGood = best.sum * (1 + AS_GOOD) + EXACT * variationOf(samples)
  const alternatives: (readonly number[])[] = []
  for (const swapped of traded(varied.varied, found)) {
    const start = Float64Array.from(scales, (s, k) => s.inner(swapped[k]))
    const other = yield* from(start, problem, Math.max(asGood, HOPELESS * poor))
    if (!other || other.sum > asGood) continue
    const values = scales.map((s, k) => s.outer(other.at[k]))
    if ([[...found], ...alternatives].every((known) => isElsewhere(values, known))) alternatives.push(values)
  }
  const facts = { count, samples: samples.x.length, rmsBefore, iterations, alternatives }
  return fitOf(varied, scales, best, facts)
}

/** A second solution leaves no more than this part above the first, or this part of what the samples vary by. */
const AS_GOOD = 1e-3
const EXACT = 1e-12

/** After so many iterations a second solution must have come near: to this part of what is a poor fit. */
const PATIENCE = 3
const HOPELESS = 0.1

/** Solutions that differ by less than this part in every value are one. */
const ELSEWHERE = 1e-3
const isElsewhere = (a: readonly number[], b: readonly number[]): boolean =>
  a.some((v, k) => Math.abs(v - b[k]) > ELSEWHERE * Math.max(Math.abs(v), Math.abs(b[k])))

/** Exchanges of places that are tried, at the most. */
const MOST_TRADED = 12

/** The values with two of one kind exchanged, each pair once. */
function traded(varied: readonly Varied[], values: Float64Array): Float64Array[] {
  const pairs = varied.flatMap((a, i) =>
    varied.slice(i + 1).flatMap((b, j) => (a.unit === b.unit && a.unit !== '' ? [[i, i + 1 + j] as const] : [])),
  )
  return pairs.slice(0, MOST_TRADED).map(([i, j]) => values.with(i, values[j]).with(j, values[i]))
}

function fitOf(
  { varied }: VariedCircuit,
  scales: readonly Scale[],
  { at, slopes, sum }: LeastSquaresResult,
  { count, ...rest }: Pick<Fit, 'samples' | 'rmsBefore' | 'iterations' | 'alternatives'> & { count: number },
): Fit {
  const values = scales.map((s, k) => s.outer(at[k]))
  // As they are counted inside; back to their own units by the slope of the one by the other.
  const widths = scales.map((s, k) => Math.abs(s.slope(at[k])))
  const { half, correlation, trades } = statisticsOf(slopes, sum, {
    units: widths,
    relative: values.map((v, k) => (Math.abs(v) || 1) / widths[k]),
    signs: scales.map((s, k) => Math.sign(s.slope(at[k]))),
  })
  if (trades.length > 0) throw undetermined(varied, trades)
  return {
    values: varied.map(({ name, unit, value: before }, k) => {
      const h = half[k]
      const value = values[k]
      const atBound = at[k] <= scales[k].lower || at[k] >= scales[k].upper
      return { name, unit, before, value, confidence95: h === null ? null : [value - h, value + h], atBound }
    }),
    correlation,
    rms: Math.sqrt(sum / count),
    ...rest,
  }
}

/** How a value is counted while it is sought: by its logarithm where it keeps its sign, else as it is. */
interface Scale {
  readonly lower: number
  readonly upper: number
  /** A step that is nothing, times 1e11. */
  readonly size: number
  inner(value: number): number
  outer(inner: number): number
  /** d outer/d inner */
  slope(inner: number): number
  /** Another place to begin at. @param share 0 … 1 */
  elsewhere(own: number, share: number): number
}

type Bounds = readonly [least: number, most: number] | undefined

function scaleOf({ name, value }: Varied, bounds: Bounds): Scale {
  const [least, most] = bounds ?? [-Infinity, Infinity]
  if (!(least < most))
    throw refused(`The bounds of ${name} are empty: ${least} to ${most}.`, 'Give the lower one first.')
  const crosses = bounds !== undefined && least < 0 && most > 0
  if (value === 0 || crosses) {
    const width = Number.isFinite(most - least) ? most - least : Math.abs(value) || 1
    return {
      lower: least,
      upper: most,
      size: width,
      inner: (v) => Math.min(most, Math.max(least, v)),
      outer: (u) => u,
      slope: () => 1,
      elsewhere: (own, share) =>
        Number.isFinite(most - least) ? least + share * width : own + (2 * share - 1) * width,
    }
  }
  const sign = Math.sign(value)
  // A bound of the other sign, or none, is none.
  const ends = [least, most].map((b) => (b * sign > 0 ? Math.log(b * sign) : undefined))
  const [low, high] = sign > 0 ? ends : [ends[1], ends[0]]
  if (bounds && low === undefined && high === undefined)
    throw refused(
      `${name} is ${value}, and its bounds ${least} to ${most} hold no value of that sign.`,
      'Give bounds of its sign, or some that hold 0.',
    )
  const [lower, upper] = [low ?? -Infinity, high ?? Infinity]
  const held = (u: number) => Math.min(upper, Math.max(lower, u))
  const reach = RESTART_DECADES * Math.LN10
  return {
    lower,
    upper,
    size: 1,
    inner: (v) => held(Math.log(v * sign)),
    outer: (u) => sign * Math.exp(u),
    slope: (u) => sign * Math.exp(u),
    elsewhere: (own, share) =>
      Number.isFinite(upper - lower) ? lower + share * (upper - lower) : held(own + (2 * share - 1) * reach),
  }
}

/** What is off as the numbers are counted inside. */
function problemOf(model: Model, samples: Samples, scales: readonly Scale[], soft?: typeof softened) {
  return {
    lower: Float64Array.from(scales, (s) => s.lower),
    upper: Float64Array.from(scales, (s) => s.upper),
    sizes: Float64Array.from(scales, (s) => s.size),
    off(at: Float64Array) {
      let found
      try {
        const values = Float64Array.from(scales, (s, k) => s.outer(at[k]))
        const factors = Float64Array.from(scales, (s, k) => s.slope(at[k]))
        found = residualsAt(model, samples, values, factors)
      } catch (error) {
        // A step too far may leave a circuit without solution: the next one is shorter.
        if (error instanceof VoskelError && error.kind === 'analysis') return null
        throw error
      }
      if (!found || !soft) return found
      const { residuals, slopes } = found
      const counted = soft(residuals)
      return {
        residuals: counted.residuals,
        slopes: () => slopes().map((column) => column.map((v, i) => v * counted.factors[i])),
      }
    },
  }
}

/** Why nothing can be compared at the circuit's own values: as the analysis says it, or that there is no level. */
function unusable(model: Model, samples: Samples, scales: readonly Scale[], own: Float64Array): VoskelError {
  const values = Float64Array.from(scales, (s, k) => s.outer(own[k]))
  const found = residualsAt(model, samples, values, new Float64Array(scales.length))
  return found === null
    ? refused(
        'At some sample the circuit has no level to compare with: what it gives there is zero.',
        'Choose another output, or leave those samples out.',
      )
    : refused('The circuit cannot be compared with the samples.', 'Look at its curve first.')
}

const countOf = (samples: Samples): number =>
  samples.over === 'time'
    ? samples.x.length
    : 're' in samples
      ? 2 * samples.x.length
      : samples.x.length * (Number(Boolean(samples.db)) + Number(Boolean(samples.phase)))

/** Σ of the squares of what is worth explaining, in its weights: of levels what they vary by, and no less than their weights. */
function variationOf(samples: Samples): number {
  if (samples.over === 'time') return dot(samples.value, samples.value)
  if ('re' in samples) return dot(samples.re, samples.re) + dot(samples.im, samples.im)
  const about = (values: Float64Array | undefined, weight: number) => {
    if (!values) return 0
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    return values.reduce((sum, v) => sum + ((v - mean) / weight) ** 2, 0)
  }
  return Math.max(about(samples.db, DB_WEIGHT) + about(samples.phase, DEGREES_WEIGHT), countOf(samples) / POOR)
}

/** Samples over frequency by their level alone; null where there is none, or one is zero. */
function levelsOf(samples: Samples): Samples | null {
  if (samples.over === 'time') return null
  const { over, x } = samples
  const db = 're' in samples ? samples.re.map((v, k) => 20 * Math.log10(Math.hypot(v, samples.im[k]))) : samples.db
  return db?.every((v) => Number.isFinite(v)) ? { over, x, db } : null
}

/** dB from which on a level that is off counts by its size and not by its square. */
const SOFT_DB = 1

/**
 * What is off, counted by its square where it is little and by its size where it is much, and the factor of its slopes.
 * Source: P. J. Huber, "Robust estimation of a location parameter", Ann. Math. Stat. 35, 1964, 73–101; in its smooth form, from memory.
 */
function softened(residuals: Float64Array): { residuals: Float64Array; factors: Float64Array } {
  const unit = SOFT_DB / DB_WEIGHT
  const soft = residuals.map((r) => Math.sign(r) * unit * Math.sqrt(2 * (Math.hypot(1, r / unit) - 1)))
  return {
    residuals: soft,
    factors: residuals.map((r, k) => (soft[k] === 0 ? 1 : r / Math.hypot(1, r / unit) / soft[k])),
  }
}

const boundsOf = ({ name }: Varied, bounds: FitOptions['bounds'] = {}): Bounds =>
  Object.entries(bounds).find(([own]) => own.toUpperCase() === name.toUpperCase())?.[1]

function refuseStrangers({ varied }: VariedCircuit, bounds: FitOptions['bounds'] = {}): void {
  const stranger = Object.keys(bounds).find((b) => !varied.some((v) => v.name.toUpperCase() === b.toUpperCase()))
  if (stranger !== undefined)
    throw refused(
      `Bounds are given for "${stranger}", which is not varied.`,
      `Varied are: ${varied.map((v) => v.name).join(', ')}.`,
    )
}

function undetermined(varied: readonly Varied[], trades: readonly Trade[]): VoskelError {
  return new VoskelError('FIT_UNDETERMINED', {
    trades: trades.map((trade) =>
      trade.map(({ index, share }) => ({ name: varied[index].name, percent: Number(share.toPrecision(3)) })),
    ),
  })
}

const refused = (problem: string, fix: string) => new VoskelError('ARGUMENT', { problem, fix })
