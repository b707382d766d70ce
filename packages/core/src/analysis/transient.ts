import { waveformKind } from '../circuit/waveforms/index.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { A, B, B_EMBEDDED, C, GAMMA } from '../numeric/esdirk.js'
import type { Mna } from './mna.js'
import { type Output, parseOutput } from './outputs.js'
import { DeviceSet } from './deviceSet.js'
import { initialValue, operatingPoint } from './operatingPoint.js'
import { RealSystem } from './realSystem.js'

export interface TransientOptions {
  /** s, > 0 */
  stop: number
  /** Nets, differences or currents, as `parseOutput` reads them; impedances have no place in time. */
  outputs: readonly string[]
  /** Wanted accuracy relative to each quantity's peak. */
  reltol?: number
  /** What the circuit starts from: its operating point, or nothing stored at all. */
  start?: 'op' | 'zero'
  /** Called now and then with the part done, 0 … 1; returning true ends the run with what there is. */
  progress?: (part: number) => boolean
}

/** A transient on the steps that it took. */
export interface Transient {
  /** s, ascending; a jump stands as two equal times. */
  readonly time: Float64Array
  /** One array an output, V or A. */
  readonly outputs: readonly Float64Array[]
  /** Indices into `time` at which a smooth stretch begins: nothing is interpolated across them. */
  readonly stretches: readonly number[]
  readonly steps: number
}

const DEFAULT_RELTOL = 1e-4

/** Local errors add up over the run: each step may err by this part of the wanted accuracy. */
const LOCAL_SHARE = 0.002

/**
 * What devices bend without storing anything has no local error: there the curve between the steps is judged, by how well
 * a cubic through four stages meets the fifth; it may miss by this part of the wanted accuracy.
 */
const CURVE_SHARE = 0.2

/** Stages (with the step's begin and end) through which that cubic goes, and the one that it must meet. */
const CURVE_STAGES = [2, 4] as const
const CURVE_TEST = 1
const CURVE_WEIGHTS = lagrange([0, C[CURVE_STAGES[0]], C[CURVE_STAGES[1]], 1], C[CURVE_TEST])

/** Weights of the polynomial through values at `nodes`, at x. */
function lagrange(nodes: readonly number[], x: number): number[] {
  return nodes.map((a) => nodes.reduce((product, b) => (a === b ? product : (product * (x - b)) / (a - b)), 1))
}

/** A quantity far below the largest of its kind is held to this part of that largest. */
const PEAK_FLOOR = 1e-4

/** First step after a jump, as a part of what is left: two backward Euler steps of this length settle what jumps. */
const FIRST_STEP = 1e-9

/** Longest step as a part of the whole run, so that interpolation always has points around it. */
const LONGEST_STEP = 1 / 40

const MAX_STEPS = 5_000_000
const PROGRESS_EVERY = 256
const TIGHTEST_RELTOL = 1e-9
const SAFETY = 0.9
const MIN_GROWTH = 1.2
const MAX_GROWTH = 4
const MAX_SHRINK = 0.2

/** V and A below which nothing is asked: rounding of a circuit at rest. */
const LEAST_ALLOWED = 1e-18

/** A stage's equations are solved to this part of what the step may err by. */
const NEWTON_SHARE = 0.02
const MOST_NEWTON_STEPS = 12

/** Error that stands for a stage without a solution: the step is cut to a fraction. */
const NO_SOLUTION = 1e4

/**
 * The response over time of a circuit, with error-controlled steps. Stored charge and flux are the integrated
 * quantities, so that charge is kept to rounding; sources' jumps and corners are stepped to exactly.
 *
 * Source of the pair of formulas: Kennedy and Carpenter 2003, see numeric/esdirk.ts. Step control: K. Gustafsson,
 * ACM Trans. Math. Softw. 20, 1994, 496–517, in its elementary form.
 *
 * @throws VoskelError `ARGUMENT`, `SINGULAR`, `STEP_TOO_SMALL`, `TOO_MANY_STEPS`
 */
export function transient(mna: Mna, options: TransientOptions): Transient {
  return new TransientRun(mna, options).run()
}

