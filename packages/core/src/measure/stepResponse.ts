import { abs, type Complex } from '../numeric/complex.js'
import { dense, type Dense, product } from '../numeric/dense.js'
import { matrixExponential } from '../numeric/matrixExponential.js'
import { ldexp, scaleFrequency, type TransferFunction } from '../numeric/transferFunction.js'
import { StepModes } from './stepModes.js'

/**
 * The exact response of a transfer to a unit step: from its partial fractions where and as soon as they keep their digits, else from a
 * cascade of first- and second-order sections and matrix exponentials, which multiple and nearly equal poles do not harm.
 */
export class StepResponse {
  /** Order of the response. */
  readonly order: number
  /** y(0+). */
  readonly initial: number
  private readonly a: Dense
  private readonly b: Float64Array
  private readonly c: Float64Array
  private readonly d: number
  private readonly slopes: Float64Array
  private readonly slopeOfStep: number
  /** Internal time is t·rate. */
  private readonly rate: number
  private readonly poles: readonly Complex[]
  /** Of the mode that is heard the longest. */
  private readonly slowest: number
  private readonly sections: readonly Section[]
  private readonly series: TaylorStep
  /** In internal time. */
  private readonly modes: StepModes | null
  /** The modes keep their digits from the begin on. */
  private readonly isModal: boolean

  /** @param h stable (every pole in the left half plane) and with no more zeros than poles */
  constructor(h: TransferFunction) {
    const sizes = h.poles.map(abs)
    this.rate = sizes.length ? Math.exp(sizes.reduce((sum, v) => sum + Math.log(v), 0) / sizes.length) : 1
    const scaled = scaleFrequency(h, 1 / this.rate)
    this.poles = scaled.poles
    this.slowest = Math.min(...scaled.poles.map((p) => -p.re))
    this.modes = StepModes.of(scaled)
    this.isModal = this.modes?.keepsFrom(0) ?? false
    this.order = h.poles.length
    const n = this.order
    this.a = dense(n, n)
    this.b = new Float64Array(n)
    // The signal that leaves the sections so far, as c·x + d·u.
    let c = new Float64Array(n)
    let d = 1
    let level = scaled.gain
    let exponent = scaled.gainExponent ?? 0
    let at = 0
    this.sections = sections(scaled)
    for (const section of this.sections) {
      const { size, a0, a1, b0, b1, b2 } = section
      const w = size === 2 ? Math.sqrt(a0) : a0
      const input = c
      const direct = d
      const put = (row: number, k: number) => {
        for (let j = 0; j < n; j++) this.a.data[row * n + j] += k * input[j]
        this.b[row] += k * direct
      }
      const scale = Math.max(Math.abs(b0) / a0, Math.abs(b1) / w, Math.abs(b2)) || 1
      level *= scale
      const shift = Math.round(Math.log2(Math.abs(level)))
      if (Math.abs(shift) > 300 && Number.isFinite(shift)) {
        level = ldexp(level, -shift)
        exponent += shift
      }
      c = input.map((v) => (v * b2) / scale)
      d = (direct * b2) / scale
      if (size === 1) {
        // x′ = −a0·x + a0·u; (b2·s + b0)/(s + a0) = b2 + (b0 − b2·a0)/a0 · x/u
        this.a.data[at * n + at] -= a0
        put(at, a0)
        c[at] = (b0 - b2 * a0) / a0 / scale
      } else {
        // x₁′ = w·x₂, x₂′ = −w·x₁ − a1·x₂ + w·u
        this.a.data[at * n + at + 1] += w
        this.a.data[(at + 1) * n + at] -= w
        this.a.data[(at + 1) * n + at + 1] -= a1
        put(at + 1, w)
        c[at] = (b0 - b2 * a0) / a0 / scale
        c[at + 1] = (b1 - b2 * a1) / w / scale
      }
      at += size
    }
    this.series = new TaylorStep(this.a, this.b)
    level = ldexp(level, exponent)
    this.c = c.map((v) => v * level)
    this.d = d * level
    this.initial = this.d
    // y′ = c·(A·x + b): a sum over the state, too.
    this.slopes = new Float64Array(n)
    this.slopeOfStep = 0
    for (let i = 0; i < n; i++) {
      this.slopeOfStep += this.c[i] * this.b[i]
      for (let j = 0; j < n; j++) this.slopes[j] += this.c[i] * this.a.data[i * n + j]
    }
  }

