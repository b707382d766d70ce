import { CompiledSweep, type SweepValues } from '../analysis/compiledSweep.js'
import { influence, type Influence } from '../analysis/influence.js'
import { formulate, type Mna, type Probe } from '../analysis/mna.js'
import { referenceSlope, RelativeSlopes } from '../analysis/sensitivity.js'
import { dual, finished } from '../analysis/signalAnalysis.js'
import { type BoundSignals, bindSignals, type Leaf } from '../analysis/signals.js'
import { type Complex, complex } from '../numeric/complex.js'
import { FollowedEquations } from './followedEquations.js'
import type { Model, ModelOptions, ModelValues } from './model.js'
import type { VariedCircuit } from './varied.js'

/** Points that are compared with a checked solution, and how closely they must agree. */
const CHECKED_POINTS = 3
const TOLERANCE = 1e-9

/** How often the equations may be compiled anew because numbers left what they were compiled for. */
const MOST_COMPILED = 3

/** Equations at some numbers, with what a relative change of each does to them. */
interface Stand {
  readonly mna: Mna
  readonly influences: readonly Influence[]
  readonly bound: BoundSignals
}

/**
 * A linear circuit over frequency. All samples are solved in one run of compiled code, forward for the drive and backward for the output;
 * the slopes by all numbers follow from the two (S. W. Director, R. A. Rohrer, IEEE Trans. CT-16, 1969, 318–323).
 */
export class AdjointModel implements Model {
  readonly isPower: boolean
  private code: { readonly sweep: CompiledSweep; readonly plan: Plan } | null = null
  private compiled = 0
  private readonly omega: Float64Array
  private readonly followed: FollowedEquations | null

  constructor(
    private readonly circuit: VariedCircuit,
    private readonly frequency: Float64Array,
    private readonly options: ModelOptions,
  ) {
    this.omega = frequency.map((f) => 2 * Math.PI * f)
    const first = this.standAt(Float64Array.from(circuit.varied, (v) => v.value))!
    this.isPower = first.bound.signals[0].isPower
    // What a signal is made of must not follow the numbers, where the equations alone are followed.
    const owners = first.bound.leaves.flatMap((l) => [...l.owners, ...(l.references ?? [])].map(([owner]) => owner))
    const isFree = first.influences.every(({ currents }) => owners.every((owner) => !currents.has(owner)))
    this.followed = isFree
      ? FollowedEquations.of(first.mna, first.influences, circuit.varied, (values) => {
          const flat = circuit.at(values)
          return flat && formulate(flat, options)
        })
      : null
  }

  at(values: Float64Array, factors: Float64Array): ModelValues | null {
    const stand = this.quickStandAt(values)
    if (!stand) return null
    // Influences are by relative change.
    const weights = factors.map((f, k) => f / values[k])
    const found = this.quick(stand, weights) ?? this.plain(stand, weights)
    return { values: found[0].both, slopes: () => found.slice(1).map((c) => c.both) }
  }

  confirmed(values: Float64Array): boolean {
    const stand = this.standAt(values)
    if (this.compiled >= MOST_COMPILED || !stand) return true
    const weights = values.map(() => 1)
    const every = Math.max(1, Math.floor(this.omega.length / CHECKED_POINTS))
    const omega = this.omega.filter((_, k) => k % every === 0)
    const quick = this.quick(this.quickStandAt(values)!, weights, omega)
    if (!quick) return true
    const slow = this.slow(stand)
    for (let k = 0; k < omega.length; k++) {
      const right = slow.changes(complex(0, omega[k]))
      const isSame = right.every(({ re, im }, j) => {
        const scale = Math.max(Math.hypot(re, im), TOLERANCE * Math.hypot(right[0].re, right[0].im))
        return Math.hypot(quick[j].re[k] - re, quick[j].im[k] - im) <= TOLERANCE * scale
      })
      if (isSame) continue
      this.compiled = MOST_COMPILED
      this.code = null
      return false
    }
    return true
  }

