import { CompiledSweep, type SweepValues } from '../analysis/compiledSweep.js'
import { inputSource } from '../analysis/elements.js'
import { influence, type Influence } from '../analysis/influence.js'
import { interpolate } from '../analysis/interpolate.js'
import { formulate, type Mna, type Probe } from '../analysis/mna.js'
import { referenceSlope, RelativeSlopes } from '../analysis/sensitivity.js'
import { AcAnalysis, dual, finished } from '../analysis/signalAnalysis.js'
import { type BoundSignals, bindSignals, type Leaf } from '../analysis/signals.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { transient } from '../analysis/transient.js'
import { type Complex, complex } from '../numeric/complex.js'
import type { Samples } from './Samples.js'
import type { VariedCircuit } from './varied.js'

/** What a circuit gives at each sample: complex over frequency, real over time. */
export interface ModelValues {
  readonly re: Float64Array
  readonly im: Float64Array
  /** Derivatives by each varied number, in the same order. */
  slopes(): readonly Pick<ModelValues, 're' | 'im'>[]
}

/** A circuit's answer as its varied numbers change. */
export interface Model {
  /** It is a power: 10 dB a decade. */
  readonly isPower: boolean
  /** null where the circuit cannot have these numbers. @throws VoskelError as the analysis */
  at(values: Float64Array): ModelValues | null
}

export interface ModelOptions {
  readonly input?: string
  readonly output: string
  /** K */
  readonly temperature?: number
  /** What a run over time begins from; the operating point when left out. */
  readonly start?: 'op' | 'zero'
}

/** The quickest exact model that there is for a circuit and what was measured of it. */
export function modelOf(circuit: VariedCircuit, samples: Samples, options: ModelOptions): Model {
  if (samples.over === 'time') return new CourseModel(circuit, samples.x, options)
  const mna = formulate(circuit.flat, options)
  const [signal] = bindSignals(mna, [options.output], options.input).signals
  // A device's operating point moves with the values; a number that is zero has no relative change.
  if (mna.devices.length > 0 || signal.isSloped || circuit.varied.some((v) => v.value === 0))
    return new DifferencedModel(circuit, samples.x, options, signal.isPower)
  return new AdjointModel(circuit, samples.x, options)
}

/** Points that are compared with a checked solution, and how closely they must agree. */
const CHECKED_POINTS = 8
const TOLERANCE = 1e-9

/** How often the equations may be compiled anew because numbers left what they were compiled for. */
const MOST_COMPILED = 3

/**
 * A linear circuit over frequency. All samples are solved in one run of compiled code, forward for the drive and backward for the output;
 * the slopes by all numbers follow from the two (S. W. Director, R. A. Rohrer, IEEE Trans. CT-16, 1969, 318–323).
 */
class AdjointModel implements Model {
  readonly isPower: boolean
  private code: { readonly sweep: CompiledSweep; readonly plan: Plan } | null = null
  private compiled = 0

  constructor(
    private readonly circuit: VariedCircuit,
    private readonly frequency: Float64Array,
    private readonly options: ModelOptions,
  ) {
    const mna = formulate(circuit.flat, options)
    this.isPower = bindSignals(mna, [options.output], options.input).signals[0].isPower
  }

  at(values: Float64Array): ModelValues | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const mna = formulate(flat, this.options)
    const influences = this.circuit.varied.map((_, k) =>
      influence(mna, (factor) => this.circuit.changedBy(values, k, factor)),
    )
    const found = this.quick(mna, influences) ?? this.plain(mna, influences)
    return {
      re: found[0].re,
      im: found[0].im,
      // Influences are by relative change.
      slopes: () =>
        found.slice(1).map(({ re, im }, k) => ({ re: re.map((v) => v / values[k]), im: im.map((v) => v / values[k]) })),
    }
  }

  /** By compiled code; null where it cannot be had, or misses its check. */
  private quick(mna: Mna, influences: readonly Influence[]): Columns[] | null {
    const bound = bindSignals(mna, [this.options.output], this.options.input)
    const plan = planOf(bound, influences)
    if (!this.code || !samePlan(this.code.plan, plan) || !this.code.sweep.fits(mna.g, mna.c)) {
      if (this.compiled++ >= MOST_COMPILED) return null
      const omega = [this.frequency[0], this.frequency.at(-1)!].map((f) => 2 * Math.PI * f)
      const sweep = CompiledSweep.compile(mna, { ...plan, range: [omega[0], omega[1]] })
      if (!sweep) return null
      this.code = { sweep, plan }
    }
    const omega = this.frequency.map((f) => 2 * Math.PI * f)
    const run = this.code.sweep.run(omega, mna.g, mna.c)
    const found = assembled(mna, bound, influences, plan, run, omega)
    const slow = this.slow(mna, influences)
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const right = slow.changes(complex(0, omega[k]))
      const isSame = right.every(({ re, im }, j) => {
        const scale = Math.max(Math.hypot(re, im), TOLERANCE * Math.hypot(right[0].re, right[0].im))
        return Math.hypot(found[j].re[k] - re, found[j].im[k] - im) <= TOLERANCE * scale
      })
      if (!isSame) return null
    }
    return found
  }

  private slow(mna: Mna, influences: readonly Influence[]): RelativeSlopes {
    const { output, input } = this.options
    const to = influences.map((influence, k) => ({ name: this.circuit.varied[k].name, influence }))
    const ends = [this.frequency[0], this.frequency.at(-1)!].map((f) => 2 * Math.PI * f)
    return new RelativeSlopes(mna, { output, input }, to, ends)
  }

  /** Point by point, each checked; where the equations are singular, the limit. */
  private plain(mna: Mna, influences: readonly Influence[]): Columns[] {
    const slow = this.slow(mna, influences)
    const found = columnsOf(influences.length + 1, this.frequency.length)
    this.frequency.forEach((f, k) => {
      slow.changes(complex(0, 2 * Math.PI * f)).forEach(({ re, im }, j) => {
        found[j].re[k] = re
        found[j].im[k] = im
      })
    })
    return found
  }
}

