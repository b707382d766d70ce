import { waveformKind } from '../circuit/waveforms/index.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { A, B, B_EMBEDDED, C, GAMMA, INSIDE } from '../numeric/esdirk.js'
import { GrowableArray } from '../numeric/growable.js'
import { lagrangeWeights } from '../numeric/lagrange.js'
import type { Mna } from './mna.js'

import { bindSignals, type BoundSignal, combinedOverTime, type Leaf, type SignalLike } from './signals.js'
import { DeviceSet } from './deviceSet.js'
import { initialValue, operatingPoint } from './operatingPoint.js'
import { RealSystem } from './realSystem.js'
import { type Entries, entriesWhere, StageNewton } from './stageNewton.js'
import { NODE_OF_STAGE, STAGES_SERVE, StepCourse } from './stepCourse.js'
import { StepTolerance } from './stepTolerance.js'

export interface TransientOptions {
  /** s, > 0 */
  stop: number
  /** As `readOutput` reads them; impedances have no place in time. */
  outputs: readonly SignalLike[]
  /** Wanted accuracy of each output relative to its own swing. */
  reltol?: number
  /** What the circuit starts from: its operating point, nothing stored at all, or unknowns that say what is stored. */
  start?: 'op' | 'zero' | Float64Array
  /** Called now and then with the part done, 0 … 1; returning true ends the run with what there is. */
  progress?: (part: number) => boolean
}

/** A transient on the steps that it took. */
export interface Transient {
  /** s, ascending; a jump stands as two equal times. */
  readonly time: Float64Array
  /** One array an output, in its SI unit. */
  readonly outputs: readonly Float64Array[]
  /** Of outputs that are joined of others how they are: between the steps those are interpolated, and then joined. */
  readonly joined?: readonly (Joined | null)[]
  /** Indices into `time` at which a smooth stretch begins: nothing is interpolated across them. */
  readonly stretches: readonly number[]
  /**
   * Points inside each step, whose course goes through them and the step's ends alone; 0 where it goes through the ends of the
   * steps around as well.
   */
  readonly inside: number
  readonly steps: number
  /** The unknowns at the end, and how far each has moved about. */
  readonly end: Float64Array
  readonly swings: Float64Array
}

/** An output that is made of others by arithmetic. */
export interface Joined {
  readonly parts: readonly Float64Array[]
  join(parts: readonly Float64Array[], time: Float64Array): Float64Array
}

const DEFAULT_RELTOL = 1e-4

/** What the guess for inside a step is drawn through: its begin and stages. */
const INSIDE_THROUGH = [0, 2, 3, 5] as const

/**
 * What each stage's guess is drawn through: stages of the present step (0 is its begin) and, negative, of the one before
 * (−2 is its stage 2; −6 its begin).
 */
const GUESS_THROUGH: readonly (readonly number[])[] = [
  [],
  [0, -4, -2, -6],
  [0, 1, -4, -2],
  [0, 1, 2, -4],
  [0, 1, 2, 3],
  [0, 2, 3, 4],
]

/**
 * First step after a jump, as a part of what is left: two backward Euler steps of this length settle what jumps. No
 * shorter than the tolerance asks: a large capacitance over a very short step leaves nothing but rounding.
 */
const FIRST_STEP = 1e-7
const FIRST_STEP_SHARE = 1e-3

/** First steps are this short against the longest that follow a source: what it does in them is no error of the start. */
const RESTING = 1e-6

/** A jump has no shorter step to fall back on: its iterations go on for longer. */
const JUMP_ITERATIONS = 100

/** Longest step as a part of the whole run, so that interpolation always has points around it. */
const LONGEST_STEP = 1 / 40

/** Towards an end steps shrink to this part of what is left, and of the longest one. */
const LAST_SHARE = 4

/**
 * A waveform's longest step is what interpolation (of order 7) needs at the default tolerance; others stretch it so far,
 * but a period always has some steps.
 */
const STRETCH_POWER = 1 / 8
const MOST_STRETCH = 1.7

/** Where steps would be shorter than this part of the run, there is a jump that no corner foretold. */
const SHORTEST_STEP = 1e-11

/** Roundings of the time that a step's end may be off by. */
const ROUNDINGS = 4

/** Jumps that may follow each other within so many shortest steps. */
const MOST_JUMPS = 8
const FAR_APART = 1000

