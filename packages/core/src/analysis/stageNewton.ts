import type { DeviceSet } from './deviceSet.js'
import type { Mna } from './mna.js'
import { RealSystem } from './realSystem.js'

/** A stage's equations are solved to this part of what the step may err by. */
const NEWTON_SHARE = 0.1
const MOST_ITERATIONS = 12

/** Iterations that come nearer by less than this factor want the derivatives of where they stand. */
const SLOW = 0.2

/** What is believed of an iteration with new derivatives before anything is seen of it. */
const FIRST_CONTRACTION = 0.1

/** No more than this is believed, however near the second iteration came: its movement may be rounding. */
const LEAST_CONTRACTION = 1e-4

/** Of the smallest conductance without the devices: changes of their derivatives below it do not count. */
const INSIGNIFICANT = 0.02

/** Derivatives age: by this factor less is believed of them after each stage that saw only one iteration. */
const AGEING = 1.2

/**
 * Solves the stages of time steps of a circuit with devices: α·Δq + G·x + i(x) = right, Δq since the step's begin. One factorisation serves as
 * long as iterations come nearer fast enough (the chord, or simplified Newton method), and the contraction seen so far
 * says how much is still missing, so that a good guess costs one evaluation.
 *
 * Source: E. Hairer, G. Wanner, "Solving Ordinary Differential Equations II", Springer 1996, §IV.8 (from memory).
 */
export class StageNewton {
  private readonly g: Float64Array
  private readonly c: Float64Array
  private readonly system: RealSystem
  private readonly residual: Float64Array
  /** The entries without the devices that conduct, and those that store. */
  private readonly conducting: Entries
  private readonly storing: Entries
  private readonly move: Float64Array
  /** S */
  private readonly insignificant: number
  private factored = Number.NaN
  private contraction = FIRST_CONTRACTION

  /** @param alphas values of α among which the pivots must be sound; the devices stand evaluated at a sound point */
  constructor(
    private readonly mna: Mna,
    private readonly devices: DeviceSet,
    alphas: readonly number[],
    /** Whether the devices' currents must hold at the solution, too; their charges always do. */
    private readonly currents: boolean,
  ) {
    this.conducting = entriesWhere(mna, (e) => mna.g[e] !== 0)
    this.storing = entriesWhere(mna, (e) => mna.c[e] !== 0)
    this.g = mna.g.slice()
    this.c = mna.c.slice()
    this.insignificant = INSIGNIFICANT * this.conducting.g.reduce((least, g) => Math.min(least, Math.abs(g)), Infinity)
    this.residual = new Float64Array(mna.size)
    this.move = new Float64Array(mna.size)
    devices.linearize(this.g, this.c)
    this.system = new RealSystem({ ...mna, g: this.g, c: this.c }, alphas, 'in a time step')
  }

  /**
   * @param right by row
   * @param from where the step begins; the devices hold their charges there
   * @param moved becomes x − from, with digits of its own
   * @param x a guess on entry, the solution on return
   * @param norm size of a movement against what a step may err by
   * @param most iterations
   * @returns false where it does not settle; else the devices' charges hold at the solution
   */
  solve(
    alpha: number,
    right: Float64Array,
    from: Float64Array,
    moved: Float64Array,
    x: Float64Array,
    norm: (move: Float64Array) => number,
    most = MOST_ITERATIONS,
  ): boolean {
    const { devices, move } = this
    for (let r = 0; r < x.length; r++) moved[r] = x[r] - from[r]
    let before = Infinity
    let fresh = false
    let replanned = false
    for (let k = 0; k < most; k++) {
      const damped = devices.evaluate(x, true) >= 0
      let carried = false
      if (damped) devices.carryTo(x, true)
      if (alpha !== this.factored || damped || (!fresh && this.contraction > SLOW)) {
        this.factor(alpha)
        fresh = true
      } else fresh = false
      this.lack(alpha, right, moved, x)
      this.system.solve(this.residual, move)
      for (let r = 0; r < x.length; r++) {
        moved[r] += move[r]
        x[r] = from[r] + moved[r]
      }
      const size = norm(move)
      if (!Number.isFinite(size)) return this.failed()
      if (before < Infinity) this.contraction = Math.min(2, Math.max(LEAST_CONTRACTION, size / before))
      if (k === 0 && !fresh && !damped && size > 0 && this.missing(size) <= NEWTON_SHARE) {
        // What came before says nothing of derivatives that have become much smaller since: movements are as small then.
        const changed = devices.changed(alpha, this.insignificant)
        this.contraction = Math.max(this.contraction, changed)
        if (changed > SLOW) {
          devices.carryTo(x, true)
          carried = true
          this.lack(alpha, right, moved, x)
          this.system.solve(this.residual, move)
          this.contraction = norm(move) / size
        }
      }
      const missing = this.missing(size)
      // Where rounding is all that still moves, it is below what the step may err by.
      const stalled = k > 1 && size < 1 && size > before / 4
      if (!damped && (missing <= NEWTON_SHARE || stalled)) {
        if (k === 0) this.contraction *= AGEING
        if (!carried) devices.carryTo(x, this.currents)
        return true
      }
      // Standing still with new derivatives: the pivots' order does not suit these values.
      if (fresh && !replanned && k > 1 && size > before / 2) {
        this.load()
        this.system.replan(alpha)
        this.factored = alpha
        replanned = true
      }
      before = damped ? Infinity : size
    }
    return this.failed()
  }

  /** What further iterations would still move by, against what a step may err by. */
  private missing(size: number): number {
    return this.contraction < 1 ? (size * this.contraction) / (1 - this.contraction) : Infinity
  }

  /** Solves for an error estimate with the factors of the last stage. */
  solveLinear(right: Float64Array, x: Float64Array): void {
    this.system.solve(right, x)
  }

  private load(): void {
    this.g.set(this.mna.g)
    this.c.set(this.mna.c)
    this.devices.linearize(this.g, this.c)
  }

  private factor(alpha: number): void {
    this.load()
    this.system.factor(alpha)
    this.factored = alpha
    this.contraction = Math.min(this.contraction, FIRST_CONTRACTION)
  }

  /** right − α·Δq − G·x − i(x) */
  private lack(alpha: number, right: Float64Array, moved: Float64Array, x: Float64Array): void {
    const { residual, conducting, storing } = this
    for (let r = 0; r < x.length; r++) residual[r] = right[r]
    for (let e = 0; e < conducting.g.length; e++)
      residual[conducting.rows[e]] -= conducting.g[e] * x[conducting.cols[e]]
    for (let e = 0; e < storing.c.length; e++)
      residual[storing.rows[e]] -= alpha * storing.c[e] * moved[storing.cols[e]]
    this.devices.takeFlows(residual, alpha)
  }

  private failed(): false {
    this.factored = Number.NaN
    this.contraction = FIRST_CONTRACTION
    return false
  }
}

/** Some entries of the equations, one array each for rows, columns and values. */
export interface Entries {
  readonly rows: Int32Array
  readonly cols: Int32Array
  readonly g: Float64Array
  readonly c: Float64Array
}

export function entriesWhere({ pattern, g, c }: Mna, wanted: (entry: number) => boolean): Entries {
  const kept = Int32Array.from(g.keys()).filter(wanted)
  return {
    rows: kept.map((e) => pattern.rows[e]),
    cols: kept.map((e) => pattern.cols[e]),
    g: Float64Array.from(kept, (e) => g[e]),
    c: Float64Array.from(kept, (e) => c[e]),
  }
}