interface Columns {
  readonly re: Float64Array
  readonly im: Float64Array
}

const columnsOf = (count: number, length: number): Columns[] =>
  Array.from({ length: count }, () => ({ re: new Float64Array(length), im: new Float64Array(length) }))

/** What is solved for: of each leaf the unknowns that are needed forward, and the equations backward for each of its own unknowns. */
interface Plan {
  readonly solves: readonly { readonly drive: Leaf['drive']; readonly probes: readonly Probe[] }[]
  readonly adjoints: readonly { readonly column: number; readonly rows: readonly number[] }[]
  /** Unknowns of each leaf, in the order of its probes. */
  readonly columns: readonly (readonly number[])[]
}

function planOf({ leaves }: BoundSignals, influences: readonly Influence[]): Plan {
  const touched = influences.flatMap(({ entries }) => entries)
  const rows = [...new Set(touched.map(([row]) => row))]
  const inner = touched.map(([, column]) => column)
  const columns = leaves.map(({ probe, owners }) => {
    const own = owners.flatMap(([owner]) => influences.flatMap((i) => i.currents.get(owner) ?? []))
    return [...new Set([...probe.map(([c]) => c), ...own.map(([c]) => c), ...inner])]
  })
  const backward = [...new Set(leaves.flatMap(({ probe }) => probe.map(([c]) => c)))]
  return {
    columns,
    solves: leaves.map(({ drive }, k) => ({ drive, probes: columns[k].map((c): Probe => [[c, 1, 0]]) })),
    adjoints: backward.map((column) => ({ column, rows })),
  }
}

const samePlan = (a: Plan, b: Plan): boolean => JSON.stringify(a) === JSON.stringify(b)

/** The signal, then what a relative change of each number does to it, from the solved unknowns. */
function assembled(
  mna: Mna,
  bound: BoundSignals,
  influences: readonly Influence[],
  plan: Plan,
  run: SweepValues,
  omega: Float64Array,
): Columns[] {
  const solved = bound.leaves.map((leaf, k) => ofLeaf(mna, leaf, influences, solutionsOf(plan, k, run), omega))
  const [signal] = bound.signals
  if (signal.leaf !== null && !bound.leaves[0].inverse) return solved[0]
  const found = columnsOf(influences.length + 1, omega.length)
  for (let k = 0; k < omega.length; k++) {
    const at = ({ re, im }: Columns): Complex => ({ re: re[k], im: im[k] })
    const joined = (slopeOf: (own: readonly Columns[]) => Complex) =>
      signal.combine(
        dual,
        solved.map((own, j) => finished(bound.leaves[j], { value: at(own[0]), slope: slopeOf(own) })),
      )
    const write = (j: number, { re, im }: Complex) => {
      found[j].re[k] = re
      found[j].im[k] = im
    }
    write(0, joined(() => NOTHING).value)
    influences.forEach((_, j) => write(j + 1, joined((own) => at(own[j + 1])).slope))
  }
  return found
}

const NOTHING = complex(0)

/** What was solved for one leaf: an unknown forward, and an equation backward from one of its unknowns. */
interface Solutions {
  x(column: number): Columns
  y(column: number, row: number): Columns
}

function solutionsOf({ columns, adjoints }: Plan, leaf: number, { re, im }: SweepValues): Solutions {
  const lengths = columns.map((own) => own.length)
  const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)
  const begin = sum(lengths.slice(0, leaf))
  const at = (index: number): Columns => ({ re: re[index], im: im[index] })
  const backward = sum(lengths)
  return {
    x: (column) => at(begin + columns[leaf].indexOf(column)),
    y(column, row) {
      const k = adjoints.findIndex((a) => a.column === column)
      const before = sum(adjoints.slice(0, k).map(({ rows }) => rows.length))
      return at(backward + before + adjoints[k].rows.indexOf(row))
    },
  }
}

