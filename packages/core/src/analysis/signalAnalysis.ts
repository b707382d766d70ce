import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, type Complex, complex, conjugate, divide, multiply, subtract } from '../numeric/complex.js'
import { analyticLimit, type Taylor } from './analyticLimit.js'
import { CompiledSweep } from './compiledSweep.js'
import { ComplexSystem, type Terms, termsAt, testFrequencies } from './complexSystem.js'
import type { Drive } from './elements.js'
import type { Mna } from './mna.js'
import { FUNCTION_MEANINGS, poweredBy } from './signalFunctions.js'
import { type Algebra, type BoundSignals, bindSignals, type Leaf, sameDrive, type SignalLike } from './signals.js'

/** A response over frequency. Arrays have one entry a frequency. */
export interface Sweep {
  /** Hz, ascending */
  readonly frequency: Float64Array
  readonly re: Float64Array
  readonly im: Float64Array
  /** s, from the derivative */
  readonly delay: Float64Array
}

/** H and dH/dω at one frequency. */
export interface ResponsePoint {
  readonly value: Complex
  readonly slope: Complex
}

/** Anything that has a value over frequency. */
export interface FrequencyResponse {
  /** The value and its derivative by ω at ω, rad/s. */
  point(omega: number, check?: boolean): ResponsePoint
  /** At given frequencies, Hz. */
  sweep(frequency: Float64Array): Sweep
}

export interface SignalAnalysisOptions {
  /** Name of the driving source; left out, `V1` or the only one. */
  readonly input?: string
  /** Lowest and highest angular frequency that will be asked, rad/s. */
  readonly range?: readonly [number, number]
}

/** Frequencies at which pivots are chosen where nothing is said of the range, rad/s. */
const DEFAULT_RANGE: readonly [number, number] = [2 * Math.PI * 1e-3, 2 * Math.PI * 1e12]

/** Points times unknowns from which on a sweep is worth compiling. */
const WORTH_COMPILING = 8000

/** Unknowns beyond which the code would be too long to be compiled well. */
const MOST_COMPILED = 1000

/** Highest over lowest frequency of a stretch that is compiled with one pivot order. */
const COMPILED_SPAN = 1e6

/** Points of a compiled stretch that are compared with a checked solution, and how closely they must agree. */
const CHECKED_POINTS = 12
const CHECK_TOLERANCE = 1e-9

/** Every so many points of a sweep the solution is checked against the equations. */
const CHECK_EVERY = 64

const NOTHING = complex(0)
const UNDEFINED: Taylor = { value: complex(NaN, NaN), slope: complex(NaN, NaN) }
const ONE: Taylor = { value: complex(1), slope: NOTHING }

/** Leaves that answer one drive: solved together. */
interface Group {
  readonly drive: Drive
  /** Indices into the leaves. */
  readonly members: readonly number[]
}

/** Complex values with their derivative by a real parameter, which goes through the conjugate. */
export const dual: Algebra<Taylor> = {
  number: (value) => ({ value: complex(value), slope: NOTHING }),
  add: (a, b) => ({ value: add(a.value, b.value), slope: add(a.slope, b.slope) }),
  subtract: (a, b) => ({ value: subtract(a.value, b.value), slope: subtract(a.slope, b.slope) }),
  multiply: (a, b) => ({
    value: multiply(a.value, b.value),
    slope: add(multiply(a.slope, b.value), multiply(a.value, b.slope)),
  }),
  divide(a, b) {
    const value = divide(a.value, b.value)
    return { value, slope: divide(subtract(a.slope, multiply(value, b.slope)), b.value) }
  },
  power: (v, i) => dual.multiply(v, { value: conjugate(i.value), slope: conjugate(i.slope) }),
  raise: poweredBy,
  call: (called, x) => FUNCTION_MEANINGS[called].complex!(x),
}

/**
 * The small-signal values of several signals of a linear circuit over frequency, each over the AC value of the source
 * that drives it, with one factorisation of the equations a frequency for all of them.
 */
export class SignalAnalysis {
  private readonly bound: BoundSignals
  private readonly system: ComplexSystem
  private readonly groups: readonly Group[]
  /** Of each leaf its terms, where they do not hold s, and what of them does. */
  private readonly fixed: readonly (Terms | null)[]
  private readonly bent: readonly Terms[]

  /**
   * @param signals signals, or outputs as `readOutput` reads them
   * @throws VoskelError `ARGUMENT`, `SIGNAL_INVALID`, `SINGULAR`
   */
  constructor(
    readonly mna: Mna,
    signals: readonly SignalLike[] | BoundSignals,
    options: SignalAnalysisOptions = {},
  ) {
    this.bound = 'leaves' in signals ? signals : bindSignals(mna, signals, options.input)
    this.groups = groupsOf(this.bound.leaves)
    this.bent = this.bound.leaves.map(({ probe }) =>
      probe.flatMap(([column, , c]) => (c ? [[column, c] as const] : [])),
    )
    this.fixed = this.bound.leaves.map(({ probe }, k) =>
      this.bent[k].length > 0 ? null : probe.map(([column, g]) => [column, g] as const),
    )
    const tests = testFrequencies(options.range ?? DEFAULT_RANGE).map((w) => complex(0, w))
    this.system = new ComplexSystem(mna, tests)
  }

