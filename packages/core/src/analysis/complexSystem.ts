import { VoskelError } from '../errors/VoskelError.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { choosePivots, SingularPattern, type TestValues } from '../numeric/sparse/order.js'
import type { Pattern } from '../numeric/sparse/pattern.js'
import { layProgram, type Program } from '../numeric/sparse/program.js'
import { factorComplex, solveComplex, solveTransposed } from '../numeric/sparse/replay.js'
import { type Complex, scale } from '../numeric/complex.js'
import type { Probe } from './mna.js'

/** A matrix G + s·C by slots of a pattern, with names for its columns. */
export interface Pencil {
  readonly pattern: Pattern
  readonly g: Float64Array
  readonly c: Float64Array
  readonly unknowns: readonly string[]
}

/** Entries of a right-hand side by row, or factors of unknowns by column. */
export type Terms = readonly (readonly [index: number, re: number, im?: number])[]

/** A probe's factors at a complex frequency. */
export const termsAt = (probe: Probe, s: Complex): Terms =>
  probe.map(([column, g, c]) => [column, g + s.re * c, s.im * c] as const)

/** A value that one refinement changes by more than this part has lost its digits. */
const LOST = 1e-9

/** The same for any unknown against the largest of them. */
const LOST_ANYWHERE = 1e-10

/** Rounding of a value against the largest. */
const ROUNDING = 1e-14

/** Decades between test frequencies at the most. */
const TEST_SPACING = 4

/**
 * Angular frequencies at which pivots are tested for a range: low, centre and high, and more where it is wide. An order
 * chosen at one frequency loses digits elsewhere.
 */
export function testFrequencies([low, high]: readonly [number, number]): number[] {
  const steps = Math.max(2, Math.ceil(Math.log10(high / low) / TEST_SPACING))
  return Array.from({ length: steps + 1 }, (_, k) => low * (high / low) ** (k / steps))
}

/** A factor that leads off a singular frequency and not on to another. */
const BESIDE = 1.0371

/** A solution whose residual is above this part of its own terms was eliminated in a bad order for these values. */
const RESIDUAL_BOUND = 1e-10

/**
 * Solves (G + s·C)·x = b at one complex frequency after another: planned once, replayed for each. The plan is made
 * anew when the values leave what it was made for.
 */
export class ComplexSystem {
  readonly size: number
  private program: Program
  private re: Float64Array
  private im: Float64Array
  private readonly bRe: Float64Array
  private readonly bIm: Float64Array
  /** What one refinement changes, or dx/ds, by unknown. */
  private readonly dRe: Float64Array
  private readonly dIm: Float64Array
  /** Solution of the last `solve`, by unknown. */
  readonly xRe: Float64Array
  readonly xIm: Float64Array
  /** Solution of the last `solveAdjoint`, by equation. */
  readonly yRe: Float64Array
  readonly yIm: Float64Array
  /** Largest of each combination so far. */
  private readonly largest: number[] = []
  private at: Complex = { re: Number.NaN, im: Number.NaN }

  /** @param tests complex frequencies at which every pivot must be sound: low, centre and high of what will be asked */
  constructor(
    private readonly pencil: Pencil,
    tests: readonly Complex[],
  ) {
    const n = (this.size = pencil.pattern.size)
    this.bRe = new Float64Array(n)
    this.bIm = new Float64Array(n)
    this.dRe = new Float64Array(n)
    this.dIm = new Float64Array(n)
    this.xRe = new Float64Array(n)
    this.xIm = new Float64Array(n)
    this.yRe = new Float64Array(n)
    this.yIm = new Float64Array(n)
    this.program = this.planAround(tests)
    this.re = new Float64Array(this.program.slots)
    this.im = new Float64Array(this.program.slots)
  }

  /**
   * Factors the matrix at s.
   *
   * @throws VoskelError `SINGULAR`
   */
  factor(s: Complex): void {
    this.at = s
    this.load(s)
    if (factorComplex(this.program, this.re, this.im) < 0) return
    this.replan(s)
  }

  /** Solves for the right-hand side given as [row, value] terms; the result stands in xRe and xIm. */
  solve(terms: Terms): void {
    this.fill(terms)
    solveComplex(this.program, this.re, this.im, this.bRe, this.bIm, this.xRe, this.xIm)
  }

  /**
   * Solves the transposed system for terms by column; the result stands in yRe and yIm. Where it leaves the bounds of its own
   * equations, these are ordered again for this frequency: a pivot can be sound for one drive and nothing for another.
   */
  solveAdjoint(terms: Terms): void {
    this.transposed(terms)
    if (this.adjointResidual(terms) <= RESIDUAL_BOUND) return
    this.replan(this.at)
    this.transposed(terms)
  }

  private transposed(terms: Terms): void {
    this.fill(terms)
    solveTransposed(this.program, this.re, this.im, this.bRe, this.bIm, this.yRe, this.yIm)
  }