/** A leaf's value, then −yᵀ·A′·x and what its own terms follow, for each influence. */
function ofLeaf(
  mna: Mna,
  leaf: Leaf,
  influences: readonly Influence[],
  { x, y }: Solutions,
  omega: Float64Array,
): Columns[] {
  const { probe, owners } = leaf
  const found = columnsOf(influences.length + 1, omega.length)
  addTerms(found[0], probe, x, omega)
  influences.forEach((influence, j) => {
    const { entries, currents } = influence
    const slope = found[j + 1]
    const follows = referenceSlope(mna, leaf, influence)
    if (follows !== 0) {
      slope.re.set(found[0].re.map((v) => follows * v))
      slope.im.set(found[0].im.map((v) => follows * v))
    }
    for (const [row, column, g, c] of entries)
      for (const [of, pg, pc] of probe) subtractProduct(slope, x(column), y(of, row), { g, c }, { g: pg, c: pc }, omega)
    for (const [owner, factor] of owners) {
      const own = (currents.get(owner) ?? []).map(([k, g, c]) => [k, factor * g, factor * c] as const)
      addTerms(slope, own, x, omega)
    }
  })
  return found
}

/** Adds Σ (g + jω·c)·x. */
function addTerms(to: Columns, terms: Probe, x: Solutions['x'], omega: Float64Array): void {
  for (const [column, g, c] of terms) {
    const { re, im } = x(column)
    for (let k = 0; k < omega.length; k++) {
      const s = omega[k] * c
      to.re[k] += g * re[k] - s * im[k]
      to.im[k] += g * im[k] + s * re[k]
    }
  }
}

/** Subtracts (g + jω·c)·(g₂ + jω·c₂)·a·b. */
function subtractProduct(
  to: Columns,
  a: Columns,
  b: Columns,
  { g, c }: { g: number; c: number },
  { g: g2, c: c2 }: { g: number; c: number },
  omega: Float64Array,
): void {
  for (let k = 0; k < omega.length; k++) {
    const [s, t] = [omega[k] * c, omega[k] * c2]
    const fr = g * g2 - s * t
    const fi = g * t + s * g2
    const pr = a.re[k] * b.re[k] - a.im[k] * b.im[k]
    const pi = a.re[k] * b.im[k] + a.im[k] * b.re[k]
    to.re[k] -= fr * pr - fi * pi
    to.im[k] -= fr * pi + fi * pr
  }
}

/** Relative steps of differences: as large as leaves their square below the noise of what is differenced. */
const AC_STEP = 2 ** -14
const COURSE_STEP = 2 ** -10

/** Slopes by differences on both sides. */
function differenced(
  values: Float64Array,
  step: number,
  of: (values: Float64Array) => Columns | null,
): Pick<ModelValues, 're' | 'im'>[] {
  return Array.from(values, (v, k) => {
    const h = v === 0 ? step : step * Math.abs(v)
    const moved = (by: number) => of(values.map((w, j) => (j === k ? w + by : w)))
    const here = () => of(values)!
    const [above, below] = [moved(h), moved(-h)]
    const [a, b] = [above ?? here(), below ?? here()]
    const width = (above ? h : 0) + (below ? h : 0)
    const slope = (p: Float64Array, q: Float64Array) => p.map((x, i) => (width > 0 ? (x - q[i]) / width : 0))
    return { re: slope(a.re, b.re), im: slope(a.im, b.im) }
  })
}

/** Any circuit over frequency, its operating point found anew each time. */
class DifferencedModel implements Model {
  constructor(
    private readonly circuit: VariedCircuit,
    private readonly frequency: Float64Array,
    private readonly options: ModelOptions,
    readonly isPower: boolean,
  ) {}

  at(values: Float64Array): ModelValues | null {
    const found = this.values(values)
    return found && { ...found, slopes: () => differenced(values, AC_STEP, (v) => this.values(v)) }
  }

  private values(values: Float64Array): Columns | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const { input, output } = this.options
    const range = [this.frequency[0], this.frequency.at(-1)!].map((f) => 2 * Math.PI * f)
    const mna = smallSignal(formulate(flat, this.options))
    const { re, im } = new AcAnalysis(mna, { input, output, range: [range[0], range[1]] }).sweep(this.frequency)
    return { re, im }
  }
}

/** Accuracy of a run: its noise must stay far below what a step of a difference does. */
const COURSE_TOLERANCE = 1e-6

/** Any circuit over time, in answer to its own sources. */
class CourseModel implements Model {
  readonly isPower = false

  constructor(
    private readonly circuit: VariedCircuit,
    private readonly time: Float64Array,
    private readonly options: ModelOptions,
  ) {
    // A circuit that nothing drives has no course to compare with.
    inputSource(formulate(circuit.flat, options), options.input)
  }

  at(values: Float64Array): ModelValues | null {
    const found = this.values(values)
    return found && { ...found, slopes: () => differenced(values, COURSE_STEP, (v) => this.values(v)) }
  }

  private values(values: Float64Array): Columns | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const { output, start } = this.options
    const stop = this.time.at(-1)!
    const run = transient(formulate(flat, this.options), {
      stop,
      outputs: [output],
      reltol: COURSE_TOLERANCE,
      ...(start && { start }),
    })
    return { re: interpolate(run, 0, this.time), im: new Float64Array(this.time.length) }
  }
}
