import { GROUND } from '../circuit/parts/PartKind.js'
import { abs, add, type Complex, complex, scale, subtract } from '../numeric/complex.js'
import { VoskelError } from '../errors/VoskelError.js'
import { valuesOrLimits } from './analyticLimit.js'
import { ComplexSystem, termsAt } from './complexSystem.js'
import type { Mna, Probe } from './mna.js'
import { type Drive, netlistName } from './elements.js'
import { bindSignals, type SignalLike } from './signals.js'

/** Noise at one frequency. */
export interface NoisePoint {
  /** At the output, V²/Hz (A²/Hz for a current). */
  readonly output: number
  /** |H|² of the transfer from the input source. */
  readonly gainSquared: number
  /** What the output's density is known to, in its unit: transfers are differences, of which little may be left. */
  readonly known: number
}

/** Transfers from two nets are known to this part of their size; what is left of them below the lesser is nothing. */
const KNOWN = 1e-12
const NOTHING = 64 * Number.EPSILON

/** A noise current's transfer to the output: that from one net less that from the other. */
interface NoiseTransfer {
  readonly value: Complex
  /** Sum of the sizes of both. */
  readonly size: number
}

/**
 * The noise of a linear(ised) circuit: thermal noise of resistances, shot, channel and flicker noise of devices at their
 * operating point, amplifiers' input noise. One transposed solve gives the transfer of every source of noise.
 *
 * Sources: H. Nyquist, Phys. Rev. 32, 1928, 110–113; R. Rohrer, L. Nagel, R. Meyer, L. Weber, IEEE J. Solid-State
 * Circuits SC-6, 1971, 204–213 (adjoint method).
 */
export class NoiseAnalysis {
  private readonly system: ComplexSystem
  private readonly probe: Probe
  private readonly drive: Drive

  /**
   * @param options.range lowest and highest frequency that will be asked, Hz
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    private readonly mna: Mna,
    options: { input?: string; output?: SignalLike; range: readonly [number, number] },
  ) {
    const { leaves, signals } = bindSignals(mna, [options.output ?? 'out'], options.input)
    const [leaf] = leaves
    const [{ leaf: only, unit }] = signals
    if (only === null || leaf.inverse || (unit !== 'V' && unit !== 'A')) {
      throw new VoskelError('ARGUMENT', {
        problem: `${unit === 'Ω' ? 'An impedance' : 'A product or quotient'} has no noise.`,
        fix: 'Ask for a net or a current, for example out.',
      })
    }
    this.probe = leaf.probe
    this.drive = leaf.drive
    const [low, high] = options.range.map((f) => 2 * Math.PI * f)
    this.system = new ComplexSystem(
      mna,
      [low, Math.sqrt(low * high), high].map((w) => complex(0, w)),
    )
  }

  /** @param frequency Hz */
  at(frequency: number): NoisePoint {
    const { gain, transfers } = this.transfers(2 * Math.PI * frequency)
    let [output, known] = [0, 0]
    transfers.forEach(({ value, size }, k) => {
      const own = this.density(k, frequency)
      const [reached, off] = [abs(value), KNOWN * size]
      output += own * reached * reached
      known += own * (2 * reached + off) * off
    })
    return { output, gainSquared: gain.re * gain.re + gain.im * gain.im, known }
  }

  /** Each part's share of the output noise at a frequency, V²/Hz, largest first. */
  shares(frequency: number): { name: string; density: number }[] {
    const { transfers } = this.transfers(2 * Math.PI * frequency)
    const byPart = new Map<string, number>()
    this.mna.noises.forEach(({ element }, k) => {
      const name = netlistName(this.mna.circuit.elements[element])
      byPart.set(name, (byPart.get(name) ?? 0) + this.density(k, frequency) * abs(transfers[k].value) ** 2)
    })
    return [...byPart].map(([name, density]) => ({ name, density })).sort((a, b) => b.density - a.density)
  }