  /**
   * Checks the last solution against the equations at the last frequency and, where it leaves its bounds, orders again
   * for these values and solves again.
   */
  verify(terms: Terms): void {
    if (this.residual(terms) <= RESIDUAL_BOUND) return
    this.replan(this.at)
    this.solve(terms)
  }

  /** yᵀ·C·x of the last solutions: with it, dH/ds = −yᵀCx. */
  adjointDerivative(): Complex {
    const { rows, cols } = this.pencil.pattern
    let re = 0
    let im = 0
    for (let e = 0; e < rows.length; e++) {
      const c = this.pencil.c[e]
      if (c === 0) continue
      const r = rows[e]
      const k = cols[e]
      re += c * (this.yRe[r] * this.xRe[k] - this.yIm[r] * this.xIm[k])
      im += c * (this.yRe[r] * this.xIm[k] + this.yIm[r] * this.xRe[k])
    }
    return { re, im }
  }

  /** yᵀ·(G + s·C)·x of the last solutions, and the sum of its terms' magnitudes. */
  adjointForm(s: Complex): { value: Complex; size: number } {
    const { rows, cols } = this.pencil.pattern
    let re = 0
    let im = 0
    let size = 0
    for (let e = 0; e < rows.length; e++) {
      const ar = this.pencil.g[e] + s.re * this.pencil.c[e]
      const ai = s.im * this.pencil.c[e]
      const r = rows[e]
      const k = cols[e]
      const tr = this.yRe[r] * this.xRe[k] - this.yIm[r] * this.xIm[k]
      const ti = this.yRe[r] * this.xIm[k] + this.yIm[r] * this.xRe[k]
      re += ar * tr - ai * ti
      im += ar * ti + ai * tr
      size += Math.hypot(ar, ai) * Math.hypot(tr, ti)
    }
    return { value: { re, im }, size }
  }

  /** Σ factor·x over terms of the last solution. */
  combine(terms: Terms): Complex {
    return combination(terms, this.xRe, this.xIm)
  }

  /** Solves for dx/ds of the last solution, A·dx = −C·x; `combineDerivative` reads it until something else is solved. */
  differentiate(): void {
    this.bRe.fill(0)
    this.bIm.fill(0)
    const { rows, cols } = this.pencil.pattern
    const { c } = this.pencil
    for (let e = 0; e < c.length; e++) {
      if (c[e] === 0) continue
      this.bRe[rows[e]] -= c[e] * this.xRe[cols[e]]
      this.bIm[rows[e]] -= c[e] * this.xIm[cols[e]]
    }
    solveComplex(this.program, this.re, this.im, this.bRe, this.bIm, this.dRe, this.dIm)
  }

  /** Σ factor·dx/ds over terms. */
  combineDerivative(terms: Terms): Complex {
    return combination(terms, this.dRe, this.dIm)
  }

  /**
   * Whether the last solution has lost its digits, as it does beside a singular frequency, where the equations still
   * hold: one refinement would change a combination of it, or, by as much as matters to derivatives, anything in it.
   *
   * @param value the combination
   */
  hasLost(drive: Terms, probe: Terms, value: Complex): boolean {
    return this.haveLost(drive, [probe], [value], [0])
  }

  /**
   * The same of several combinations of one solution.
   *
   * @param ids which they are among all that this system is asked for: each is held against its own largest
   */
  haveLost(drive: Terms, probes: readonly Terms[], values: readonly Complex[], ids: readonly number[]): boolean {
    if (this.refinement(drive) > LOST_ANYWHERE) {
      values.forEach((value, k) => this.note(ids[k], value))
      return true
    }
    return probes.some((probe, k) => {
      const largest = this.note(ids[k], values[k])
      const change = combination(probe, this.dRe, this.dIm)
      // At a transmission zero what is left is rounding: nothing against what passes elsewhere.
      return Math.hypot(change.re, change.im) > Math.max(LOST * sizeOf(values[k]), ROUNDING * largest)
    })
  }

  /** The largest of a combination so far, this value included. */
  private note(k: number, value: Complex): number {
    return (this.largest[k] = Math.max(this.largest[k] ?? 0, sizeOf(value)))
  }

  /**
   * What one refinement of the last solution would change, into dRe and dIm. The solution itself stays.
   *
   * @returns the largest change against the largest unknown
   */
  private refinement(terms: Terms): number {
    this.fill(terms)
    const { rows, cols } = this.pencil.pattern
    const { g, c } = this.pencil
    const { bRe, bIm, xRe, xIm, dRe, dIm } = this
    const { re: sRe, im: sIm } = this.at
    for (let e = 0; e < g.length; e++) {
      const ar = g[e] + sRe * c[e]
      const ai = sIm * c[e]
      const k = cols[e]
      bRe[rows[e]] -= ar * xRe[k] - ai * xIm[k]
      bIm[rows[e]] -= ar * xIm[k] + ai * xRe[k]
    }
    solveComplex(this.program, this.re, this.im, bRe, bIm, dRe, dIm)
    let [change, largest] = [0, 0]
    for (let k = 0; k < this.size; k++) {
      change = Math.max(change, Math.abs(dRe[k]), Math.abs(dIm[k]))
      largest = Math.max(largest, Math.abs(xRe[k]), Math.abs(xIm[k]))
    }
    return change / largest
  }

