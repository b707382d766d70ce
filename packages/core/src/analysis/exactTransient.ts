import { waveformKind } from '../circuit/waveforms/index.js'
import type { Segment } from '../circuit/waveforms/Waveform.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, type Complex, complex, divide, multiply, scale, subtract } from '../numeric/complex.js'
import { keepsDigits, type PartialFractions, partialFractions } from '../numeric/partialFractions.js'
import { evaluate, type TransferFunction } from '../numeric/transferFunction.js'
import { driveOf } from './elements.js'
import type { Mna } from './mna.js'
import { initialValue, operatingPoint } from './operatingPoint.js'
import { commonPeriod, refuseLasting } from './commonPeriod.js'
import { rootsOfBound } from './poles.js'
import { uniformTimes } from './interpolate.js'
import { bindSignals, combinedOverTime, type Leaf, leafAlone, type SignalLike } from './signals.js'

export interface ExactTransientOptions {
  /** s, > 0 */
  stop: number
  /** Evenly spaced points from 0 to `stop`, ≥ 2. */
  points: number
  /** As `readOutput` reads them. */
  outputs: readonly SignalLike[]
  /** `settled`: where it is after any number of periods of its sources. */
  start?: 'op' | 'zero' | 'settled'
  /** A transfer that is known already: from this source to this output. */
  known?: { readonly input: string; readonly output: string; readonly transfer: TransferFunction }
}

/** Beyond this, steps cost less than modes. */
const MOST_UNKNOWNS = 200

/** Exponentials are multiplied up for so many points before they are taken anew: rounding grows with each product. */
const RENEW_AFTER = 256

/**
 * The response over time of a linear circuit from its natural modes, exact for every waveform: each mode answers each
 * stretch of a source in closed form. Much faster than stepping, and what stepping is compared with.
 *
 * @returns one array an output; null where it does not apply: devices, initial voltages, multiple or crowded poles, an
 *   output that differentiates its source
 * @throws VoskelError as `polesAndZeros` and `operatingPoint`; `NO_SETTLED_STATE` where that is asked for
 */
export function exactTransient(mna: Mna, options: ExactTransientOptions): Float64Array[] | null {
  if (mna.devices.length > 0 || mna.circuit.initial.size > 0 || mna.size > MOST_UNKNOWNS) return null
  // The state to start from must exist, whether or not the outputs show all of it.
  const period = options.start === 'settled' ? commonPeriod(mna) : null
  if (options.start === 'op' || options.start === undefined)
    operatingPoint(mna, { value: initialValue, fromRest: true })
  const drivers = mna.circuit.elements.filter((e) => e.kind.takesWaveform)
  const { leaves, signals } = bindSignals(mna, options.outputs, null)
  const results: Float64Array[] = []
  for (const [place, leaf] of leaves.entries()) {
    const sum = new Float64Array(options.points)
    const own = signals.findIndex((s) => s.leaf === place)
    for (const source of drivers) {
      const { known } = options
      const isKnown = known?.input === source.name && own >= 0 && options.outputs[own] === known.output
      const transfer = isKnown ? () => known.transfer : () => transferOf(mna, source, leaf)
      if (!addResponse(source, transfer, { ...options, period }, sum)) return null
    }
    results.push(sum)
  }
  const time = uniformTimes(options.stop, options.points)
  return signals.map((signal) => combinedOverTime(signal, results, time))
}

/**
 * Unknowns of a linear circuit at the begin of a period after any number of them, from its natural modes.
 *
 * @param unknowns their indices
 * @returns one value each; null where modes cannot say it, as for `exactTransient`
 * @throws VoskelError `NO_SETTLED_STATE`; as `polesAndZeros`
 */
export function settledByModes(mna: Mna, unknowns: readonly number[], period: number): Float64Array | null {
  if (mna.devices.length > 0 || mna.size > MOST_UNKNOWNS) return null
  const drivers = mna.circuit.elements.filter((e) => e.kind.takesWaveform)
  const options = { stop: period, points: 2, outputs: [], start: 'settled', period } as const
  const values = new Float64Array(unknowns.length)
  for (const [place, k] of unknowns.entries()) {
    const sum = new Float64Array(options.points)
    const leaf: Leaf = { drive: [], probe: [[k, 1, 0]], inverse: false, owners: [] }
    for (const source of drivers)
      if (!addResponse(source, () => transferOf(mna, source, leaf), options, sum)) return null
    values[place] = sum[0]
  }
  return values
}