  /** y at `points` evenly spaced times from 0 to `stop`, s. */
  sampled(stop: number, points: number): Float64Array {
    const result = new Float64Array(points)
    if (this.isModal) return result.map((_, k) => this.modal((stop * k) / (points - 1)).value)
    const stepper = this.stepper((stop * this.rate) / (points - 1))
    let x: Float64Array = new Float64Array(this.order)
    for (let k = 0; k < points; k++) {
      result[k] = this.output(x)
      x = stepper.step(x)
    }
    return result
  }

  /**
   * The impulse response, 1/s, at `points` evenly spaced times from 0 to `stop`, s: the step response's slope. What
   * the step response jumps by at 0 is a Dirac pulse of that weight there, which the values leave out.
   */
  impulse(stop: number, points: number): Float64Array {
    const stepper = this.isModal ? null : this.stepper((stop * this.rate) / (points - 1))
    let state: Float64Array = new Float64Array(this.order)
    return Float64Array.from({ length: points }, (_, k) => {
      const time = (stop * k) / (points - 1)
      if (!stepper) return this.modal(time).slope
      const { slope } = this.point(time, state)
      state = stepper.step(state)
      return slope
    })
  }

  /**
   * Walks along the response to where everything has decayed, in steps fine enough for every oscillation that is
   * still alive, and hands each step over.
   *
   * @param visit called with the step's start and end; times in s
   * @param final y(∞): the walk ends early where the response stays at it while the time doubles, and, where it is 0, where
   *   the response has fallen to half of its highest
   * @param left asked with the most that the response may still be away from its final value: what is still to be seen of it;
   *   the last stretch where it is away by a limit or more is looked for from its end back
   * @returns false where it rings for so long that the walk was given up
   */
  walk(
    visit: (from: StepPoint, to: StepPoint) => void,
    final: number,
    left?: (away: number) => 'nothing' | 'all' | LastPassage,
  ): boolean {
    const decay = this.slowest
    const fastest = Math.max(...this.poles.map(abs))
    // m equal poles decay like t^(m−1)·e^(−σt): the order lengthens the tail.
    const end = (DECAY + 3 * this.order) / decay
    let from = this.isModal ? this.modal(0) : this.point(0, new Float64Array(this.order))
    let state = from.state.value
    let t = 0
    let largest = 0
    let taken = 0
    let stepper: Stepper | null = null
    for (let octave = OCTAVE_START / fastest; t < end; octave *= 2) {
      const speed = this.speedAt(t)
      // A power of two, so that one length of step follows from another by doubling.
      const steps = 2 ** Math.max(3, Math.ceil(Math.log2((octave * speed * STEPS_PER_PERIOD) / (2 * Math.PI))))
      if ((taken += steps) > MOST_STEPS) return false
      let away = 0
      const arrive = (to: StepPoint) => {
        visit(from, to)
        from = to
        away = Math.max(away, Math.abs(to.value - final))
      }
      const time = (k: number) => (t + (octave * k) / steps) / this.rate
      if (this.modes?.keepsFrom(t)) {
        this.modes.walk(t, octave / steps, steps, (k, value, slope) =>
          arrive({ time: time(k), state: NO_STATE, value, slope: slope * this.rate }),
        )
      } else {
        stepper = this.stepper(octave / steps, stepper)
        // What a stride is made of pays over many of them.
        const stride = Math.min(STRIDE, Math.max(2, steps / 16))
        const ahead = this.ahead(stepper, stride)
        let far = stepper
        for (let length = 1; length < stride; length *= 2) far = far.doubled()
        for (let k = 0; k < steps; k += stride) {
          // The state is known at every stride; between them values and slopes alone are asked for.
          for (let j = 1; j <= stride; j++) {
            const { value, slope } = ahead(j, state)
            arrive({ time: time(k + j), state: new State(state, stepper, j), value, slope })
          }
          state = far.step(state)
        }
      }
      t += octave
      const wanted = (this.modes && left?.(this.modes.away(t))) ?? 'all'
      if (wanted === 'nothing') return true
      if (wanted !== 'all' && this.modes!.keepsFrom(t)) {
        this.walkBack(t, visit, wanted)
        return true
      }
      if (away < AT_REST * Math.abs(final) && t * decay > 1) return true
      largest = Math.max(largest, away)
      // What settles at nothing is read for its highest alone.
      if (final === 0 && away < largest / 2 && t * decay > FADED) return true
    }
    return true
  }