  private fill(terms: Terms): void {
    this.bRe.fill(0)
    this.bIm.fill(0)
    for (const [row, re, im] of terms) {
      this.bRe[row] += re
      this.bIm[row] += im ?? 0
    }
  }

  private load(s: Complex): void {
    const { g, c } = this.pencil
    const given = g.length
    for (let e = 0; e < given; e++) {
      this.re[e] = g[e] + s.re * c[e]
      this.im[e] = s.im * c[e]
    }
    this.re.fill(0, given)
    this.im.fill(0, given)
  }

  /** Largest residual of any equation against the sum of its terms' magnitudes. */
  private residual(terms: Terms): number {
    const { rows, cols } = this.pencil.pattern
    return this.residualOf(terms, { into: rows, from: cols, re: this.xRe, im: this.xIm })
  }

  /** The same of the transposed system. */
  private adjointResidual(terms: Terms): number {
    const { rows, cols } = this.pencil.pattern
    return this.residualOf(terms, { into: cols, from: rows, re: this.yRe, im: this.yIm })
  }

  private residualOf(
    terms: Terms,
    { into, from, re, im }: { into: Int32Array; from: Int32Array; re: Float64Array; im: Float64Array },
  ): number {
    const sumRe = new Float64Array(this.size)
    const sumIm = new Float64Array(this.size)
    const sizes = new Float64Array(this.size)
    for (const [row, tr, ti] of terms) {
      sumRe[row] -= tr
      sumIm[row] -= ti ?? 0
      sizes[row] += Math.hypot(tr, ti ?? 0)
    }
    for (let e = 0; e < into.length; e++) {
      const ar = this.pencil.g[e] + this.at.re * this.pencil.c[e]
      const ai = this.at.im * this.pencil.c[e]
      const k = from[e]
      const tr = ar * re[k] - ai * im[k]
      const ti = ar * im[k] + ai * re[k]
      sumRe[into[e]] += tr
      sumIm[into[e]] += ti
      sizes[into[e]] += Math.hypot(tr, ti)
    }
    let worst = 0
    for (let r = 0; r < this.size; r++) {
      if (sizes[r] > 0) worst = Math.max(worst, Math.hypot(sumRe[r], sumIm[r]) / sizes[r])
    }
    return worst
  }

  private replan(s: Complex): void {
    this.program = this.plan([s])
    this.re = new Float64Array(this.program.slots)
    this.im = new Float64Array(this.program.slots)
    this.load(s)
    const failed = factorComplex(this.program, this.re, this.im)
    if (failed >= 0) throw singular(this.pencil.unknowns[this.program.pivotCol[failed]], s)
  }

  /** Plans at these points, or beside them where they happen to be singular ones. */
  private planAround(tests: readonly Complex[]): Program {
    try {
      return this.plan(tests)
    } catch (error) {
      if (!(error instanceof VoskelError) || error.code !== 'SINGULAR') throw error
      return this.plan(tests.map((s) => scale(s, BESIDE)))
    }
  }

  private plan(tests: readonly Complex[]): Program {
    const { pattern, g, c } = this.pencil
    const values = tests.map((s): TestValues => ({ re: g.map((v, e) => v + s.re * c[e]), im: c.map((v) => s.im * v) }))
    try {
      return layProgram(choosePivots(pattern, values), g.length)
    } catch (error) {
      if (error instanceof SingularPattern) throw singular(this.pencil.unknowns[error.column], tests[0])
      throw error
    }
  }
}

const sizeOf = ({ re, im }: Complex): number => Math.hypot(re, im)

function combination(terms: Terms, xRe: Float64Array, xIm: Float64Array): Complex {
  let re = 0
  let im = 0
  for (const [column, fr, fi = 0] of terms) {
    re += fr * xRe[column] - fi * xIm[column]
    im += fr * xIm[column] + fi * xRe[column]
  }
  return { re, im }
}

function singular(unknown: string, s: Complex): VoskelError {
  const at = s.re === 0 && s.im === 0 ? 'at DC' : `at ${formatQuantity(Math.hypot(s.re, s.im) / (2 * Math.PI), 'Hz')}`
  const net = /^v\((.*)\)$/.exec(unknown)?.[1]
  const part = /^i\((.*)\)$/.exec(unknown)?.[1]
  return new VoskelError('SINGULAR', { unknown, at }, { ...(net && { net }), ...(part && { part }) })
}