class TransientRun {
  private readonly n: number
  /** Equations, and behind them one row for each capacitive output. */
  private readonly rows: number
  private readonly x: Float64Array
  private readonly next: Float64Array
  /** Stored charge and flux q = C·x by row, and its rate. */
  private readonly q: Float64Array
  private readonly rate: Float64Array
  private readonly nextQ: Float64Array
  private readonly stageRates: readonly Float64Array[]
  private readonly stageBase: Float64Array
  private readonly b: Float64Array
  private readonly work: Float64Array
  private readonly error: Float64Array
  private readonly peaks: Float64Array
  private readonly isVoltage: Uint8Array
  private readonly system: RealSystem
  private readonly tolerance: number
  private readonly longestStep: number
  private readonly probes: readonly LinearOutput[]
  private readonly devices: DeviceSet | null
  private readonly g: Float64Array
  private readonly c: Float64Array
  private readonly guess: Float64Array
  /** The solution before x, and the step between them; 0 at the begin of a stretch. */
  private readonly before: Float64Array
  /** Solutions of the present step's stages. */
  private readonly stages: readonly Float64Array[]
  private lastStep = 0
  private readonly right: Float64Array
  private readonly time: number[] = []
  private readonly samples: readonly number[][]
  private readonly stretches: number[] = []
  private steps = 0
  private factored = Number.NaN
  private worst = 0

  constructor(
    private readonly mna: Mna,
    private readonly options: TransientOptions,
  ) {
    const { stop, outputs, reltol = DEFAULT_RELTOL } = options
    if (!(stop > 0 && Number.isFinite(stop))) {
      throw new VoskelError('ARGUMENT', { problem: 'The stop time must be above 0 s.', fix: 'Give a time such as 1m.' })
    }
    this.probes = outputs.map((text) => linearProbe(mna, text))
    this.samples = outputs.map(() => [])
    this.n = mna.size
    this.rows = mna.size + outputs.length
    const byUnknown = () => new Float64Array(this.n)
    const byRow = () => new Float64Array(this.rows)
    this.x = byUnknown()
    this.next = byUnknown()
    this.error = byUnknown()
    this.peaks = byUnknown()
    this.q = byRow()
    this.rate = byRow()
    this.nextQ = byRow()
    this.stageRates = C.map(byRow)
    this.stageBase = byRow()
    this.b = byRow()
    this.work = byRow()
    this.isVoltage = Uint8Array.from(mna.unknowns, (u) => Number(u.startsWith('v(')))
    this.tolerance = LOCAL_SHARE * Math.max(TIGHTEST_RELTOL, reltol)
    this.longestStep = mna.circuit.elements.reduce(
      (longest, { waveform }) => (waveform ? Math.min(longest, waveformKind(waveform).longestStep(waveform)) : longest),
      stop * LONGEST_STEP,
    )
    this.devices = mna.devices.length > 0 ? new DeviceSet(mna) : null
    this.g = mna.g.slice()
    this.c = mna.c.slice()
    this.guess = byUnknown()
    this.before = byUnknown()
    this.stages = C.map(byUnknown)
    this.right = byUnknown()
    if (options.start === 'zero') for (const [unknown, volts] of mna.circuit.initial) this.x[unknown] = volts
    else this.x.set(operatingPoint(mna, { value: initialValue, held: mna.circuit.initial }).x)
    this.devices?.evaluate(this.x, false)
    this.devices?.linearize(this.g, this.c)
    const pencil = { ...mna, g: this.g, c: this.c }
    this.system = new RealSystem(pencil, [1e2 / stop, 1e6 / stop, 1 / (FIRST_STEP * stop)], 'in a time step')
  }

  run(): Transient {
    const { stop, progress } = this.options
    this.charge(this.x, this.q)
    for (let k = 0; k < this.n; k++) this.peaks[k] = Math.abs(this.x[k])
    let from = 0
    for (const end of this.stretchEnds()) {
      let t = this.settle(from, end)
      let h = t - from
      while (t < end) {
        h = Math.min(h, this.longestStep)
        // The last two steps share what is left, so that none is a sliver.
        const left = end - t
        const trial = h >= left ? left : Math.min(h, left / 2)
        const error = this.attempt(t, trial, from, end)
        if (error <= 1) {
          t = trial === left ? end : t + trial
          this.keep(trial)
          this.record(t)
        } else if (trial < 1e-16 * stop) {
          throw new VoskelError('STEP_TOO_SMALL', { time: t, unknown: this.mna.unknowns[this.worst] })
        }
        const factor = Math.min(MAX_GROWTH, Math.max(MAX_SHRINK, SAFETY * error ** -0.25))
        // Keeping the length keeps the factorisation; a small gain is not worth a new one.
        if (error > 1) h = trial * Math.min(factor, SAFETY)
        else if (factor > MIN_GROWTH || factor < 1) h = trial * factor
        if (++this.steps > MAX_STEPS) throw new VoskelError('TOO_MANY_STEPS', { time: t, steps: this.steps })
        if (this.steps % PROGRESS_EVERY === 0 && progress?.(t / stop)) return this.result()
      }
      from = end
    }
    return this.result()
  }