  /** From where the response is within the limit for good back to time t, stretch by stretch, until it has been away. */
  private walkBack(t: number, visit: (from: StepPoint, to: StepPoint) => void, { limit, isFound }: LastPassage): void {
    const modes = this.modes!
    let [near, end] = [t, t]
    for (let ahead = 1 / this.slowest; modes.away(end) > limit; ahead *= 2) [near, end] = [end, end + ahead]
    while (end - near > 0.01 * (end - t)) {
      const middle = (near + end) / 2
      if (modes.away(middle) > limit) near = middle
      else end = middle
    }
    for (let periods = FIRST_PERIODS; end > t && !isFound(); periods *= 2) {
      // What rings fast is over where a slow mode still is on its way: the stretch reaches back by half at the most.
      const half = Math.max(t, end / 2)
      const speed = this.speedAt(half)
      const begin = Math.max(half, end - (2 * Math.PI * periods) / speed)
      const steps = Math.ceil(((end - begin) * speed * STEPS_PER_PERIOD) / (2 * Math.PI))
      const h = (end - begin) / steps
      let from = this.modal(begin / this.rate)
      modes.walk(begin, h, steps, (k, value, slope) => {
        const to = { time: (begin + k * h) / this.rate, state: NO_STATE, value, slope: slope * this.rate }
        visit(from, to)
        from = to
      })
      end = begin
    }
  }

  /** How fast the fastest oscillation is that can still be seen at time t. */
  private speedAt(t: number): number {
    return this.poles.reduce((most, p) => (-p.re * t < INAUDIBLE + this.order ? Math.max(most, abs(p)) : most), 0)
  }

  /** The point at time t, s, reached from an earlier one. */
  advance(from: StepPoint, t: number): StepPoint {
    if (from.state === NO_STATE) return this.modal(t)
    const h = (t - from.time) * this.rate
    const { series } = this
    const near = series.size * Math.abs(h) <= SHORT
    return this.point(t, near ? series.step(from.state.value, h) : this.stepper(h).step(from.state.value))
  }

  /** Values and slopes 1 … `count` steps after a state: rows that are multiplied with it. */
  private ahead(stepper: Stepper, count: number): (j: number, state: Float64Array) => { value: number; slope: number } {
    const n = this.order
    const values: Float64Array[] = []
    const slopes: Float64Array[] = []
    let value: Float64Array = Float64Array.of(...this.c, this.d)
    let slope: Float64Array = Float64Array.of(...this.slopes, this.slopeOfStep)
    for (let j = 0; j < count; j++) {
      values.push((value = stepper.before(value)))
      slopes.push((slope = stepper.before(slope)))
    }
    return (j, state) => {
      const [v, s] = [values[j - 1], slopes[j - 1]]
      let [sum, rise] = [v[n], s[n]]
      for (let i = 0; i < n; i++) {
        sum += v[i] * state[i]
        rise += s[i] * state[i]
      }
      return { value: sum, slope: rise * this.rate }
    }
  }

  /** @param other whose matrix spares the making of this one's where its step is as long, or half as long */
  private stepper(h: number, other: Stepper | null = null): Stepper {
    if (other?.h === h) return other
    return other && 2 * other.h === h ? other.doubled() : Stepper.of(this.a, this.b, this.sections, h)
  }

  private modal(time: number): StepPoint {
    const { value, slope } = this.modes!.at(time * this.rate)
    return { time, state: NO_STATE, value, slope: slope * this.rate }
  }

  private point(time: number, state: Float64Array): StepPoint {
    let slope = this.slopeOfStep
    for (let i = 0; i < this.order; i++) slope += this.slopes[i] * state[i]
    return { time, state: new State(state), value: this.output(state), slope: slope * this.rate }
  }

  private output(x: Float64Array): number {
    let y = this.d
    for (let i = 0; i < this.order; i++) y += this.c[i] * x[i]
    return y
  }
}

/** What is looked for from the end back: when the response was last away from its final value by a limit. */
export interface LastPassage {
  readonly limit: number
  isFound(): boolean
}

export interface StepPoint {
  /** s */
  readonly time: number
  readonly state: State
  readonly value: number
  /** dy/dt, 1/s */
  readonly slope: number
}

