import { abs, complex } from '../numeric/complex.js'
import { AcAnalysis, type Sweep } from './ac.js'
import { CompiledSweep } from './compiledSweep.js'
import { ComplexSystem, termsAt, testFrequencies } from './complexSystem.js'
import type { Mna, Probe } from './mna.js'
import { inputSource, parseOutput } from './outputs.js'
import { VoskelError } from '../errors/VoskelError.js'

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
  /** The unknowns that the output is made of, each a result of its own: what it is made of them with follows the values. */
  private readonly columns: readonly number[]
  private readonly drive: readonly (readonly [number, number])[]
  private readonly output: string
  /** Stretches that were solved plainly so far. */
  plain = 0

  /**
   * @param options.output a net, a difference or a current
   * @param frequency Hz, > 0, ascending
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    private readonly mna: Mna,
    private readonly options: { input?: string; output?: string },
    private readonly frequency: Float64Array,
  ) {
    this.output = options.output ?? 'out'
    this.columns = probeOf(mna, this.output).map(([column]) => column)
    const source = inputSource(mna, options.input).index
    this.drive = mna.sources.filter((s) => s.element === source).map((s) => [s.row, s.sign] as const)
    this.values = { g: mna.g.slice(), c: mna.c.slice() }
    const omega = frequency.map((f) => 2 * Math.PI * f)
    this.system = new ComplexSystem(
      { ...mna, ...this.values },
      testFrequencies([omega[0], omega.at(-1)!]).map((w) => complex(0, w)),
    )
    const probes = this.columns.map((column): Probe => [[column, 1, 0]])
    const stretches: Stretch[] = []
    for (let from = 0; from < omega.length;) {
      let to = from + 1
      while (to < omega.length && omega[to] <= omega[from] * SPAN) to++
      const part = omega.slice(from, to)
      const range = [part[0], part.at(-1)!] as const
      const code = CompiledSweep.compile(mna, { drive: this.drive, probes, range })
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
    const probe = probeOf(other, this.output)
    if (!this.hasStructureOf(other) || probe.some(([column]) => !this.columns.includes(column))) {
      this.plain += this.stretches.length
      const { re, im } = new AcAnalysis(other, this.options).sweep(frequency)
      return { frequency, re, im }
    }
    this.values.g.set(other.g)
    this.values.c.set(other.c)
    const n = frequency.length
    const result = { frequency, re: new Float64Array(n), im: new Float64Array(n) }
    for (const stretch of this.stretches)
      if (!this.compiled(stretch, probe, result)) this.plainly(stretch, probe, result)
    return result
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

  private compiled({ from, omega, code }: Stretch, probe: Probe, { re, im }: Response): boolean {
    if (!code || !code.fits(this.values.g, this.values.c)) return false
    const values = code.run(omega, this.values.g, this.values.c)
    for (let k = 0; k < omega.length; k++) {
      let [sumRe, sumIm] = [0, 0]
      for (const [column, g, c] of probe) {
        const place = this.columns.indexOf(column)
        const [xRe, xIm] = [values.re[place][k], values.im[place][k]]
        sumRe += g * xRe - omega[k] * c * xIm
        sumIm += g * xIm + omega[k] * c * xRe
      }
      re[from + k] = sumRe
      im[from + k] = sumIm
    }
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const { re: r, im: i } = this.solved(omega[k], probe)
      if (!(abs({ re: r - re[from + k], im: i - im[from + k] }) <= TOLERANCE * abs({ re: r, im: i }))) return false
    }
    return true
  }

  private plainly({ from, omega }: Stretch, probe: Probe, { re, im }: Response): void {
    this.plain++
    omega.forEach((w, k) => {
      const value = this.solved(w, probe)
      re[from + k] = value.re
      im[from + k] = value.im
    })
  }

  private solved(omega: number, probe: Probe) {
    const { system } = this
    const s = complex(0, omega)
    system.factor(s)
    system.solve(this.drive)
    system.verify(this.drive)
    return system.combine(termsAt(probe, s))
  }
}

type Response = { readonly re: Float64Array; readonly im: Float64Array }

/** @throws VoskelError `ARGUMENT` */
function probeOf(mna: Mna, text: string): Probe {
  const output = parseOutput(mna, text)
  if (output.kind === 'linear') return output.probe
  throw new VoskelError('ARGUMENT', { problem: 'An impedance cannot be swept so.', fix: 'Ask for a net or a current.' })
}

interface Stretch {
  /** Index of its first frequency. */
  readonly from: number
  readonly omega: Float64Array
  readonly code: CompiledSweep | null
}