  /** Corners of the sources inside the window, and its end. */
  private stretchEnds(): number[] {
    const { stop } = this.options
    const corners = new Set<number>()
    for (const { waveform } of this.mna.circuit.elements) {
      if (waveform)
        for (const t of waveformKind(waveform).corners(waveform, stop)) if (t > 0 && t < stop) corners.add(t)
    }
    const sorted = [...corners, stop].sort((a, b) => a - b)
    // Corners that rounding alone sets apart are one.
    return sorted.filter((t, k) => k === sorted.length - 1 || sorted[k + 1] - t > 1e-12 * stop)
  }

  /**
   * Two short backward Euler steps after a jump: the first finds what jumps with it (charge is kept), the second the
   * currents that flow from there on. They are so short that what they find is recorded as the value at the jump.
   *
   * @returns the time reached
   */
  private settle(from: number, end: number): number {
    const h = FIRST_STEP * (end - from)
    const alpha = 1 / h
    this.factor(alpha)
    this.stretches.push(this.time.length)
    this.lastStep = 0
    for (let k = 1; k <= 2; k++) {
      this.sources(from + k * h, from, end)
      for (let r = 0; r < this.n; r++) this.work[r] = alpha * this.q[r] + this.b[r]
      if (!this.solveStage(alpha, this.x))
        throw new VoskelError('STEP_TOO_SMALL', { time: from, unknown: this.mna.unknowns[this.worst] })
      this.charge(this.x, this.nextQ)
      for (let r = 0; r < this.rows; r++) this.rate[r] = alpha * (this.nextQ[r] - this.q[r])
      this.q.set(this.nextQ)
    }
    this.record(from)
    return from + 2 * h
  }

  /** One step of length h from t; returns the local error over the allowed one. `keep` takes it over. */
  private attempt(t: number, h: number, from: number, end: number): number {
    const alpha = 1 / (GAMMA * h)
    this.factor(alpha)
    const { q, work, stageBase, nextQ, stageRates } = this
    stageRates[0].set(this.rate)
    this.next.set(this.x)
    // An attempt that failed has left voltages behind that nothing should be damped towards.
    this.devices?.startFrom(this.x)
    const forward = this.lastStep > 0 ? h / this.lastStep : 0
    for (let stage = 1; stage < C.length; stage++) {
      this.sources(t + C[stage] * h, from, end)
      const weights = A[stage]
      for (let r = 0; r < this.rows; r++) {
        let sum = 0
        for (let k = 0; k < stage; k++) sum += weights[k] * stageRates[k][r]
        stageBase[r] = q[r] + h * sum
        work[r] = alpha * stageBase[r] + this.b[r]
      }
      // Devices want a guess nearby: the last step carried on.
      if (this.devices && forward > 0) {
        for (let k = 0; k < this.n; k++) this.next[k] = this.x[k] + C[stage] * forward * (this.x[k] - this.before[k])
      }
      if (!this.solveStage(alpha, this.next)) return NO_SOLUTION
      if (this.devices) this.stages[stage].set(this.next)
      this.charge(this.next, nextQ)
      const rates = stageRates[stage]
      for (let r = 0; r < this.rows; r++) rates[r] = alpha * (nextQ[r] - stageBase[r])
    }
    for (let r = 0; r < this.n; r++) {
      let sum = 0
      for (let k = 0; k < C.length; k++) sum += (B[k] - B_EMBEDDED[k]) * stageRates[k][r]
      work[r] = alpha * h * sum
    }
    this.system.solve(work, this.error)
    const own = this.errorRatio()
    return this.devices ? Math.max(own, this.curveRatio()) : own
  }