  /**
   * Output noise power between two frequencies, V²: adaptive Simpson in ln f, no finer than the density is known.
   *
   * @param marks frequencies, Hz, near which the density bends; poles' magnitudes do well
   */
  power(from: number, to: number, marks: readonly number[] = []): number {
    const density = (u: number): Known => {
      const f = Math.exp(u)
      const { output, known } = this.at(f)
      return { value: output * f, known: known * f }
    }
    const inside = marks.filter((f) => f > from && f < to)
    const steps = Math.max(1, Math.ceil(Math.log10(to / from)))
    const grid = Array.from({ length: steps + 1 }, (_, k) => from * (to / from) ** (k / steps))
    const ends = [...new Set([...grid, ...inside])].sort((a, b) => a - b).map(Math.log)
    const pieces = ends.slice(1).map((b, k) => new Piece(ends[k], b, density))
    const rough = pieces.reduce((sum, p) => sum + Math.abs(p.whole), 0)
    return pieces.reduce(
      (sum, p) => sum + p.integral(density, (POWER_TOLERANCE * rough) / pieces.length, MOST_HALVINGS),
      0,
    )
  }

  /** From the input source, then from each noise current, to the output. */
  private transfers(omega: number): { readonly gain: Complex; readonly transfers: readonly NoiseTransfer[] } {
    const { noises } = this.mna
    const [gain, ...ends] = valuesOrLimits(complex(0, omega), (s) => {
      const { system } = this
      const probe = termsAt(this.probe, s)
      system.factor(s)
      system.solve(this.drive)
      const lost = system.hasLost(this.drive, probe, system.combine(probe))
      system.solveAdjoint(probe)
      const { yRe, yIm } = system
      const at = (row: number) => (row === GROUND ? complex(0) : complex(yRe[row], yIm[row]))
      const gain = this.drive.reduce((sum, [row, sign]) => add(sum, scale(at(row), sign)), complex(0))
      return { values: [gain, ...noises.flatMap(({ from, to }) => [at(from), at(to)])], lost }
    })
    const transfers = noises.map((_, k): NoiseTransfer => {
      const [from, to] = [ends[2 * k], ends[2 * k + 1]]
      const [value, size] = [subtract(from, to), abs(from) + abs(to)]
      return { value: abs(value) <= NOTHING * size ? complex(0) : value, size }
    })
    return { gain, transfers }
  }

  /** Of a noise current, A²/Hz. */
  private density(k: number, frequency: number): number {
    const { density, flicker } = this.mna.noises[k]
    return density + flicker / frequency
  }
}

const POWER_TOLERANCE = 1e-8
const MOST_HALVINGS = 30

/** A value, and what it is known to. */
interface Known {
  readonly value: number
  readonly known: number
}

/** A stretch of an integral by Simpson's rule. */
class Piece {
  private readonly middle: number
  readonly whole: number

  constructor(
    private readonly a: number,
    private readonly b: number,
    f: (x: number) => Known,
    private readonly fa = f(a),
    private readonly fb = f(b),
    private readonly fm = f((a + b) / 2),
  ) {
    this.middle = (a + b) / 2
    this.whole = ((b - a) / 6) * (fa.value + 4 * this.fm.value + fb.value)
  }

  integral(f: (x: number) => Known, tolerance: number, depth: number): number {
    const left = new Piece(this.a, this.middle, f, this.fa, this.fm)
    const right = new Piece(this.middle, this.b, f, this.fm, this.fb)
    const both = left.whole + right.whole
    const error = (both - this.whole) / 15
    const known = (this.b - this.a) * Math.max(this.fa.known, this.fm.known, this.fb.known)
    if (depth === 0 || Math.abs(error) <= Math.max(tolerance, known)) return both + error
    return left.integral(f, tolerance / 2, depth - 1) + right.integral(f, tolerance / 2, depth - 1)
  }
}
