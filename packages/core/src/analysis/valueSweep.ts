import { abs, type Complex, complex } from '../numeric/complex.js'
import { AcAnalysis, dual, finished, type Sweep } from './signalAnalysis.js'
import { type BoundSignals, bindSignals, refuseSloped, type SignalLike } from './signals.js'
import { CompiledSweep } from './compiledSweep.js'
import { ComplexSystem, termsAt, testFrequencies } from './complexSystem.js'
import type { Mna, Probe } from './mna.js'

/** Highest over lowest frequency of a stretch that is compiled with one pivot order. */
const SPAN = 1e6

/** Points of a stretch that are compared with a checked solution, and how closely they must agree. */
const CHECKED_POINTS = 12
const TOLERANCE = 1e-10

/**
 * One response of a circuit at fixed frequencies for one set of values after another, as tolerances and sliders ask for
 * it: ordered and compiled once. Values far from those that the pivots were chosen for are noticed (points of every run
 * are compared with solutions whose residual is checked) and solved plainly.
 */
export class ValueSweep {
  private readonly stretches: readonly Stretch[]
  private readonly values: { g: Float64Array; c: Float64Array }
  private readonly system: ComplexSystem
  /** Of each leaf the unknowns that it is made of, each a result of its own: what it is made of them with follows the values. */
  private readonly columns: readonly (readonly number[])[]
  private readonly output: SignalLike
  /** Stretches that were solved plainly so far. */
  plain = 0

  /**
   * @param options.output as `readOutput` reads it
   * @param frequency Hz, > 0, ascending
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    private readonly mna: Mna,
    private readonly options: { input?: string; output?: SignalLike },
    private readonly frequency: Float64Array,
  ) {
    this.output = options.output ?? 'out'
    const { leaves } = this.boundTo(mna)
    this.columns = leaves.map(({ probe }) => probe.map(([column]) => column))
    this.values = { g: mna.g.slice(), c: mna.c.slice() }
    const omega = frequency.map((f) => 2 * Math.PI * f)
    this.system = new ComplexSystem(
      { ...mna, ...this.values },
      testFrequencies([omega[0], omega.at(-1)!]).map((w) => complex(0, w)),
    )
    const solves = leaves.map(({ drive, probe }) => ({
      drive,
      probes: probe.map(([column]): Probe => [[column, 1, 0]]),
    }))
    const stretches: Stretch[] = []
    for (let from = 0; from < omega.length;) {
      let to = from + 1
      while (to < omega.length && omega[to] <= omega[from] * SPAN) to++
      const part = omega.slice(from, to)
      const range = [part[0], part.at(-1)!] as const
      const code = CompiledSweep.compile(mna, { solves, range })
      stretches.push({ from, omega: part, code })
      from = to
    }
    this.stretches = stretches
  }

  /**
   * @param other the same circuit with other values. One whose values add or remove an entry of the equations, or a term
   *   of the output, is another structure: it is solved by itself
   * @throws VoskelError `SINGULAR`
   */
  run(other: Mna): Pick<Sweep, 'frequency' | 're' | 'im'> {
    const { frequency } = this
    const bound = this.boundTo(other)
    if (!this.hasStructureOf(other) || !this.hasColumnsOf(bound)) {
      this.plain += this.stretches.length
      const { re, im } = new AcAnalysis(other, this.options).sweep(frequency)
      return { frequency, re, im }
    }
    this.values.g.set(other.g)
    this.values.c.set(other.c)
    const n = frequency.length
    const result = { frequency, re: new Float64Array(n), im: new Float64Array(n) }
    for (const stretch of this.stretches)
      if (!this.compiled(stretch, bound, result)) this.plainly(stretch, bound, result)
    return result
  }

  private boundTo(mna: Mna): BoundSignals {
    const bound = bindSignals(mna, [this.output], this.options.input)
    refuseSloped(bound, 'value at every frequency')
    return bound
  }

  private hasColumnsOf({ leaves }: BoundSignals): boolean {
    return (
      leaves.length === this.columns.length &&
      leaves.every(({ probe }, k) => probe.every(([column]) => this.columns[k].includes(column)))
    )
  }

  private hasStructureOf(other: Mna): boolean {
    const { rows, cols, size } = this.mna.pattern
    const { pattern } = other
    return (
      pattern.size === size &&
      pattern.rows.length === rows.length &&
      rows.every((row, e) => row === pattern.rows[e] && cols[e] === pattern.cols[e])
    )
  }

  private compiled({ from, omega, code }: Stretch, bound: BoundSignals, { re, im }: Response): boolean {
    if (!code || !code.fits(this.values.g, this.values.c)) return false
    const values = code.run(omega, this.values.g, this.values.c)
    /** Where the results of each leaf begin. */
    const begins = this.columns.map((_, k) => this.columns.slice(0, k).reduce((sum, own) => sum + own.length, 0))
    for (let k = 0; k < omega.length; k++) {
      const leaves = bound.leaves.map(({ probe }, leaf) => {
        let [sumRe, sumIm] = [0, 0]
        for (const [column, g, c] of probe) {
          const place = begins[leaf] + this.columns[leaf].indexOf(column)
          const [xRe, xIm] = [values.re[place][k], values.im[place][k]]
          sumRe += g * xRe - omega[k] * c * xIm
          sumIm += g * xIm + omega[k] * c * xRe
        }
        return complex(sumRe, sumIm)
      })
      const value = joined(bound, leaves)
      re[from + k] = value.re
      im[from + k] = value.im
    }
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const { re: r, im: i } = this.solved(omega[k], bound)
      if (!(abs({ re: r - re[from + k], im: i - im[from + k] }) <= TOLERANCE * abs({ re: r, im: i }))) return false
    }
    return true
  }

  private plainly({ from, omega }: Stretch, bound: BoundSignals, { re, im }: Response): void {
    this.plain++
    omega.forEach((w, k) => {
      const value = this.solved(w, bound)
      re[from + k] = value.re
      im[from + k] = value.im
    })
  }

  private solved(omega: number, bound: BoundSignals): Complex {
    const { system } = this
    const s = complex(0, omega)
    system.factor(s)
    const leaves = bound.leaves.map(({ drive, probe }) => {
      system.solve(drive)
      system.verify(drive)
      return system.combine(termsAt(probe, s))
    })
    return joined(bound, leaves)
  }
}

/** The signal from the combinations that its leaves are made of. */
function joined({ leaves, signals }: BoundSignals, values: readonly Complex[]): Complex {
  const own = values.map((value, k) => finished(leaves[k], { value, slope: NO_SLOPE }))
  return signals[0].combine(dual, own).value
}

const NO_SLOPE = complex(0)

type Response = { readonly re: Float64Array; readonly im: Float64Array }

interface Stretch {
  /** Index of its first frequency. */
  readonly from: number
  readonly omega: Float64Array
  readonly code: CompiledSweep | null
}