  /**
   * Solves α·q(x) + G·x + i(x) = work for x, which holds a guess: at once where the circuit is linear, else by Newton's
   * method. False where it does not settle.
   */
  private solveStage(alpha: number, x: Float64Array): boolean {
    const { devices, work, guess } = this
    if (!devices) {
      this.system.solve(work, x)
      return true
    }
    let movedBefore = Infinity
    for (let k = 0; k < MOST_NEWTON_STEPS; k++) {
      const damped = devices.evaluate(x, true) >= 0
      this.g.set(this.mna.g)
      this.c.set(this.mna.c)
      devices.linearize(this.g, this.c)
      this.system.factor(alpha)
      this.right.set(work.subarray(0, this.n))
      devices.offset(this.right, alpha)
      guess.set(x)
      this.system.solve(this.right, x)
      const moved = this.ratio(guess, x)
      if (!Number.isFinite(moved)) return false
      // Where rounding is all that still moves, it is below what the step may err by.
      const stalled = k > 1 && moved < 1 && moved > movedBefore / 4
      // Newton's method converges ever faster: what the next step would move is less than this.
      const ahead = k === 0 ? moved : moved * Math.min(1, moved / movedBefore)
      movedBefore = moved
      if ((ahead <= NEWTON_SHARE || stalled) && !damped) {
        devices.evaluate(x, false)
        return true
      }
    }
    return false
  }

  private errorRatio(): number {
    const ratio = this.ratio(null, this.error)
    // What is not a number has overflowed: the step is far too long.
    return Number.isNaN(ratio) ? 1e9 : Math.max(ratio, 1e-9)
  }

  /** How far a cubic through four stages misses the fifth, against what it may. */
  private curveRatio(): number {
    const [w0, w1, w2, w3] = CURVE_WEIGHTS
    const [a, b] = CURVE_STAGES.map((k) => this.stages[k])
    const test = this.stages[CURVE_TEST]
    for (let k = 0; k < this.n; k++) this.guess[k] = w0 * this.x[k] + w1 * a[k] + w2 * b[k] + w3 * this.next[k]
    // Voltages alone: a small current between large ones is only as smooth as their rounding.
    return (this.ratio(this.guess, test, true) * LOCAL_SHARE) / CURVE_SHARE
  }

  /** Largest difference of two solutions against what a step may err by. */
  private ratio(from: Float64Array | null, to: Float64Array, voltagesOnly = false): number {
    const { n, peaks, next, isVoltage } = this
    let peakV = 0
    let peakI = 0
    for (let k = 0; k < n; k++) {
      const size = Math.max(peaks[k], Math.abs(next[k]), from ? Math.abs(to[k]) : 0)
      if (isVoltage[k]) peakV = Math.max(peakV, size)
      else peakI = Math.max(peakI, size)
    }
    const floorV = PEAK_FLOOR * peakV
    const floorI = PEAK_FLOOR * peakI
    let ratio = 0
    for (let k = 0; k < n; k++) {
      if (voltagesOnly && !isVoltage[k]) continue
      const allowed =
        this.tolerance * Math.max(peaks[k], Math.abs(next[k]), isVoltage[k] ? floorV : floorI) + LEAST_ALLOWED
      const own = Math.abs(from ? to[k] - from[k] : to[k]) / allowed
      if (!(own <= ratio)) {
        ratio = own
        this.worst = k
      }
    }
    return ratio
  }

  private keep(h: number): void {
    this.before.set(this.x)
    this.lastStep = h
    this.x.set(this.next)
    this.q.set(this.nextQ)
    this.rate.set(this.stageRates[C.length - 1])
  }

  private record(t: number): void {
    for (let k = 0; k < this.n; k++) this.peaks[k] = Math.max(this.peaks[k], Math.abs(this.x[k]))
    this.time.push(t)
    for (let k = 0; k < this.probes.length; k++) {
      // A capacitor's current is the rate of its charge, integrated along as a row of its own.
      let value = this.rate[this.n + k]
      for (const [column, g] of this.probes[k].probe) value += g * this.x[column]
      const device = this.probed(k)
      if (device) for (const [flow, sign] of device.placed.pinCurrent) value += sign * device.state.current[flow]
      this.samples[k].push(value)
    }
  }

  private probed(k: number) {
    const { device } = this.probes[k]
    return device === undefined ? null : this.devices!.active[device]
  }

  /** Charges and fluxes by row; the devices are evaluated at x. */
  private charge(x: Float64Array, q: Float64Array): void {
    const { rows, cols } = this.mna.pattern
    const { c } = this.mna
    q.fill(0)
    for (let e = 0; e < c.length; e++) q[rows[e]] += c[e] * x[cols[e]]
    this.devices?.addCharges(q)
    for (let k = 0; k < this.probes.length; k++) {
      for (const [column, , cap] of this.probes[k].probe) q[this.n + k] += cap * x[column]
      const device = this.probed(k)
      if (device) for (const [flow, sign] of device.placed.pinCurrent) q[this.n + k] += sign * device.state.charge[flow]
    }
  }