/** Adds what one source does to one output; false where the modes cannot say it. */
function addResponse(
  source: FlatElement,
  transferOf: () => TransferFunction | null | undefined,
  options: ExactTransientOptions & { readonly period: number | null },
  sum: Float64Array,
): boolean {
  const { stop, points, start = 'op', period } = options
  const before = start === 'op' ? initialValue(source) : 0
  // A jump at the very end is the last point's.
  const segments = segmentsOf(source, Math.max(stop, period ?? 0) * (1 + PAST_END))
  if (!segments) return false
  if (before === 0 && segments.every((s) => s.value === 0 && s.slope === 0 && s.waves.length === 0)) return true
  const transfer = transferOf()
  if (transfer === null) return true
  if (transfer === undefined) return false
  const fractions = partialFractions(transfer)
  if (!fractions) return false
  const dc = fractions.poles.some((p) => abs(p) === 0) ? null : evaluate(transfer, complex(0)).re
  if (dc === null && before !== 0) return false
  const sizes = fractions.residues.map((r, k) => abs(r) / Math.max(abs(fractions.poles[k]), 1 / stop))
  const size = Math.max(Math.abs(fractions.direct), Math.abs(dc ?? 0), 0) || Math.max(...sizes, 0)
  if (!keepsDigits(sizes, fractions.crowding, size)) return false
  const modes = new Modes(transfer, fractions, before)
  if (period !== null) modes.settle(segments, period)
  modes.respond(segments, stop, points, sum)
  return true
}

/** The transfer from a source; null where the output does not depend on it, undefined where it cannot be found. */
function transferOf(mna: Mna, source: FlatElement, leaf: Leaf): TransferFunction | null | undefined {
  try {
    return rootsOfBound(mna, leafAlone(leaf, driveOf(mna, mna.circuit.elements.indexOf(source)))).transfer
  } catch (error) {
    if (error instanceof VoskelError && error.code === 'OUTPUT_INDEPENDENT') return null
    if (error instanceof VoskelError && error.code === 'POLES_UNCERTAIN') return undefined
    throw error
  }
}

function segmentsOf(source: FlatElement, stop: number): Segment[] | null {
  if (source.waveform) return waveformKind(source.waveform).segments(source.waveform, stop)
  return [{ from: 0, value: source.values.bias, slope: 0, waves: [] }]
}

/** The modes of a transfer with their present amplitudes: z′ = p·z + r·u for each. */
class Modes {
  private readonly z: Complex[]

  /** @param before the source's value before t = 0, to which everything has settled */
  constructor(
    private readonly transfer: TransferFunction,
    private readonly f: PartialFractions,
    before: number,
  ) {
    this.z = f.poles.map((p, k) => (before === 0 ? complex(0) : scale(divide(f.residues[k], p), -before)))
  }

  /** From nothing to where a period of the source leads back to itself. @throws VoskelError `NO_SETTLED_STATE` */
  settle(segments: readonly Segment[], period: number): void {
    segments.forEach((segment, k) => {
      const end = Math.min(segments[k + 1]?.from ?? Infinity, period)
      if (end > segment.from) this.advance(segment, end - segment.from)
    })
    this.f.poles.forEach((p, k) => {
      const grown = exponential(p, period)
      refuseLasting(abs(grown))
      this.z[k] = divide(this.z[k], subtract(complex(1), grown))
    })
  }

  /** Adds the response at evenly spaced times. */
  respond(segments: readonly Segment[], stop: number, points: number, sum: Float64Array): void {
    const step = stop / (points - 1)
    let at = 0
    segments.forEach((segment, k) => {
      const end = segments[k + 1]?.from ?? Infinity
      // The last stretch takes the last point, too.
      let until = at
      // A time that rounding alone puts before a corner lies on it.
      while (until < points && until * step < end * (1 - SAME_TIME)) until++
      this.stretch(segment, at, until, step, sum)
      at = until
      if (end < Infinity) this.advance(segment, end - segment.from)
    })
  }

  private stretch(segment: Segment, at: number, until: number, step: number, sum: Float64Array): void {
    const { poles } = this.f
    const free = this.freeAmplitudes(segment)
    const [base, rise, curve] = this.straight(segment)
    for (let from = at; from < until; from += RENEW_AFTER) {
      const to = Math.min(until, from + RENEW_AFTER)
      const tau = from * step - segment.from
      for (let k = 0; k < poles.length; k++) {
        // Of a conjugate pair, twice the real part of one.
        if (poles[k].im < 0) continue
        const twice = poles[k].im === 0 ? 1 : 2
        addExponential(
          sum,
          from,
          to,
          scale(multiply(free[k], exponential(poles[k], tau)), twice),
          exponential(poles[k], step),
        )
      }
      for (const { s, c } of segment.waves) {
        const start = multiply(multiply(c, this.apartFromResonance(s)), exponential(s, tau))
        addExponential(sum, from, to, start, exponential(s, step))
        poles.forEach((p, k) => {
          if (!isResonant(s, p)) return
          const size = multiply(this.f.residues[k], c)
          for (let j = from; j < to; j++) sum[j] += multiply(size, building(s, p, j * step - segment.from)).re
        })
      }
      for (let k = from; k < to; k++) {
        const tau = k * step - segment.from
        sum[k] += base + tau * (rise + tau * curve)
      }
    }
  }

