import { abs, type Complex, complex, divide, multiply, scale } from '../numeric/complex.js'
import { phase, type TransferFunction } from '../numeric/transferFunction.js'
import { CompiledSweep } from './compiledSweep.js'
import { ComplexSystem, testFrequencies } from './complexSystem.js'
import type { Mna, Probe } from './mna.js'
import { inputSource, type Output, parseOutput } from './outputs.js'

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

/**
 * The small-signal response of a linear circuit: output over the input source's AC value, every other source's AC
 * value being zero.
 */
export class AcAnalysis {
  private readonly system: ComplexSystem
  private readonly drive: readonly (readonly [number, number])[]
  private readonly output: Output
  private readonly adjointTerms: [number, number, number][]
  private readonly probe: Probe

  /**
   * @param options.input name of the driving source; left out, `V1` or the only one
   * @param options.output as `parseOutput` reads it; `out` when left out
   * @param options.range lowest and highest angular frequency that will be asked, rad/s
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    readonly mna: Mna,
    options: { input?: string; output?: string; range?: readonly [number, number] } = {},
  ) {
    this.output = parseOutput(mna, options.output ?? 'out')
    const input = this.output.kind === 'impedance' ? this.output.source : inputSource(mna, options.input).index
    this.drive = mna.sources.filter((s) => s.element === input).map((s) => [s.row, s.sign] as const)
    this.probe = this.output.kind === 'linear' ? this.output.probe : impedanceProbe(mna, this.output.source)
    this.adjointTerms = this.probe.map(([column]) => [column, 0, 0])
    const tests = testFrequencies(options.range ?? DEFAULT_RANGE).map((w) => complex(0, w))
    this.system = new ComplexSystem(mna, tests)
  }

  /** H at any complex frequency s, rad/s. */
  at(s: Complex): Complex {
    this.system.factor(s)
    this.system.solve(this.drive)
    this.system.verify(this.drive)
    return this.finish(this.probed(s), complex(0)).value
  }

  /** H(jω) and its derivative by ω. */
  point(omega: number, check = true): ResponsePoint {
    const s = complex(0, omega)
    this.system.factor(s)
    this.system.solve(this.drive)
    if (check) this.system.verify(this.drive)
    const value = this.probed(s)
    // dH/ds = ∂p/∂s·x − yᵀCx, with y from the transposed system driven by the probe.
    this.probe.forEach(([column, g, c], k) => {
      this.adjointTerms[k][0] = column
      this.adjointTerms[k][1] = g
      this.adjointTerms[k][2] = omega * c
    })
    this.system.solveAdjoint(this.adjointTerms)
    const { re, im } = this.system.adjointDerivative()
    let slopeRe = -re
    let slopeIm = -im
    for (const [column, , c] of this.probe) {
      slopeRe += c * this.system.xRe[column]
      slopeIm += c * this.system.xIm[column]
    }
    // d/dω = j·d/ds
    return this.finish(value, complex(-slopeIm, slopeRe))
  }

  /** The response at given frequencies, Hz. */
  sweep(frequency: Float64Array): Sweep {
    const n = frequency.length
    const compiled =
      n * this.mna.size >= WORTH_COMPILING && this.mna.size <= MOST_COMPILED ? this.compiledSweep(frequency) : null
    if (compiled) return compiled
    const re = new Float64Array(n)
    const im = new Float64Array(n)
    const delay = new Float64Array(n)
    for (let k = 0; k < n; k++) {
      const { value, slope } = this.point(2 * Math.PI * frequency[k], k % CHECK_EVERY === 0)
      re[k] = value.re
      im[k] = value.im
      delay[k] = delayOf(value, slope)
    }
    return { frequency, re, im, delay }
  }

  /** The sweep by compiled code; null where that cannot be had. Stretches that fail their check are replayed. */
  private compiledSweep(frequency: Float64Array): Sweep | null {
    const n = frequency.length
    const sweep = { frequency, re: new Float64Array(n), im: new Float64Array(n), delay: new Float64Array(n) }
    // No pivot order is sound over many decades, so that each stretch has its own.
    for (let from = 0; from < n;) {
      let to = from + 1
      while (to < n && frequency[to] <= frequency[from] * COMPILED_SPAN) to++
      const done = this.compiledStretch(sweep, from, to)
      if (done === null) return null
      if (!done) for (let k = from; k < to; k++) this.write(sweep, k, this.point(2 * Math.PI * frequency[k]))
      from = to
    }
    return sweep
  }