/** A state that is some steps after a known one, and is worked out where it is wanted. */
class State {
  constructor(
    private known: Float64Array,
    private readonly stepper: Stepper | null = null,
    private steps = 0,
  ) {}

  get value(): Float64Array {
    for (; this.steps > 0; this.steps--) this.known = this.stepper!.step(this.known)
    return this.known
  }
}

const NO_STATE = new State(new Float64Array(0))

/** Steps from one known state to the next. */
const STRIDE = 16

/** e^−40 is below the rounding of the settled value. */
const DECAY = 40
const OCTAVE_START = 0.05

/** e^−25 of an oscillation needs no fine steps any more. */
const INAUDIBLE = 25

/** Nearer to the final value than this part of it, for as long again as has passed: nothing more will happen. */
const AT_REST = 1e-6
const STEPS_PER_PERIOD = 16

/** Periods that are looked at first on the way back. */
const FIRST_PERIODS = 4

/** Steps of a walk at the most: a mode of Q 20,000 has settled to 1 % by then. */
const MOST_STEPS = 800_000

/** Time constants of the slowest mode after which a response that only falls will not rise again. */
const FADED = 3

/** A time step times the size of A up to which a series of some twenty terms is exact to rounding and loses nothing. */
const SHORT = 2

/** Advances x′ = A·x + b by short times, by the Taylor series of the state; only what is not zero of A is looked at. */
class TaylorStep {
  /** Greatest sum of a row of A. */
  readonly size: number
  private readonly rows: { readonly columns: readonly number[]; readonly values: readonly number[] }[]

  constructor(
    a: Dense,
    private readonly b: Float64Array,
  ) {
    this.rows = Array.from({ length: a.rows }, (_, i) => {
      const columns = Array.from({ length: a.cols }, (_, j) => j).filter((j) => a.data[i * a.cols + j] !== 0)
      return { columns, values: columns.map((j) => a.data[i * a.cols + j]) }
    })
    this.size = Math.max(0, ...this.rows.map(({ values }) => values.reduce((sum, v) => sum + Math.abs(v), 0)))
  }

  step(x: Float64Array, h: number): Float64Array {
    const n = x.length
    const sum = Float64Array.from(x)
    let term = new Float64Array(n)
    let next = new Float64Array(n)
    for (let i = 0; i < n; i++) term[i] = h * (this.row(i, x) + this.b[i])
    for (let k = 2; ; k++) {
      let [largest, most] = [0, 0]
      for (let i = 0; i < n; i++) {
        sum[i] += term[i]
        largest = Math.max(largest, Math.abs(term[i]))
        most = Math.max(most, Math.abs(sum[i]))
      }
      if (largest <= SERIES_END * most) return sum
      for (let i = 0; i < n; i++) next[i] = (h / k) * this.row(i, term)
      ;[term, next] = [next, term]
    }
  }

  private row(i: number, x: Float64Array): number {
    const { columns, values } = this.rows[i]
    let sum = 0
    for (let k = 0; k < columns.length; k++) sum += values[k] * x[columns[k]]
    return sum
  }
}

/** A term below this part of the sum ends the series. */
const SERIES_END = 1e-18

/** Advances x′ = A·x + b by a fixed time, exactly. */
class Stepper {
  private constructor(
    /** The time. */
    readonly h: number,
    /** exp of [A b; 0 0]·h holds both the transition and the response to the constant input. */
    private readonly phi: Dense,
    private readonly blocks: readonly Section[],
  ) {}

  static of(a: Dense, b: Float64Array, blocks: readonly Section[], h: number): Stepper {
    const n = a.rows
    const block = dense(n + 1, n + 1)
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) block.data[i * (n + 1) + j] = a.data[i * n + j] * h
      block.data[i * (n + 1) + n] = b[i] * h
    }
    return new Stepper(
      h,
      matrixExponential(block, (result, part) => writeExponentials(blocks, part * h, result)),
      blocks,
    )
  }

  /** The same by twice the time. */
  doubled(): Stepper {
    const phi = product(this.phi, this.phi)
    writeExponentials(this.blocks, 2 * this.h, phi)
    return new Stepper(2 * this.h, phi, this.blocks)
  }

  /** What a row that is multiplied with the state and 1 becomes where it is multiplied a step earlier. */
  before(row: Float64Array): Float64Array {
    const n = row.length
    const { data } = this.phi
    const result = new Float64Array(n)
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) result[j] += row[i] * data[i * n + j]
    return result
  }

  step(x: Float64Array): Float64Array {
    const n = x.length
    const { data } = this.phi
    const next = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      const row = i * (n + 1)
      let sum = data[row + n]
      // Sections only hear those before them: beyond the own one there is nothing.
      const end = Math.min(n, i + 2)
      for (let j = 0; j < end; j++) sum += data[row + j] * x[j]
      next[i] = sum
    }
    return next
  }
}

