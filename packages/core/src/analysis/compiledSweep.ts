import { assemble, type Assembled, GROUP } from '../numeric/compiled/assemble.js'
import { type ComplexValue, NOTHING, plus, SymbolicFactors, times } from '../numeric/compiled/eliminate.js'
import { Graph, type Value, ZERO } from '../numeric/compiled/graph.js'
import { choosePivots, SingularPattern, type TestValues } from '../numeric/sparse/order.js'
import type { Pattern } from '../numeric/sparse/pattern.js'
import { layProgram, type Program } from '../numeric/sparse/program.js'
import type { Probe } from './mna.js'
import { type Pencil, testFrequencies } from './complexSystem.js'

/** A right-hand side and the combinations of unknowns that are wanted in answer to it. */
export interface SweepSolve {
  /** [row, value] */
  readonly drive: readonly (readonly [row: number, value: number])[]
  readonly probes: readonly Probe[]
}

export interface SweepRequest {
  readonly solves: readonly SweepSolve[]
  /** Whether the derivative by s of every probe is wanted, too. */
  readonly slope?: boolean
  /** Solutions y of Aᵀ·y = e for a unit at a column, at some rows. */
  readonly adjoints?: readonly { readonly column: number; readonly rows: readonly number[] }[]
  /** Lowest and highest angular frequency, rad/s. */
  readonly range: readonly [number, number]
}

/**
 * Values over frequency, one pair of arrays a probe in the order of the solves; then one pair a slope where they were asked for; then one
 * pair a row of each adjoint.
 */
export interface SweepValues {
  readonly re: readonly Float64Array[]
  readonly im: readonly Float64Array[]
}

/**
 * A sweep of (G + s·C)·x = b compiled for the structure of a circuit: made once, run for any values of the same
 * structure and any frequencies.
 */
export class CompiledSweep {
  private readonly given: Float64Array

  private constructor(
    private readonly code: Assembled,
    private readonly pencil: Pencil,
    private readonly pairs: number,
    /** Entries that are taken as the literals 1 and −1. */
    private readonly literals: readonly number[],
  ) {
    this.given = new Float64Array(2 * pencil.g.length)
  }

  /**
   * @returns null where the machine cannot run it, and where no order of elimination is sound over the whole range
   */
  static compile(pencil: Pencil, request: SweepRequest): CompiledSweep | null {
    const { pattern, g, c } = pencil
    const values = testFrequencies(request.range).map((w): TestValues => ({ re: g, im: c.map((v) => w * v) }))
    // A single wanted unknown is eliminated last, so that nothing has to be substituted back for it.
    const wanted = request.solves.flatMap(({ probes }) => probes)
    const last = wanted.length === 1 && !request.slope ? wanted[0].map(([column]) => column) : []
    const program = programOf(pattern, values, last, g.length)
    if (!program) return null

    const graph = new Graph()
    const literals: number[] = []
    const real = (e: number): Value => {
      if (g[e] === 0) return ZERO
      if (Math.abs(g[e]) !== 1) return graph.given(e)
      literals.push(e)
      return graph.literal(g[e])
    }
    const reactive = (e: number): Value => (c[e] === 0 ? ZERO : graph.mul(graph.omega(), graph.given(g.length + e)))
    const entries = Array.from(g, (_, e): ComplexValue => ({ re: real(e), im: reactive(e) }))
    const factors = new SymbolicFactors(graph, program, entries)
    const empty = () => Array.from({ length: pattern.size }, (): ComplexValue => NOTHING)
    /** (g + s·c) as a factor. */
    const factor = (gk: number, ck: number): ComplexValue => ({
      re: graph.literal(gk),
      im: ck === 0 ? ZERO : graph.mul(graph.omega(), graph.literal(ck)),
    })
    const plain = (value: number): ComplexValue => ({ re: graph.literal(value), im: ZERO })
    const combined = (probe: Probe, x: readonly ComplexValue[]) =>
      probe.reduce((sum, [column, gk, ck]) => plus(graph, sum, times(graph, factor(gk, ck), x[column])), NOTHING)
    const outputs: ComplexValue[] = []
    const slopes: ComplexValue[] = []
    for (const { drive, probes } of request.solves) {
      const right = empty()
      for (const [row, value] of drive) right[row] = plus(graph, right[row], plain(value))
      const x = factors.solve(right)
      outputs.push(...probes.map((probe) => combined(probe, x)))
      if (!request.slope) continue
      // dx/ds solves A·dx = −C·x; a probe that holds s adds c·x.
      const bent = empty()
      for (let e = 0; e < c.length; e++) {
        if (c[e] === 0) continue
        const [row, of] = [pattern.rows[e], x[pattern.cols[e]]]
        const weighted = times(graph, { re: graph.given(g.length + e), im: ZERO }, of)
        bent[row] = { re: graph.sub(bent[row].re, weighted.re), im: graph.sub(bent[row].im, weighted.im) }
      }
      const dx = factors.solve(bent)
      for (const probe of probes) {
        const own = probe.reduce((sum, [column, , ck]) => plus(graph, sum, times(graph, plain(ck), x[column])), NOTHING)
        slopes.push(plus(graph, own, combined(probe, dx)))
      }
    }
    outputs.push(...slopes)
    for (const { column, rows } of request.adjoints ?? []) {
      const right = empty()
      right[column] = plain(1)
      const y = factors.solveTransposed(right)
      outputs.push(...rows.map((row) => y[row]))
    }
    const code = assemble(
      graph,
      outputs.flatMap(({ re, im }) => [re, im]),
    )
    return code && new CompiledSweep(code, pencil, outputs.length, literals)
  }

  /** True where these values may be run: entries that were taken as literals, or left out as 0, are still what they were. */
  fits(g: Float64Array, c: Float64Array): boolean {
    const { g: ownG, c: ownC } = this.pencil
    const zeros = g.every((v, e) => ownG[e] !== 0 || v === 0) && c.every((v, e) => ownC[e] !== 0 || v === 0)
    return zeros && this.literals.every((e) => g[e] === ownG[e])
  }

  /**
   * Values at angular frequencies, rad/s, in memory that the next run overwrites; not finite where the elimination met a zero pivot.
   *
   * @param g and @param c values by slot; those it was compiled for when left out
   */
  run(omega: Float64Array, g: Float64Array = this.pencil.g, c: Float64Array = this.pencil.c): SweepValues {
    const { code, pairs } = this
    const n = omega.length
    const memory = code.reserve(n)
    this.given.set(g)
    this.given.set(c, g.length)
    code.prepare(this.given)
    memory.omega.set(omega)
    // Points go in groups: the last one stands in for those that are missing.
    for (let k = n; k % GROUP !== 0; k++) memory.omega[k] = omega[n - 1]
    code.run(n)
    const part = (k: number) => memory.outputs[k].subarray(0, n)
    return {
      re: Array.from({ length: pairs }, (_, k) => part(2 * k)),
      im: Array.from({ length: pairs }, (_, k) => part(2 * k + 1)),
    }
  }
}

function programOf(
  pattern: Pattern,
  values: readonly TestValues[],
  last: readonly number[],
  entries: number,
): Program | null {
  try {
    return layProgram(choosePivots(pattern, values, last), entries)
  } catch (error) {
    if (error instanceof SingularPattern) return null
    throw error
  }
}