  /** SI units of the signals. */
  get units(): readonly string[] {
    return this.bound.signals.map((s) => s.unit)
  }

  /** Whether each signal is read in dB or degrees already. */
  get areLevels(): readonly boolean[] {
    return this.bound.signals.map((s) => s.isLevel)
  }

  /** Whether each signal is a power: 10 dB a decade. */
  get arePowers(): readonly boolean[] {
    return this.bound.signals.map((s) => s.isPower)
  }

  /**
   * Each signal at any complex frequency s, rad/s; where the equations are singular, its limit. One that is made of a
   * derivative by the frequency has a value on the imaginary axis alone.
   */
  at(s: Complex): Complex[] {
    const isSloped = this.bound.signals.some((signal) => signal.isSloped)
    const series = this.series(s, true, isSloped)
    const leaves = isSloped ? series.map(byOmega) : series
    return this.bound.signals.map((signal) => signal.combine(dual, leaves).value)
  }

  /** Each signal at jω with its derivative by ω; where the equations are singular, their limits. */
  points(omega: number, check = true): ResponsePoint[] {
    return this.joined(this.series(complex(0, omega), check, true).map(byOmega))
  }

  /** One of the signals by itself. */
  signal(k: number): FrequencyResponse {
    return {
      point: (omega, check) => this.points(omega, check)[k],
      sweep: (frequency) => this.sweep(frequency)[k],
    }
  }

  /** Each signal at given frequencies, Hz. */
  sweep(frequency: Float64Array): Sweep[] {
    const n = frequency.length
    const sweeps = this.bound.signals.map(() => emptySweep(frequency))
    const work = n * this.mna.size
    if (work >= WORTH_COMPILING && this.mna.size <= MOST_COMPILED && this.compiled(frequency, sweeps)) return sweeps
    for (let k = 0; k < n; k++) this.write(sweeps, k, this.points(2 * Math.PI * frequency[k], k % CHECK_EVERY === 0))
    return sweeps
  }

  /** The leaves at s with their derivatives by s. */
  private series(s: Complex, check: boolean, sloped: boolean): readonly Taylor[] {
    const { leaves } = this.bound
    let singular: unknown
    let values: Taylor[] | null = null
    try {
      const solved = this.solved(s, check, sloped, true)
      values = solved.values
      if (!solved.lost) return values.map((value, k) => finished(leaves[k], value))
    } catch (error) {
      if (!(error instanceof VoskelError) || error.code !== 'SINGULAR') throw error
      singular = error
    }
    const near = (at: Complex) => this.solved(at, true, false, false).values.map(({ value }) => value)
    const limits = analyticLimit(s, near)
    if (limits) return limits.map((value, k) => finished(leaves[k], value))
    if (leaves.length === 1 && !values) throw singular
    // One that has no limit takes none from the others.
    return leaves.map((leaf, k) => {
      const limit = leaves.length > 1 ? analyticLimit(s, (at) => [near(at)[k]]) : null
      return finished(leaf, limit?.[0] ?? values?.[k] ?? UNDEFINED)
    })
  }

  /** The wanted combinations and, where they are asked for, their derivatives by s, from the equations at s. */
  private solved(s: Complex, check: boolean, sloped: boolean, judged: boolean): { values: Taylor[]; lost: boolean } {
    const { system } = this
    const { leaves } = this.bound
    const values: Taylor[] = Array.from({ length: leaves.length })
    let lost = false
    system.factor(s)
    for (const { drive, members } of this.groups) {
      system.solve(drive)
      if (check) system.verify(drive)
      const terms = members.map((k) => this.fixed[k] ?? termsAt(leaves[k].probe, s))
      const found = terms.map((t) => system.combine(t))
      if (judged && system.haveLost(drive, terms, found, members)) lost = true
      if (sloped) system.differentiate()
      members.forEach((k, j) => {
        const slope = sloped ? add(system.combineDerivative(terms[j]), system.combine(this.bent[k])) : NOTHING
        values[k] = { value: found[j], slope }
      })
    }
    return { values, lost }
  }

  private joined(leaves: readonly Taylor[]): ResponsePoint[] {
    return this.bound.signals.map((signal) => signal.combine(dual, leaves))
  }