/** The diagonal blocks of the exponential, which repeated products would lose. */
function writeExponentials(blocks: readonly Section[], t: number, into: Dense): void {
  let at = 0
  for (const section of blocks) {
    writeExponential(section, t, into, at)
    at += section.size
  }
}

/** e^(M·t) of a section's own matrix M, in closed form, into the diagonal block at `at`. */
function writeExponential(section: Section, t: number, into: Dense, at: number): void {
  const n = into.cols
  const { a0, a1 } = section
  if (section.size === 1) {
    into.data[at * n + at] = Math.exp(-a0 * t)
    return
  }
  // M = [0 w; −w −a1] = σI + N with N² = −ω²·I: e^(Mt) = e^(σt)·(cos ωt · I + sin ωt / ω · N).
  const w = Math.sqrt(a0)
  const sigma = -a1 / 2
  const squared = a0 - sigma * sigma
  const omega = Math.sqrt(Math.abs(squared))
  const grow = Math.exp(sigma * t)
  let cosine = grow * Math.cos(omega * t)
  let sine = omega * t === 0 ? grow * t : (grow * Math.sin(omega * t)) / omega
  if (squared < 0) {
    const [slow, fast] = [Math.exp((sigma + omega) * t), Math.exp((sigma - omega) * t)]
    cosine = (slow + fast) / 2
    sine = (slow - fast) / (2 * omega)
  }
  into.data[at * n + at] = cosine - sigma * sine
  into.data[at * n + at + 1] = w * sine
  into.data[(at + 1) * n + at] = -w * sine
  into.data[(at + 1) * n + at + 1] = cosine + (-a1 - sigma) * sine
}

/** (b2·s² + b1·s + b0)/(s² + a1·s + a0), or (b2·s + b0)/(s + a0) of size 1. */
interface Section {
  size: 1 | 2
  a0: number
  a1: number
  b0: number
  b1: number
  b2: number
}

/** Poles in pairs, each with the nearest zeros that are left; slow sections first. */
function sections(h: TransferFunction): Section[] {
  const pairs = h.poles.filter((p) => p.im > 0)
  const reals = h.poles.filter((p) => p.im === 0).sort((a, b) => b.re - a.re)
  const zeroPairs = h.zeros.filter((z) => z.im > 0)
  const realZeros = h.zeros.filter((z) => z.im === 0)
  // Two real poles make room for a pair of zeros that no complex pair can take.
  const groups: [Complex, Complex | null][] = pairs.map((p) => [p, { re: p.re, im: -p.im }])
  while (reals.length >= 2 && zeroPairs.length > groups.length) groups.push([reals.shift()!, reals.shift()!])
  for (const r of reals) groups.push([r, null])
  groups.sort((a, b) => abs(a[0]) - abs(b[0]))
  return groups.map(([p, q]): Section => {
    if (q === null) {
      const z = realZeros.shift()
      return { size: 1, a0: -p.re, a1: 0, b0: z ? -z.re : 1, b1: 0, b2: z ? 1 : 0 }
    }
    const a0 = p.im === 0 ? p.re * q.re : p.re * p.re + p.im * p.im
    const a1 = -(p.re + q.re)
    const nearest = zeroPairs
      .sort((x, y) => Math.abs(Math.log(abs(x) / abs(p))) - Math.abs(Math.log(abs(y) / abs(p))))
      .shift()
    if (nearest) return { size: 2, a0, a1, b0: nearest.re ** 2 + nearest.im ** 2, b1: -2 * nearest.re, b2: 1 }
    const [y, z] = [realZeros.shift(), realZeros.shift()]
    if (y && z) return { size: 2, a0, a1, b0: y.re * z.re, b1: -(y.re + z.re), b2: 1 }
    if (y) return { size: 2, a0, a1, b0: -y.re, b1: 1, b2: 0 }
    return { size: 2, a0, a1, b0: 1, b1: 0, b2: 0 }
  })
}