  private sources(t: number, from: number, end: number): void {
    // A waveform's value at its own corner is the one after it; the step that ends there wants the one before.
    const before = Math.min(t, end - Math.max(1e-12 * (end - from), 4 * Number.EPSILON * end))
    this.b.fill(0)
    for (const { row, sign, element } of this.mna.sources)
      this.b[row] += sign * sourceValue(this.mna.circuit.elements[element], before)
  }

  private factor(alpha: number): void {
    // With devices every iteration factors for itself.
    if (this.devices || alpha === this.factored) return
    this.system.factor(alpha)
    this.factored = alpha
  }

  private result(): Transient {
    return {
      time: Float64Array.from(this.time),
      outputs: this.samples.map((s) => Float64Array.from(s)),
      stretches: this.stretches,
      steps: this.steps,
    }
  }
}

function sourceValue(source: FlatElement, t: number): number {
  return source.waveform ? waveformKind(source.waveform).at(source.waveform, t) : source.values.bias
}

type LinearOutput = Extract<Output, { kind: 'linear' }>

function linearProbe(mna: Mna, text: string): LinearOutput {
  const output = parseOutput(mna, text)
  if (output.kind === 'linear') return output
  throw new VoskelError('ARGUMENT', {
    problem: `"${text}" is an impedance, which has no course in time.`,
    fix: 'Ask for a net or a current, for example out or i(R1).',
  })
}

/** Points on both sides of an interpolated time: six in all give order 5, above the order of the steps. */
const NEIGHBOURS = 3

/**
 * One output at given times, by the polynomial through the nearest steps of the same smooth stretch; Newton's divided
 * differences, worked out once for all times between two steps.
 *
 * @param times s, within the run; quickest where they ascend
 */
export function interpolate(run: Transient, output: number, times: Float64Array): Float64Array {
  const { time, stretches } = run
  const values = run.outputs[output]
  const result = new Float64Array(times.length)
  const coefficients = new Float64Array(2 * NEIGHBOURS)
  let step = -1
  let stretch = 0
  let first = 0
  let last = -1
  for (let k = 0; k < times.length; k++) {
    const t = times[k]
    if (step < 0 || t < time[step]) step = lastNotAfter(time, t)
    else while (step + 1 < time.length && time[step + 1] <= t) step++
    if (time[step] === t) {
      result[k] = values[step]
      continue
    }
    while (stretch > 0 && stretches[stretch] > step) stretch--
    while (stretch + 1 < stretches.length && stretches[stretch + 1] <= step) stretch++
    const begin = stretches[stretch]
    const end = (stretches[stretch + 1] ?? time.length) - 1
    const from = Math.max(begin, Math.min(step - NEIGHBOURS + 1, end - 2 * NEIGHBOURS + 1))
    const to = Math.min(end, from + 2 * NEIGHBOURS - 1)
    if (from !== first || to !== last) {
      first = from
      last = to
      dividedDifferences(time, values, first, last, coefficients)
    }
    let y = coefficients[last - first]
    for (let j = last - first - 1; j >= 0; j--) y = y * (t - time[first + j]) + coefficients[j]
    result[k] = y
  }
  return result
}

/** Index of the last time that is not after t; 0 where all are. */
function lastNotAfter(time: Float64Array, t: number): number {
  let lo = 0
  let hi = time.length - 1
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1
    if (time[mid] <= t) lo = mid
    else hi = mid - 1
  }
  return lo
}

/** Coefficients of Newton's form of the polynomial through points first … last. */
function dividedDifferences(x: Float64Array, y: Float64Array, first: number, last: number, into: Float64Array): void {
  for (let k = first; k <= last; k++) into[k - first] = y[k]
  for (let width = 1; width <= last - first; width++) {
    for (let k = last - first; k >= width; k--)
      into[k] = (into[k] - into[k - 1]) / (x[first + k] - x[first + k - width])
  }
}

/** `points` evenly spaced times from 0 to `stop`. */
export function uniformTimes(stop: number, points: number): Float64Array {
  return Float64Array.from({ length: points }, (_, k) => (points === 1 ? 0 : (stop * k) / (points - 1)))
}