  /** Sweeps by compiled code. False where that cannot be had; stretches that fail their check are replayed. */
  private compiled(frequency: Float64Array, sweeps: readonly Sweep[]): boolean {
    const n = frequency.length
    // No pivot order is sound over many decades, so that each stretch has its own.
    for (let from = 0; from < n;) {
      let to = from + 1
      while (to < n && frequency[to] <= frequency[from] * COMPILED_SPAN) to++
      const done = this.compiledStretch(frequency, sweeps, from, to)
      if (done === null) return false
      if (!done) for (let k = from; k < to; k++) this.write(sweeps, k, this.points(2 * Math.PI * frequency[k]))
      from = to
    }
    return true
  }

  /** True where a stretch has been filled in and agrees with checked solutions; null without WebAssembly. */
  private compiledStretch(frequency: Float64Array, sweeps: readonly Sweep[], from: number, to: number): boolean | null {
    const { leaves } = this.bound
    const omega = frequency.subarray(from, to).map((f) => 2 * Math.PI * f)
    const range = [omega[0] || omega.at(-1)! / COMPILED_SPAN, omega.at(-1)!] as const
    const solves = this.groups.map(({ drive, members }) => ({ drive, probes: members.map((k) => leaves[k].probe) }))
    const code = CompiledSweep.compile(this.mna, { solves, slope: true, range })
    if (!code) return null
    const { re, im } = code.run(omega)
    /** Where each leaf stands among the results. */
    const order = this.groups.flatMap(({ members }) => members)
    const found: Taylor[] = Array.from({ length: leaves.length })
    for (let k = 0; k < omega.length; k++) {
      for (let j = 0; j < order.length; j++) {
        const slope = j + order.length
        if (!Number.isFinite(re[j][k]) || !Number.isFinite(im[j][k])) return false
        const value = { re: re[j][k], im: im[j][k] }
        const taylor = { value, slope: { re: re[slope][k], im: im[slope][k] } }
        found[order[j]] = byOmega(finished(leaves[order[j]], taylor))
      }
      this.write(sweeps, from + k, this.joined(found))
    }
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const checked = this.points(omega[k])
      const isSame = checked.every(({ value }, j) => {
        const { re, im } = sweeps[j]
        const error = abs({ re: value.re - re[from + k], im: value.im - im[from + k] })
        // Where nothing is defined in either way, nothing differs.
        return error <= CHECK_TOLERANCE * abs(value) || (Number.isNaN(abs(value)) && Number.isNaN(re[from + k]))
      })
      if (!isSame) return false
    }
    return true
  }

  private write(sweeps: readonly Sweep[], k: number, points: readonly ResponsePoint[]): void {
    points.forEach(({ value, slope }, j) => {
      sweeps[j].re[k] = value.re
      sweeps[j].im[k] = value.im
      sweeps[j].delay[k] = delayOf(value, slope)
    })
  }
}

/**
 * The response of one signal, over the AC value of the source that drives it.
 *
 * @see SignalAnalysis for several
 */
export class AcAnalysis implements FrequencyResponse {
  private readonly analysis: SignalAnalysis

  /**
   * @param options.output as `readOutput` reads it; `out` when left out
   * @throws VoskelError as `SignalAnalysis`
   */
  constructor(
    readonly mna: Mna,
    options: SignalAnalysisOptions & { readonly output?: SignalLike } = {},
  ) {
    this.analysis = new SignalAnalysis(mna, [options.output ?? 'out'], options)
  }

  /** H at any complex frequency s, rad/s; where the equations are singular, its limit. */
  at = (s: Complex): Complex => this.analysis.at(s)[0]

  /** It is a power: 10 dB a decade. */
  get isPower(): boolean {
    return this.analysis.arePowers[0]
  }

  point = (omega: number, check = true): ResponsePoint => this.analysis.points(omega, check)[0]

  sweep = (frequency: Float64Array): Sweep => this.analysis.sweep(frequency)[0]
}

const emptySweep = (frequency: Float64Array): Sweep => ({
  frequency,
  re: new Float64Array(frequency.length),
  im: new Float64Array(frequency.length),
  delay: new Float64Array(frequency.length),
})

/** Leaves by their drives, so that each drive is solved for once. */
function groupsOf(leaves: readonly Leaf[]): Group[] {
  const groups: { drive: Drive; members: number[] }[] = []
  leaves.forEach(({ drive }, k) => {
    const known = groups.find((g) => sameDrive(g.drive, drive))
    if (known) known.members.push(k)
    else groups.push({ drive, members: [k] })
  })
  return groups
}

/** The leaf from its combination: itself, or one over it. */
export const finished = ({ inverse }: Leaf, of: Taylor): Taylor => (inverse ? dual.divide(ONE, of) : of)

/** d/dω = j·d/ds */
const byOmega = ({ value, slope }: Taylor): ResponsePoint => ({ value, slope: complex(-slope.im, slope.re) })

/** Group delay −dφ/dω = −Im(H′/H), s; NaN where H is zero. */
export function delayOf(value: Complex, slope: Complex): number {
  return abs(value) === 0 ? Number.NaN : -divide(slope, value).im
}
