import { abs, complex } from '../numeric/complex.js'
import type { Sweep } from './ac.js'
import { CompiledSweep } from './compiledSweep.js'
import { ComplexSystem, testFrequencies } from './complexSystem.js'
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
  private readonly probe: Probe
  private readonly drive: readonly (readonly [number, number])[]
  /** Stretches that were solved plainly so far. */
  plain = 0

  /**
   * @param options.output a net, a difference or a current
   * @param frequency Hz, > 0, ascending
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    mna: Mna,
    options: { input?: string; output?: string },
    private readonly frequency: Float64Array,
  ) {
    const output = parseOutput(mna, options.output ?? 'out')
    if (output.kind !== 'linear')
      throw new VoskelError('ARGUMENT', {
        problem: 'An impedance cannot be swept so.',
        fix: 'Ask for a net or a current.',
      })
    const source = inputSource(mna, options.input).index
    this.drive = mna.sources.filter((s) => s.element === source).map((s) => [s.row, s.sign] as const)
    this.probe = output.probe
    this.values = { g: mna.g.slice(), c: mna.c.slice() }
    const omega = frequency.map((f) => 2 * Math.PI * f)
    this.system = new ComplexSystem(
      { ...mna, ...this.values },
      testFrequencies([omega[0], omega.at(-1)!]).map((w) => complex(0, w)),
    )
    const stretches: Stretch[] = []
    for (let from = 0; from < omega.length;) {
      let to = from + 1
      while (to < omega.length && omega[to] <= omega[from] * SPAN) to++
      const part = omega.slice(from, to)
      const range = [part[0], part.at(-1)!] as const
      const code = CompiledSweep.compile(mna, { drive: this.drive, probes: [this.probe], range })
      stretches.push({ from, omega: part, code })
      from = to
    }
    this.stretches = stretches
  }

  /**
   * @param other the same circuit with other values: equal structure, equal names
   * @throws VoskelError `SINGULAR`
   */
  run(other: Pick<Mna, 'g' | 'c'>): Pick<Sweep, 'frequency' | 're' | 'im'> {
    this.values.g.set(other.g)
    this.values.c.set(other.c)
    const n = this.frequency.length
    const result = { frequency: this.frequency, re: new Float64Array(n), im: new Float64Array(n) }
    for (const stretch of this.stretches) if (!this.compiled(stretch, result)) this.plainly(stretch, result)
    return result
  }

  private compiled({ from, omega, code }: Stretch, { re, im }: { re: Float64Array; im: Float64Array }): boolean {
    if (!code || !code.fits(this.values.g)) return false
    const values = code.run(omega, this.values.g, this.values.c)
    re.set(values.re[0], from)
    im.set(values.im[0], from)
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const { re: r, im: i } = this.solved(omega[k])
      if (!(abs({ re: r - re[from + k], im: i - im[from + k] }) <= TOLERANCE * abs({ re: r, im: i }))) return false
    }
    return true
  }

  private plainly({ from, omega }: Stretch, { re, im }: { re: Float64Array; im: Float64Array }): void {
    this.plain++
    omega.forEach((w, k) => {
      const value = this.solved(w)
      re[from + k] = value.re
      im[from + k] = value.im
    })
  }

  private solved(omega: number) {
    const { system } = this
    system.factor(complex(0, omega))
    system.solve(this.drive)
    system.verify(this.drive)
    let re = 0
    let im = 0
    for (const [column, g, c] of this.probe) {
      re += g * system.xRe[column] - omega * c * system.xIm[column]
      im += g * system.xIm[column] + omega * c * system.xRe[column]
    }
    return { re, im }
  }
}

interface Stretch {
  /** Index of its first frequency. */
  readonly from: number
  readonly omega: Float64Array
  readonly code: CompiledSweep | null
}
