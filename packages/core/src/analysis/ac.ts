import { abs, type Complex, complex, divide, multiply, scale } from '../numeric/complex.js'
import { phase, type TransferFunction } from '../numeric/transferFunction.js'
import { VoskelError } from '../errors/VoskelError.js'
import { analyticLimit, type Taylor } from './analyticLimit.js'
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

const NOTHING = complex(0)

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

  /** H at any complex frequency s, rad/s; where the equations are singular, its limit. */
  at(s: Complex): Complex {
    return this.series(s, true, false).value
  }

  /** H(jω) and its derivative by ω; where the equations are singular, their limits. */
  point(omega: number, check = true): ResponsePoint {
    const { value, slope } = this.series(complex(0, omega), check, true)
    // d/dω = j·d/ds
    return { value, slope: complex(-slope.im, slope.re) }
  }

  /** H and dH/ds. */
  private series(s: Complex, check: boolean, sloped: boolean): Taylor {
    let singular: unknown
    try {
      const { value, slope } = this.solved(s, check, sloped)
      if (!this.system.hasLost(this.drive, this.terms(s), value)) return this.finish(value, slope)
    } catch (error) {
      if (!(error instanceof VoskelError) || error.code !== 'SINGULAR') throw error
      singular = error
    }
    const limit = analyticLimit(s, (near) => [this.solved(near, true, false).value])
    if (limit) return this.finish(limit[0].value, limit[0].slope)
    if (singular) throw singular
    const { value, slope } = this.solved(s, check, sloped)
    return this.finish(value, slope)
  }

  /** The wanted unknown and, where it is asked for, its derivative by s, from the equations at s. */
  private solved(s: Complex, check: boolean, sloped: boolean): Taylor {
    const { system } = this
    system.factor(s)
    system.solve(this.drive)
    if (check) system.verify(this.drive)
    const value = system.combine(this.terms(s))
    if (!sloped) return { value, slope: NOTHING }
    // dH/ds = ∂p/∂s·x − yᵀCx, with y from the transposed system driven by the probe.
    system.solveAdjoint(this.terms(s))
    const { re, im } = system.adjointDerivative()
    let slopeRe = -re
    let slopeIm = -im
    for (const [column, , c] of this.probe) {
      slopeRe += c * system.xRe[column]
      slopeIm += c * system.xIm[column]
    }
    return { value, slope: complex(slopeRe, slopeIm) }
  }

  /** The probe at s as [column, re, im] terms, in memory that the next call overwrites. */
  private terms(s: Complex): readonly (readonly [number, number, number])[] {
    this.probe.forEach(([column, g, c], k) => {
      this.adjointTerms[k][0] = column
      this.adjointTerms[k][1] = g + s.re * c
      this.adjointTerms[k][2] = s.im * c
    })
    return this.adjointTerms
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

  /** Turns a solved current into the impedance 1 / current, and its slope with it. */
  private finish(value: Complex, slope: Complex): Taylor {
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
 * coarse; else from one point to the next by the delay between them. A zero on the axis makes it jump up by 180°.
 *
 * @param known the response by its roots; or its unwrapped phase near the first point, degrees
 */
export function phasesDeg(
  sweep: Pick<Sweep, 'frequency' | 're' | 'im' | 'delay'>,
  known: TransferFunction | number = 0,
): Float64Array {
  const { frequency, delay } = sweep
  const phases = sweep.re.map((re, k) => (Math.atan2(sweep.im[k], re) * 180) / Math.PI)
  let last = known
  for (let k = 0; k < phases.length; k++) {
    if (typeof last !== 'number') {
      const expected = (phase(last, 2 * Math.PI * frequency[k]) * 180) / Math.PI
      phases[k] -= 360 * Math.round((phases[k] - expected) / 360)
      continue
    }
    // 360° a hertz and second; a delay that does not exist (at a zero) predicts nothing.
    const turned = k === 0 ? 0 : 180 * (frequency[k] - frequency[k - 1]) * (delay[k - 1] + delay[k])
    const expected = last - (Number.isFinite(turned) ? turned : 0)
    phases[k] = expected + wrapped(phases[k] - expected)
    last = phases[k]
  }
  return phases
}

/** Half a turn, to either side of which rounding may fall, is a jump upwards. */
const JUMP_BIAS = 10

/** Decades below a frequency from which its phase is followed, and points a decade before any are put between. */
const FOLLOWED_DECADES = 6
const FOLLOWED_DENSITY = 40

/** Turns from point to point that agree so far, degrees, with the delay between them need no point more. */
const AGREED = 30
const MOST_HALVINGS = 30

/**
 * The unwrapped phase at a frequency, degrees, of a response whose roots nobody knows: followed from far below, where it
 * is a multiple of 90° between −180° and 180°, with more points where it turns faster than the delay says.
 *
 * @param frequency Hz, > 0
 */
export function followedPhase(ac: { sweep(frequency: Float64Array): Sweep }, frequency: number): number {
  const at = (f: number) => {
    const { re, im, delay } = ac.sweep(Float64Array.of(f))
    return { f, phase: (Math.atan2(im[0], re[0]) * 180) / Math.PI, delay: delay[0] }
  }
  type Point = ReturnType<typeof at>
  const turn = (a: Point, b: Point, depth: number): number => {
    const expected = -180 * (b.f - a.f) * (a.delay + b.delay)
    const known = Number.isFinite(expected) ? expected : 0
    const off = wrapped(b.phase - a.phase - known)
    const middle = Math.sqrt(a.f * b.f)
    if (Math.abs(off) <= AGREED || depth === 0 || !(middle > a.f && middle < b.f)) return known + off
    const m = at(middle)
    return turn(a, m, depth - 1) + turn(m, b, depth - 1)
  }
  const grid = logarithmicGrid(frequency / 10 ** FOLLOWED_DECADES, frequency, FOLLOWED_DENSITY)
  let last = at(grid[0])
  let sum = last.phase
  for (const f of grid.subarray(1)) {
    const next = at(f)
    sum += turn(last, next, MOST_HALVINGS)
    last = next
  }
  return sum
}

/** In (−180, 180], but for what rounding puts to either side of half a turn, which is a jump upwards. */
const wrapped = (degrees: number): number => degrees - 360 * Math.round((degrees - JUMP_BIAS) / 360)

/**
 * round(N·log10(to/from)) + 1 logarithmically spaced frequencies, both ends exact.
 *
 * @param from Hz, > 0
 * @param to Hz, > from
 */
export function logarithmicGrid(from: number, to: number, pointsPerDecade: number): Float64Array {
  return spacedGrid(from, to, Math.max(1, Math.round(pointsPerDecade * Math.log10(to / from))) + 1)
}

/** `points` (2 or more) logarithmically spaced frequencies, both ends exact. */
export function spacedGrid(from: number, to: number, points: number): Float64Array {
  const steps = points - 1
  const grid = Float64Array.from({ length: points }, (_, k) => from * (to / from) ** (k / steps))
  grid[steps] = to
  return grid
}

/** `points` evenly spaced frequencies, both ends exact. */
export function linearGrid(from: number, to: number, points: number): Float64Array {
  const grid = Float64Array.from({ length: points }, (_, k) => from + ((to - from) * k) / Math.max(1, points - 1))
  if (points > 1) grid[points - 1] = to
  return grid
}