  /** True where a stretch has been filled in and agrees with checked solutions; null without WebAssembly. */
  private compiledStretch(sweep: Sweep, from: number, to: number): boolean | null {
    const omega = sweep.frequency.subarray(from, to).map((f) => 2 * Math.PI * f)
    const range = [omega[0] || omega.at(-1)! / COMPILED_SPAN, omega.at(-1)!] as const
    const code = CompiledSweep.compile(this.mna, { drive: this.drive, probes: [this.probe], slope: true, range })
    if (!code) return null
    const { re, im } = code.run(omega)
    for (let k = 0; k < omega.length; k++) {
      if (!Number.isFinite(re[0][k]) || !Number.isFinite(im[0][k])) return false
      // d/dω = j·d/ds
      this.write(sweep, from + k, this.finish({ re: re[0][k], im: im[0][k] }, { re: -im[1][k], im: re[1][k] }))
    }
    const every = Math.max(1, Math.floor(omega.length / CHECKED_POINTS))
    for (let k = 0; k < omega.length; k += every) {
      const { value } = this.point(omega[k])
      const error = abs({ re: value.re - sweep.re[from + k], im: value.im - sweep.im[from + k] })
      if (error > CHECK_TOLERANCE * abs(value)) return false
    }
    return true
  }

  private write({ re, im, delay }: Sweep, k: number, { value, slope }: ResponsePoint): void {
    re[k] = value.re
    im[k] = value.im
    delay[k] = delayOf(value, slope)
  }

  private probed(s: Complex): Complex {
    let re = 0
    let im = 0
    for (const [column, g, c] of this.probe) {
      const ar = g + s.re * c
      const ai = s.im * c
      re += ar * this.system.xRe[column] - ai * this.system.xIm[column]
      im += ar * this.system.xIm[column] + ai * this.system.xRe[column]
    }
    return { re, im }
  }

  /** Turns a solved current into the impedance 1 / current, and its slope with it. */
  private finish(value: Complex, slope: Complex): ResponsePoint {
    if (this.output.kind === 'linear' || !this.sourceHasBranch()) return { value, slope }
    const z = divide(complex(1), value)
    return { value: z, slope: scale(multiply(multiply(z, z), slope), -1) }
  }

  private sourceHasBranch(): boolean {
    return this.output.kind === 'impedance' && this.mna.currents.has(this.output.source)
  }
}

/** For a driven voltage source minus its current (1 V over it is the impedance); for a current source its voltage. */
function impedanceProbe(mna: Mna, source: number): Probe {
  const current = mna.currents.get(source)
  if (current) return current.map(([column, g, c]) => [column, -g, -c] as const)
  const [plus, minus] = mna.circuit.elements[source].nodes
  return (
    [
      [plus, -1, 0],
      [minus, 1, 0],
    ] as const
  ).filter(([column]) => column >= 0)
}

/** Group delay −dφ/dω = −Im(H′/H), s; NaN where H is zero. */
export function delayOf(value: Complex, slope: Complex): number {
  return abs(value) === 0 ? Number.NaN : -divide(slope, value).im
}

/** 20·log10|H|, dB, of each point. */
export function magnitudesDb(sweep: Pick<Sweep, 're' | 'im'>): Float64Array {
  return sweep.re.map((re, k) => 20 * Math.log10(Math.hypot(re, sweep.im[k])))
}

/**
 * Phase of each point in degrees, unwrapped: by the response's own roots where they are given, so that no grid is too
 * coarse; else from one point to the next, the first in (−180, 180].
 */
export function phasesDeg(sweep: Pick<Sweep, 'frequency' | 're' | 'im'>, transfer?: TransferFunction): Float64Array {
  const phases = sweep.re.map((re, k) => (Math.atan2(sweep.im[k], re) * 180) / Math.PI)
  let expected = phases[0]
  for (let k = 0; k < phases.length; k++) {
    if (transfer) expected = (phase(transfer, 2 * Math.PI * sweep.frequency[k]) * 180) / Math.PI
    phases[k] -= 360 * Math.round((phases[k] - expected) / 360)
    if (!transfer) expected = phases[k]
  }
  return phases
}

/**
 * round(N·log10(to/from)) + 1 logarithmically spaced frequencies, both ends exact.
 *
 * @param from Hz, > 0
 * @param to Hz, > from
 */
export function logarithmicGrid(from: number, to: number, pointsPerDecade: number): Float64Array {
  const steps = Math.max(1, Math.round(pointsPerDecade * Math.log10(to / from)))
  const grid = Float64Array.from({ length: steps + 1 }, (_, k) => from * (to / from) ** (k / steps))
  grid[steps] = to
  return grid
}

/** `points` evenly spaced frequencies, both ends exact. */
export function linearGrid(from: number, to: number, points: number): Float64Array {
  const grid = Float64Array.from({ length: points }, (_, k) => from + ((to - from) * k) / Math.max(1, points - 1))
  if (points > 1) grid[points - 1] = to
  return grid
}
