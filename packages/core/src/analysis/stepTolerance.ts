import type { Mna } from './mna.js'
import type { Leaf } from './signals.js'

/** Local errors add up over the run: each step may err by this part of the wanted accuracy. */
const LOCAL_SHARE = 0.002

/**
 * What stores nothing follows from what does: its errors do not add up, so that it may err by so much more. Of unknowns that is
 * made use of beside devices, whose charges bend.
 */
const FOLLOWING_SHARE = 50

/** An output's course between the ends of steps may miss by this part of the wanted accuracy where it is looked at. */
const COURSE_SHARE = 0.2

/** A quantity far below the largest of its kind is held to this part of that largest. */
const PEAK_FLOOR = 1e-4

/** Of what an output is the sum of, what steps cannot be held to: rounding of equations that are hard to solve. */
const ROUNDING = 1e-10

/** The same where its course is looked at, which is not solved for. */
const COURSE_ROUNDING = 1e-11

/** The same of the largest voltage or current in the circuit. */
const PEAK_ROUNDING = 1e-12

/** V and A below which nothing is asked: rounding of a circuit at rest. */
const LEAST_ALLOWED = 1e-18

/**
 * What a step of a transient may err by: each unknown relative to its peak, so that the whole circuit is right, and each output
 * relative to its own swing, which is what is handed out.
 */
export class StepTolerance {
  /** By unknown: what a step may err by. */
  private readonly allowed: Float64Array
  private readonly peaks: Float64Array
  /** By unknown: between what it has been. */
  private readonly lowest: Float64Array
  private readonly highest: Float64Array
  private readonly isVoltage: Uint8Array
  private readonly least: Float64Array
  private readonly greatest: Float64Array
  /** By output: largest sum of its terms' sizes. */
  private readonly sizes: Float64Array
  private readonly allowedOutput: Float64Array
  /** By output: below this nothing can be asked of it. */
  private readonly rounding: Float64Array
  private readonly outputFollows: Uint8Array
  private readonly bends: boolean
  private readonly local: number
  private readonly course: number
  /** Unknown that missed by most when last asked. */
  worst = 0

  /**
   * @param reltol wanted accuracy
   * @param stored whether charges or fluxes depend on an unknown
   */
  constructor(
    mna: Mna,
    private readonly outputs: readonly Leaf[],
    private readonly stored: Uint8Array,
    reltol: number,
  ) {
    const n = mna.size
    this.local = LOCAL_SHARE * reltol
    this.course = COURSE_SHARE * reltol
    this.bends = mna.devices.length > 0
    this.allowed = new Float64Array(n)
    this.peaks = new Float64Array(n)
    this.lowest = new Float64Array(n).fill(Infinity)
    this.highest = new Float64Array(n).fill(-Infinity)
    this.isVoltage = Uint8Array.from(mna.unknowns, (u) => Number(u.startsWith('v(')))
    this.least = new Float64Array(outputs.length).fill(Infinity)
    this.greatest = new Float64Array(outputs.length).fill(-Infinity)
    this.sizes = new Float64Array(outputs.length)
    this.allowedOutput = new Float64Array(outputs.length)
    this.rounding = new Float64Array(outputs.length)
    this.outputFollows = Uint8Array.from(outputs, ({ probe }) => Number(probe.every(([k]) => !stored[k])))
  }

  /** What follows may err by, relative to its peak. */
  get following(): number {
    return this.local * FOLLOWING_SHARE
  }

  /** Takes note of a solution that stands. */
  noticeSolution(x: Float64Array): void {
    const { peaks, lowest, highest } = this
    for (let k = 0; k < x.length; k++) {
      peaks[k] = Math.max(peaks[k], Math.abs(x[k]))
      lowest[k] = Math.min(lowest[k], x[k])
      highest[k] = Math.max(highest[k], x[k])
    }
  }

  /** How far each unknown has moved about. */
  swings(): Float64Array {
    return this.highest.map((high, k) => Math.max(0, high - this.lowest[k]))
  }

  /** Takes note of an output's value that stands. */
  noticeOutput(output: number, value: number): void {
    if (value < this.least[output]) this.least[output] = value
    if (value > this.greatest[output]) this.greatest[output] = value
  }

  /** Takes note of the sum of the sizes of what an output is made of. */
  noticeSize(output: number, size: number): void {
    if (size > this.sizes[output]) this.sizes[output] = size
  }

  /** Works out what a step that ends at x may err by. */
  allow(x: Float64Array): void {
    const { peaks, isVoltage, allowed, stored, bends } = this
    let peakV = 0
    let peakI = 0
    for (let k = 0; k < x.length; k++) {
      const size = Math.max(peaks[k], Math.abs(x[k]))
      allowed[k] = size
      if (isVoltage[k]) peakV = Math.max(peakV, size)
      else peakI = Math.max(peakI, size)
    }
    const floorV = PEAK_FLOOR * peakV
    const floorI = PEAK_FLOOR * peakI
    for (let k = 0; k < x.length; k++) {
      if (!isVoltage[k] && !stored[k]) {
        // The current of a source or an ideal amplifier can follow the slope of what is stored elsewhere: right behind a
        // jump no shorter step makes it more exact, and nothing hangs on it.
        allowed[k] = Infinity
        continue
      }
      const share = !bends || stored[k] ? this.local : this.following
      allowed[k] = share * Math.max(allowed[k], isVoltage[k] ? floorV : floorI) + LEAST_ALLOWED
    }
    for (let o = 0; o < this.outputs.length; o++) {
      const share = this.outputFollows[o] ? this.following : this.local
      let reach = 0
      for (const [k, g, c] of this.outputs[o].probe) if (c === 0) reach += Math.abs(g) * (isVoltage[k] ? peakV : peakI)
      this.rounding[o] = PEAK_ROUNDING * reach
      this.allowedOutput[o] = Math.max(share * this.swing(o), ROUNDING * this.sizes[o], this.rounding[o])
    }
  }

  /** Largest entry of a difference against what a step may err by; NaN where one is not a number. */
  readonly ratio = (difference: Float64Array): number => {
    const { allowed, outputs } = this
    let ratio = 0
    for (let k = 0; k < allowed.length; k++) {
      const own = Math.abs(difference[k]) / allowed[k]
      if (!(own <= ratio)) {
        ratio = own
        this.worst = k
      }
    }
    for (let o = 0; o < outputs.length; o++) {
      if (!(this.allowedOutput[o] > 0)) continue
      let sum = 0
      for (const [column, g] of outputs[o].probe) if (allowed[column] < Infinity) sum += g * difference[column]
      const own = Math.abs(sum) / this.allowedOutput[o]
      if (!(own <= ratio)) ratio = own
    }
    return ratio
  }

  /** How far an output's course may miss where it is looked at; values of a step that may follow count for its swing. */
  allowedCourse(output: number, step: readonly Float64Array[]): number {
    let [least, greatest] = [this.least[output], this.greatest[output]]
    for (const values of step) {
      least = Math.min(least, values[output])
      greatest = Math.max(greatest, values[output])
    }
    const rounding = Math.max(COURSE_ROUNDING * this.sizes[output], this.rounding[output], LEAST_ALLOWED)
    return Math.max(this.course * (greatest - least), rounding)
  }

  private swing(output: number): number {
    return Math.max(0, this.greatest[output] - this.least[output])
  }
}