  /** H(s) without the modes that s is in resonance with: they are told as what builds up. */
  private apartFromResonance(s: Complex): Complex {
    const { direct, poles, residues } = this.f
    if (!poles.some((p) => isResonant(s, p))) return evaluate(this.transfer, s)
    return poles.reduce(
      (sum, p, k) => (isResonant(s, p) ? sum : add(sum, divide(residues[k], subtract(s, p)))),
      complex(direct),
    )
  }

  /** What the output does besides decaying modes and forced waves, the answer to value + slope·τ: base + rise·τ + curve·τ². */
  private straight({ value, slope }: Segment): [base: number, rise: number, curve: number] {
    const { direct, poles, residues } = this.f
    let base = direct * value
    let rise = direct * slope
    let curve = 0
    poles.forEach((p, k) => {
      if (p.im < 0) return
      if (abs(p) === 0) {
        // A mode at rest integrates.
        rise += residues[k].re * value
        curve += (residues[k].re * slope) / 2
        return
      }
      const twice = p.im === 0 ? 1 : 2
      const gain = divide(scale(residues[k], -twice), p)
      base += gain.re * value + divide(gain, p).re * slope
      rise += gain.re * slope
    })
    return [base, rise, curve]
  }

  /** Amplitudes of e^(pτ) that carry the modes' present state on. */
  private freeAmplitudes(segment: Segment): Complex[] {
    return this.f.poles.map((p, k) => subtract(this.z[k], this.forcedState(segment, p, this.f.residues[k], 0)))
  }

  private forcedState({ value, slope, waves }: Segment, p: Complex, r: Complex, tau: number): Complex {
    let state = multiply(r, particular(p, value, slope, tau))
    for (const { s, c } of waves) {
      // Re c·e^(sτ) is half of a wave and its conjugate.
      for (const [sk, ck] of [
        [s, c],
        [conjugate(s), conjugate(c)],
      ]) {
        const forced = isResonant(sk, p) ? building(sk, p, tau) : divide(exponential(sk, tau), subtract(sk, p))
        state = add(state, scale(multiply(r, multiply(ck, forced)), 0.5))
      }
    }
    return state
  }

  private advance(segment: Segment, tau: number): void {
    const free = this.freeAmplitudes(segment)
    this.f.poles.forEach((p, k) => {
      this.z[k] = add(multiply(free[k], exponential(p, tau)), this.forcedState(segment, p, this.f.residues[k], tau))
    })
  }
}

const conjugate = (a: Complex): Complex => ({ re: a.re, im: -a.im })

/** How far beyond the last point waveforms are looked at, against it. */
const PAST_END = 1e-12

/** Times that differ by less than this part are one. */
const SAME_TIME = 4 * Number.EPSILON

/** A wave this near to a mode, relative to it, is in resonance with it: forced and free part would cancel. */
const RESONANCE = 1e-2

const isResonant = (s: Complex, p: Complex): boolean => abs(subtract(s, p)) <= RESONANCE * abs(p)

/** (e^(sτ) − e^(pτ))/(s − p), the answer of z′ = p·z + e^(sτ) that begins at 0: τ·e^(pτ) where they are one. */
function building(s: Complex, p: Complex, tau: number): Complex {
  const d = subtract(s, p)
  if (abs(d) === 0) return scale(exponential(p, tau), tau)
  const [a, b] = [d.re * tau, d.im * tau]
  // e^(a + jb) − 1 without its cancellation.
  const grown = complex(Math.expm1(a) * Math.cos(b) - 2 * Math.sin(b / 2) ** 2, Math.exp(a) * Math.sin(b))
  return multiply(exponential(p, tau), divide(grown, d))
}

/** The answer of z′ = p·z + u to u = value + slope·τ, without a free part: −u/p − slope/p²; a mode at rest integrates. */
function particular(p: Complex, value: number, slope: number, tau: number): Complex {
  if (p.re === 0 && p.im === 0) return complex(tau * (value + (slope * tau) / 2))
  const inverse = divide(complex(-1), p)
  return add(scale(inverse, value + slope * tau), scale(multiply(inverse, inverse), -slope))
}

function exponential(p: Complex, t: number): Complex {
  const size = Math.exp(p.re * t)
  return { re: size * Math.cos(p.im * t), im: size * Math.sin(p.im * t) }
}

/** Adds Re(start·factorᵏ) from one index to another. */
function addExponential(sum: Float64Array, from: number, to: number, start: Complex, factor: Complex): void {
  let { re, im } = start
  for (let k = from; k < to; k++) {
    sum[k] += re
    const next = re * factor.re - im * factor.im
    im = re * factor.im + im * factor.re
    re = next
  }
}