/** Steps below this part of a stretch, of which so many in a row have not grown. */
const SHORT_STEP = 1e-4
const MOST_ALIKE = 20

const MAX_STEPS = 5_000_000
const PROGRESS_EVERY = 256
const TIGHTEST_RELTOL = 1e-9
const SAFETY = 0.9
const MIN_GROWTH = 1.2
const MAX_GROWTH = 6
const MAX_SHRINK = 0.2

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
  /**
   * What a stage has moved by since the begin of its step: voltages and currents, and charges and fluxes by row. Large
   * charges and short steps would leave nothing but rounding of differences of the whole.
   */
  private readonly moved: Float64Array
  private readonly chargeMoved: Float64Array
  /** Rate of the charges and fluxes by row. */
  private readonly rate: Float64Array
  private readonly stageRates: readonly Float64Array[]
  /** Charge by row that the stages before have brought. */
  private readonly drift: Float64Array
  private readonly b: Float64Array
  private readonly work: Float64Array
  private readonly error: Float64Array
  /** Solves the stages of a linear circuit; of one with devices. */
  private readonly system: RealSystem | null
  private readonly newton: StageNewton | null
  private readonly tolerance: StepTolerance
  private readonly longestStep: number
  private readonly firstStep: number
  /** The shortest of the longest steps that follow the sources. */
  private readonly quickest: number
  private readonly probes: readonly Leaf[]
  private readonly signals: readonly BoundSignal[]
  private readonly devices: DeviceSet | null
  /** Entries that conduct, and those that store charge or flux. */
  private readonly conducting: Entries
  private readonly storing: Entries
  /** Solutions of the stages of the present step and of the one before, whose length is 0 at the begin of a stretch. */
  private stages: readonly Float64Array[]
  private lastStages: readonly Float64Array[]
  private lastStep = 0
  private readonly nodes = new Float64Array(4)
  private readonly weights = new Float64Array(4)
  private readonly time = new GrowableArray()
  private readonly samples: readonly GrowableArray[]
  /** The outputs in the present step: at its stages, and as solved for inside; and that of the two which it goes through. */
  private readonly stageCourse: StepCourse
  private readonly insideCourse: StepCourse
  private course: StepCourse
  /** The outputs where the present step begins. */
  private readonly begin: Float64Array
  /** Rates at a node inside. */
  private readonly innerRate: Float64Array
  private readonly stretches: number[] = []
  private steps = 0
  /** Jumps that lie close together, and when the last one was. */
  private jumps = 0
  private lastJump = -Infinity
  private factored = Number.NaN

  constructor(
    private readonly mna: Mna,
    private readonly options: TransientOptions,
  ) {
    const { stop, outputs, reltol = DEFAULT_RELTOL } = options
    if (!(stop > 0 && Number.isFinite(stop))) {
      throw new VoskelError('ARGUMENT', { problem: 'The stop time must be above 0 s.', fix: 'Give a time such as 1m.' })
    }
    const { leaves, signals } = bindSignals(mna, outputs, null)
    this.probes = leaves
    this.signals = signals
    this.samples = leaves.map(() => new GrowableArray())
    this.stageCourse = StepCourse.ofStages(leaves.length)
    this.insideCourse = StepCourse.ofInside(leaves.length)
    this.course = this.stageCourse
    this.begin = new Float64Array(leaves.length)
    this.n = mna.size
    this.conducting = entriesWhere(mna, (e) => mna.g[e] !== 0)
    this.storing = entriesWhere(mna, (e) => mna.c[e] !== 0)
    this.rows = mna.size + leaves.length
    const byUnknown = () => new Float64Array(this.n)
    const byRow = () => new Float64Array(this.rows)
    this.x = byUnknown()
    this.next = byUnknown()
    this.error = byUnknown()
    this.moved = byUnknown()
    this.chargeMoved = byRow()
    this.rate = byRow()
    this.innerRate = byRow()
    this.stageRates = C.map(byRow)
    this.drift = byRow()
    this.b = byRow()
    this.work = byRow()
    const stored = storedUnknowns(mna)
    this.firstStep = Math.min(FIRST_STEP, FIRST_STEP_SHARE * Math.max(TIGHTEST_RELTOL, reltol))
    this.tolerance = new StepTolerance(mna, leaves, stored, Math.max(TIGHTEST_RELTOL, reltol))
    const stretch = Math.min(MOST_STRETCH, (Math.max(reltol, TIGHTEST_RELTOL) / DEFAULT_RELTOL) ** STRETCH_POWER)
    this.quickest = mna.circuit.elements.reduce(
      (longest, { waveform }) => (waveform ? Math.min(longest, waveformKind(waveform).longestStep(waveform)) : longest),
      Infinity,
    )
    this.longestStep = Math.min(stretch * this.quickest, stop * LONGEST_STEP)
    this.devices = mna.devices.length > 0 ? new DeviceSet(mna) : null
    this.stages = C.map(byUnknown)
    this.lastStages = C.map(byUnknown)
    if (options.start instanceof Float64Array) this.x.set(options.start)
    else if (options.start === 'zero') for (const [unknown, volts] of mna.circuit.initial) this.x[unknown] = volts
    else this.x.set(operatingPoint(mna, { value: initialValue, held: mna.circuit.initial, fromRest: true }).x)
    this.devices?.evaluate(this.x, false)
    this.devices?.holdCharges()
    const alphas = [1e2 / stop, 1e6 / stop, 1 / (this.firstStep * stop)]
    const probesDevices = this.probes.some((p) => p.device !== undefined)
    this.newton = this.devices && new StageNewton(mna, this.devices, alphas, probesDevices)
    this.system = this.devices ? null : new RealSystem(mna, alphas, 'in a time step')
  }

  run(): Transient {
    const { stop, progress } = this.options
    this.tolerance.noticeSolution(this.x)
    if (!(this.options.start instanceof Float64Array)) this.noticeRest()
    let from = 0
    for (const end of this.stretchEnds()) {
      let t = this.settle(from, end)
      let h = t - from
      let alike = 0
      while (t < end) {
        h = Math.min(h, this.longestStep)
        const left = end - t
        const trial = h >= left ? left : Math.min(h, this.shareOf(left))
        const error = this.attempt(t, trial, from, end)
        if (error <= 1) {
          const next = trial === left ? end : t + trial
          this.recordStep(t, next)
          this.keep(trial)
          t = next
        } else if (trial < this.shortestAt(t)) {
          const after = this.jump(t, end)
          h = after - t
          t = after
          continue
        }
        const factor = Math.min(MAX_GROWTH, Math.max(MAX_SHRINK, SAFETY * error ** -0.25))
        // Keeping the length keeps the factorisation; a small gain is not worth a new one.
        if (error > 1) h = trial * Math.min(factor, SAFETY)
        else if (factor > MIN_GROWTH || factor < 1) h = trial * factor
        // Of steps this short the error may be rounding, which longer ones have less of: now and then one is tried.
        alike = error <= 1 && factor < MIN_GROWTH && trial < SHORT_STEP * (end - from) ? alike + 1 : 0
        if (alike > MOST_ALIKE) {
          h = trial * MAX_GROWTH
          alike = 0
        }
        if (++this.steps > MAX_STEPS) throw new VoskelError('TOO_MANY_STEPS', { time: t, steps: this.steps })
        if (this.steps % PROGRESS_EVERY === 0 && progress?.(t / stop)) return this.result()
      }
      from = end
    }
    return this.result()
  }

  /** What an output is at rest belongs to its swing: the current at a gate jumps when a ramp begins at once. */
  private noticeRest(): void {
    this.readOutputs(this.x, this.rate, this.begin)
    this.begin.forEach((value, o) => this.tolerance.noticeOutput(o, value))
  }

  /**
   * No step is short enough where a net jumps that nothing stores a charge on: the run begins anew there, as at a corner.
   * Where that does not help, there is no course to be had.
   *
   * @returns the time reached
   */
  private jump(t: number, end: number): number {
    const far = t - this.lastJump > FAR_APART * this.shortestAt(t)
    this.jumps = far ? 1 : this.jumps + 1
    this.lastJump = t
    if (this.jumps > MOST_JUMPS) throw this.tooSmall(t)
    return this.settle(t, end, Math.min(this.shortestAt(t), (end - t) / 4))
  }

  /**
   * The last two steps share what is left, so that none is a sliver. Where the course goes through several of them, the last
   * ones are shorter: there are none behind them.
   */
  private shareOf(left: number): number {
    if (this.devices) return left / 2
    return Math.min(left / 2, Math.max(left / LAST_SHARE, this.longestStep / LAST_SHARE))
  }

  /** Steps that say something: shorter ones end where rounding of the time itself moves the sources too much. */
  private shortestAt(t: number): number {
    const rounding = (ROUNDINGS * Number.EPSILON * t) / this.tolerance.following
    return Math.max(SHORTEST_STEP * this.options.stop, this.devices ? rounding : ROUNDINGS * Number.EPSILON * t)
  }

  private tooSmall(time: number): VoskelError {
    return new VoskelError('STEP_TOO_SMALL', { time, unknown: this.mna.unknowns[this.tolerance.worst] })
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
   * Three short backward Euler steps after a jump: the first finds what jumps with it (charge is kept), the others the
   * currents that flow from there on. A straight line through these two leads back to the value at the jump.
   *
   * @returns the time reached
   */
  private settle(from: number, end: number, h = this.firstAt(from, end)): number {
    const alpha = 1 / h
    const [jumped, second, third] = this.course.values
    this.stretches.push(this.time.length)
    this.lastStep = 0
    for (let k = 1; k <= 3; k++) {
      this.sources(from + k * h, from, end)
      this.work.set(this.b)
      this.next.set(this.x)
      this.tolerance.allow(this.x)
      if (!this.solveStage(alpha, JUMP_ITERATIONS)) throw this.tooSmall(from)
      this.moveCharges()
      for (let r = 0; r < this.rows; r++) this.rate[r] = alpha * this.chargeMoved[r]
      this.x.set(this.next)
      this.devices?.holdCharges()
      if (k > 1) this.readOutputs(this.x, this.rate, k === 2 ? second : third)
    }
    this.tolerance.noticeSolution(this.x)
    for (let o = 0; o < jumped.length; o++) jumped[o] = 3 * second[o] - 2 * third[o]
    this.recordAt(from, jumped)
    this.begin.set(third)
    return from + 3 * h
  }

  private firstAt(from: number, end: number): number {
    const usual = Math.min(this.firstStep * (end - from), RESTING * this.quickest)
    return Math.min(Math.max(usual, this.shortestAt(from)), (end - from) / 4)
  }

  /** One step of length h from t; returns the local error over the allowed one. `keep` takes it over. */
  private attempt(t: number, h: number, from: number, end: number): number {
    const alpha = 1 / (GAMMA * h)
    const { work, drift, chargeMoved, stageRates } = this
    stageRates[0].set(this.rate)
    this.next.set(this.x)
    this.tolerance.allow(this.x)
    // An attempt that failed has left voltages behind that nothing should be damped towards.
    this.devices?.startFrom(this.x)
    for (let stage = 1; stage < C.length; stage++) {
      this.sources(t + C[stage] * h, from, end)
      const weights = A[stage]
      drift.fill(0)
      for (let k = 0; k < stage; k++) {
        const [factor, before] = [h * weights[k], stageRates[k]]
        if (factor !== 0) for (let r = 0; r < this.rows; r++) drift[r] += factor * before[r]
      }
      for (let r = 0; r < this.rows; r++) work[r] = alpha * drift[r] + this.b[r]
      if (this.devices) this.guess(stage, h)
      if (!this.solveStage(alpha)) return NO_SOLUTION
      if (this.devices) this.stages[stage].set(this.next)
      this.moveCharges()
      const rates = stageRates[stage]
      for (let r = 0; r < this.rows; r++) rates[r] = alpha * (chargeMoved[r] - drift[r])
      if (this.devices) this.readOutputs(this.next, rates, this.stageCourse.values[NODE_OF_STAGE[stage]])
    }
    for (let r = 0; r < this.n; r++) {
      let sum = 0
      for (let k = 0; k < C.length; k++) sum += (B[k] - B_EMBEDDED[k]) * stageRates[k][r]
      work[r] = alpha * h * sum
    }
    if (this.newton) this.newton.solveLinear(work, this.error)
    else this.system!.solve(work, this.error)
    this.tolerance.allow(this.next)
    const own = this.errorRatio()
    return this.devices && own <= 1 ? Math.max(own, this.followCourse(t, h, from, end)) : own
  }

  /** Devices want a guess nearby: a cubic through the stages before. */
  private guess(stage: number, h: number): void {
    const { nodes, weights, next } = this
    const through = GUESS_THROUGH[stage]
    if (this.lastStep === 0 && through[3] < 0) return
    const back = this.lastStep / h
    for (let k = 0; k < 4; k++) {
      const s = through[k]
      nodes[k] = s >= 0 ? C[s] : (s === -6 ? -1 : C[-s] - 1) * back
    }
    lagrangeWeights(nodes, C[stage], weights)
    next.fill(0)
    for (let k = 0; k < 4; k++) {
      const s = through[k]
      const values = s === 0 ? this.x : s > 0 ? this.stages[s] : this.lastStages[s === -6 ? 0 : -s]
      const weight = weights[k]
      for (let r = 0; r < this.n; r++) next[r] += weight * values[r]
    }
  }

  /** Solves α·Δq + G·x + i(x) = work for `next`, which holds a guess, and `moved`; false where it does not settle. */
  private solveStage(alpha: number, most?: number): boolean {
    const { x, next, moved, work } = this
    if (this.newton) return this.newton.solve(alpha, work, x, moved, next, this.tolerance.ratio, most)
    if (alpha !== this.factored) {
      this.system!.factor(alpha)
      this.factored = alpha
    }
    const { rows, cols, g } = this.conducting
    for (let e = 0; e < g.length; e++) work[rows[e]] -= g[e] * x[cols[e]]
    this.system!.solve(work, moved)
    for (let r = 0; r < this.n; r++) next[r] = x[r] + moved[r]
    return true
  }

  private errorRatio(): number {
    const ratio = this.tolerance.ratio(this.error)
    // What is not a number has overflowed: the step is far too long.
    return Number.isNaN(ratio) ? 1e9 : Math.max(ratio, 1e-9)
  }

  /**
   * Finds what the outputs do inside a step whose end has been found.
   *
   * @returns how far their course misses, against what it may
   */
  private followCourse(t: number, h: number, from: number, end: number): number {
    const { stageCourse, insideCourse } = this
    stageCourse.values[0].set(this.begin)
    this.course = stageCourse
    const missed = stageCourse.missed(this.tolerance)
    if (missed <= STAGES_SERVE) return missed
    insideCourse.values[0].set(this.begin)
    insideCourse.values[INSIDE.length + 1].set(stageCourse.values[INSIDE.length + 1])
    this.course = insideCourse
    return this.solveInside(t, h, from, end) ? insideCourse.missed(this.tolerance) : NO_SOLUTION
  }

  private solveInside(t: number, h: number, from: number, end: number): boolean {
    const alpha = 1 / (GAMMA * h)
    const { work, drift, stageRates, innerRate, next } = this
    const devices = this.devices!
    devices.remember()
    let solved = true
    for (let j = 0; solved && j < INSIDE.length; j++) {
      const { at, weights } = INSIDE[j]
      this.sources(t + at * h, from, end)
      drift.fill(0)
      for (let k = 0; k < C.length; k++) {
        const [factor, rates] = [h * weights[k], stageRates[k]]
        for (let r = 0; r < this.rows; r++) drift[r] += factor * rates[r]
      }
      for (let r = 0; r < this.rows; r++) work[r] = alpha * drift[r] + this.b[r]
      this.guessInside(at)
      solved = this.solveStage(alpha)
      if (!solved) break
      this.moveCharges()
      for (let r = 0; r < this.rows; r++) innerRate[r] = alpha * (this.chargeMoved[r] - drift[r])
      this.readOutputs(next, innerRate, this.insideCourse.values[j + 1])
    }
    next.set(this.stages[C.length - 1])
    devices.recall()
    return solved
  }

  private guessInside(at: number): void {
    const { nodes, weights, next } = this
    for (let k = 0; k < 4; k++) nodes[k] = C[INSIDE_THROUGH[k]]
    lagrangeWeights(nodes, at, weights)
    next.fill(0)
    for (let k = 0; k < 4; k++) {
      const values = INSIDE_THROUGH[k] === 0 ? this.x : this.stages[INSIDE_THROUGH[k]]
      for (let r = 0; r < this.n; r++) next[r] += weights[k] * values[r]
    }
  }

  private keep(h: number): void {
    ;[this.stages, this.lastStages] = [this.lastStages, this.stages]
    this.lastStages[0].set(this.x)
    this.lastStep = h
    this.x.set(this.next)
    this.devices?.holdCharges()
    this.rate.set(this.stageRates[C.length - 1])
  }

  /** Takes over what a step has found; before `keep`. */
  private recordStep(from: number, to: number): void {
    const { at, values } = this.course
    const last = at.length - 1
    if (this.devices) for (let k = 1; k < last; k++) this.recordAt(from + at[k] * (to - from), values[k])
    else this.readOutputs(this.next, this.stageRates[C.length - 1], values[last])
    this.recordAt(to, values[last])
    this.begin.set(values[last])
    this.tolerance.noticeSolution(this.next)
  }

  private recordAt(t: number, outputs: Float64Array): void {
    this.time.push(t)
    for (let o = 0; o < outputs.length; o++) {
      this.samples[o].push(outputs[o])
      this.tolerance.noticeOutput(o, outputs[o])
    }
  }

  /** The outputs of a solution whose charges move at a rate; the devices stand there. */
  private readOutputs(x: Float64Array, rate: Float64Array, into: Float64Array): void {
    for (let k = 0; k < this.probes.length; k++) {
      // A capacitor's current is the rate of its charge, integrated along as a row of its own.
      let value = rate[this.n + k]
      let size = Math.abs(value)
      for (const [column, g] of this.probes[k].probe) {
        value += g * x[column]
        size += Math.abs(g * x[column])
      }
      const device = this.probed(k)
      if (device)
        for (const [flow, sign] of device.placed.pinCurrent!) {
          value += sign * device.state.current[flow]
          size += Math.abs(device.state.current[flow])
        }
      into[k] = value
      this.tolerance.noticeSize(k, size)
    }
  }

  private probed(k: number) {
    const { device } = this.probes[k]
    return device === undefined ? null : this.devices!.active[device]
  }

  /** What charges and fluxes have moved by, by row; the devices' charges hold at `next`. */
  private moveCharges(): void {
    const { rows, cols, c } = this.storing
    const { moved, chargeMoved } = this
    chargeMoved.fill(0)
    for (let e = 0; e < c.length; e++) chargeMoved[rows[e]] += c[e] * moved[cols[e]]
    this.devices?.addChargesMoved(chargeMoved)
    for (let k = 0; k < this.probes.length; k++) {
      const row = this.n + k
      for (const [column, , cap] of this.probes[k].probe) chargeMoved[row] += cap * moved[column]
      const { device } = this.probes[k]
      if (device !== undefined) chargeMoved[row] += this.devices!.pinChargeMoved(device)
    }
  }

  private sources(t: number, from: number, end: number): void {
    // A waveform's value at its own corner is the one after it; the step that ends there wants the one before.
    const before = Math.min(t, end - Math.max(1e-12 * (end - from), 4 * Number.EPSILON * end))
    this.b.fill(0)
    for (const { row, sign, element } of this.mna.sources)
      this.b[row] += sign * sourceValue(this.mna.circuit.elements[element], before)
  }

  private result(): Transient {
    const parts = this.samples.map((s) => s.toArray())
    const join = (signal: BoundSignal) => (of: readonly Float64Array[], at: Float64Array) =>
      combinedOverTime(signal, of, at)
    const time = this.time.toArray()
    return {
      time,
      outputs: this.signals.map((signal) => combinedOverTime(signal, parts, time)),
      joined: this.signals.map((s) => (s.leaf === null && !s.isOfCourse ? { parts, join: join(s) } : null)),
      stretches: this.stretches,
      inside: this.devices ? INSIDE.length : 0,
      steps: this.steps,
      end: this.x.slice(),
      swings: this.tolerance.swings(),
    }
  }
}

/** By unknown, 1 where charges or fluxes depend on it. */
export function storedUnknowns(mna: Mna): Uint8Array {
  const stored = new Uint8Array(mna.size)
  mna.pattern.cols.forEach((k, e) => {
    if (mna.c[e] !== 0) stored[k] = 1
  })
  for (const { device, charge } of mna.devices) {
    if (charge.source.length === 0) continue
    for (const k of device.controls.flat()) if (k >= 0) stored[k] = 1
  }
  return stored
}

function sourceValue(source: FlatElement, t: number): number {
  return source.waveform ? waveformKind(source.waveform).at(source.waveform, t) : source.values.bias
}
