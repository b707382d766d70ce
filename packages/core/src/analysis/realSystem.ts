import { VoskelError } from '../errors/VoskelError.js'
import { choosePivots, SingularPattern } from '../numeric/sparse/order.js'
import { layProgram, type Program } from '../numeric/sparse/program.js'
import { factorReal, solveReal } from '../numeric/sparse/replay.js'
import type { Pencil } from './complexSystem.js'

/** Solves (G + α·C)·x = b for real α: operating points (α = 0) and time steps. Planned once, replayed for each α. */
export class RealSystem {
  private program: Program
  private values: Float64Array

  /** @param tests values of α at which every pivot must be sound */
  constructor(
    private readonly pencil: Pencil,
    tests: readonly number[],
    private readonly when: string,
  ) {
    this.program = this.plan(tests)
    this.values = new Float64Array(this.program.slots)
  }

  /** @throws VoskelError `SINGULAR` */
  factor(alpha: number): void {
    this.load(alpha)
    if (factorReal(this.program, this.values) < 0) return
    this.replan(alpha)
  }

  /** Chooses the pivots anew for the pencil's present values, and factors. */
  replan(alpha: number): void {
    this.program = this.plan([alpha])
    this.values = new Float64Array(this.program.slots)
    this.load(alpha)
    const failed = factorReal(this.program, this.values)
    if (failed >= 0) throw this.singular(this.program.pivotCol[failed])
  }

  /** Solves for `b` by row, which is overwritten, into `x` by unknown. */
  solve(b: Float64Array, x: Float64Array): void {
    solveReal(this.program, this.values, b, x)
  }

  private load(alpha: number): void {
    const { g, c } = this.pencil
    for (let e = 0; e < g.length; e++) this.values[e] = g[e] + alpha * c[e]
    this.values.fill(0, g.length)
  }

  private plan(tests: readonly number[]): Program {
    const { pattern, g, c } = this.pencil
    const im = new Float64Array(g.length)
    try {
      return layProgram(
        choosePivots(
          pattern,
          tests.map((a) => ({ re: g.map((v, e) => v + a * c[e]), im })),
        ),
        g.length,
      )
    } catch (error) {
      if (error instanceof SingularPattern) throw this.singular(error.column)
      throw error
    }
  }

  private singular(column: number): VoskelError {
    const unknown = this.pencil.unknowns[column]
    const net = /^v\((.*)\)$/.exec(unknown)?.[1]
    const part = /^i\((.*)\)$/.exec(unknown)?.[1]
    return new VoskelError('SINGULAR', { unknown, at: this.when }, { ...(net && { net }), ...(part && { part }) })
  }
}