  /** null where a part cannot have its number. */
  private standAt(values: Float64Array): Stand | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const mna = formulate(flat, this.options)
    const influences = this.circuit.changesAt(values).map((changed) => influence(mna, changed))
    return { mna, influences, bound: bindSignals(mna, [this.options.output], this.options.input) }
  }

  private quickStandAt(values: Float64Array): Stand | null {
    return this.followed ? this.followed.at(values, (mna) => this.boundTo(mna)) : this.standAt(values)
  }

  private readonly boundTo = (mna: Mna): BoundSignals => bindSignals(mna, [this.options.output], this.options.input)

  /** By compiled code; null where it cannot be had. */
  private quick({ mna, influences, bound }: Stand, weights: Float64Array, omega = this.omega): Columns[] | null {
    if (!this.code || !this.isSamePlan(bound, influences) || !this.code.sweep.fits(mna.g, mna.c)) {
      if (this.compiled >= MOST_COMPILED) return null
      this.compiled++
      const plan = planOf(bound, influences)
      const sweep = CompiledSweep.compile(mna, { ...plan, range: [this.omega[0], this.omega.at(-1)!] })
      if (!sweep) {
        this.compiled = MOST_COMPILED
        return null
      }
      this.code = { sweep, plan }
    }
    const { sweep, plan } = this.code
    return assembled(mna, bound, influences, weights, plan, sweep.run(omega, mna.g, mna.c), omega)
  }

  /** Followed equations keep their structure; others are looked at anew. */
  private isSamePlan(bound: BoundSignals, influences: readonly Influence[]): boolean {
    return this.followed !== null || JSON.stringify(this.code!.plan) === JSON.stringify(planOf(bound, influences))
  }

  private slow({ mna, influences }: Stand): RelativeSlopes {
    const { output, input } = this.options
    const to = influences.map((influence, k) => ({ name: this.circuit.varied[k].name, influence }))
    return new RelativeSlopes(mna, { output, input }, to, [this.omega[0], this.omega.at(-1)!])
  }

  /** Point by point, each checked; where the equations are singular, the limit. */
  private plain(stand: Stand, weights: Float64Array): Columns[] {
    const slow = this.slow(stand)
    const found = columnsOf(stand.influences.length + 1, this.frequency.length)
    this.omega.forEach((w, k) => {
      slow.changes(complex(0, w)).forEach(({ re, im }, j) => {
        const weight = j === 0 ? 1 : weights[j - 1]
        found[j].re[k] = weight * re
        found[j].im[k] = weight * im
      })
    })
    return found
  }
}

interface Complexes {
  readonly re: Float64Array
  readonly im: Float64Array
}

/** Real and imaginary parts that lie one after the other. */
interface Columns extends Complexes {
  readonly both: Float64Array
}

const columnsOf = (count: number, length: number): Columns[] =>
  Array.from({ length: count }, () => {
    const both = new Float64Array(2 * length)
    return { both, re: both.subarray(0, length), im: both.subarray(length) }
  })

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

/** The signal, then what a relative change of each number does to it, times its weight, from the solved unknowns. */
function assembled(
  mna: Mna,
  bound: BoundSignals,
  influences: readonly Influence[],
  weights: Float64Array,
  plan: Plan,
  run: SweepValues,
  omega: Float64Array,
): Columns[] {
  const solved = bound.leaves.map((leaf, k) => ofLeaf(mna, leaf, influences, weights, solutionsOf(plan, k, run), omega))
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
  x(column: number): Complexes
  y(column: number, row: number): Complexes
}

function solutionsOf({ columns, adjoints }: Plan, leaf: number, { re, im }: SweepValues): Solutions {
  const lengths = columns.map((own) => own.length)
  const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)
  const begin = sum(lengths.slice(0, leaf))
  const at = (index: number): Complexes => ({ re: re[index], im: im[index] })
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
  weights: Float64Array,
  { x, y }: Solutions,
  omega: Float64Array,
): Columns[] {
  const { probe, owners } = leaf
  const found = columnsOf(influences.length + 1, omega.length)
  addTerms(found[0], probe, x, omega, 1)
  influences.forEach((influence, j) => {
    const { entries, currents } = influence
    const slope = found[j + 1]
    const weight = weights[j]
    const follows = referenceSlope(mna, leaf, influence)
    if (follows !== 0) slope.both.set(found[0].both.map((v) => weight * follows * v))
    for (const [row, column, g, c] of entries) {
      for (const [of, pg, pc] of probe)
        subtractProduct(slope, x(column), y(of, row), { g: weight * g, c: weight * c }, { g: pg, c: pc }, omega)
    }
    for (const [owner, factor] of owners) addTerms(slope, currents.get(owner) ?? [], x, omega, weight * factor)
  })
  return found
}

/** Adds Σ factor·(g + jω·c)·x. */
function addTerms(to: Complexes, terms: Probe, x: Solutions['x'], omega: Float64Array, factor: number): void {
  for (const [column, g, c] of terms) {
    const { re, im } = x(column)
    for (let k = 0; k < omega.length; k++) {
      const s = omega[k] * c
      to.re[k] += factor * (g * re[k] - s * im[k])
      to.im[k] += factor * (g * im[k] + s * re[k])
    }
  }
}

interface Term {
  readonly g: number
  readonly c: number
}

/** Subtracts (g + jω·c)·(g₂ + jω·c₂)·a·b. */
function subtractProduct(
  { re, im }: Complexes,
  a: Complexes,
  b: Complexes,
  { g, c }: Term,
  { g: g2, c: c2 }: Term,
  omega: Float64Array,
): void {
  const { re: ar, im: ai } = a
  const { re: br, im: bi } = b
  for (let k = 0; k < omega.length; k++) {
    const w = omega[k]
    const fr = g * g2 - w * w * c * c2
    const fi = w * (g * c2 + c * g2)
    const pr = ar[k] * br[k] - ai[k] * bi[k]
    const pi = ar[k] * bi[k] + ai[k] * br[k]
    re[k] -= fr * pr - fi * pi
    im[k] -= fr * pi + fi * pr
  }
}
