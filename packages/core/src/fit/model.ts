import { inputSource } from '../analysis/elements.js'
import { interpolate } from '../analysis/interpolate.js'
import { formulate } from '../analysis/mna.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { bindSignals } from '../analysis/signals.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { type RunStart, startState } from '../analysis/settledState.js'
import { transient } from '../analysis/transient.js'
import { AdjointModel } from './adjointModel.js'
import type { Samples } from './Samples.js'
import type { VariedCircuit } from './varied.js'

/** What a circuit gives at each sample. */
export interface ModelValues {
  /** Over frequency every real part, then every imaginary one; over time the values. */
  readonly values: Float64Array
  /** Derivatives by each varied number, times its factor; laid out alike. */
  slopes(): readonly Float64Array[]
}

/** A circuit's answer as its varied numbers change. */
export interface Model {
  /** It is a power: 10 dB a decade. */
  readonly isPower: boolean
  /**
   * @param factors what each number's derivative is multiplied by
   * @returns null where the circuit cannot have these numbers
   * @throws VoskelError as the analysis
   */
  at(values: Float64Array, factors: Float64Array): ModelValues | null
  /** Whether what was said at these numbers holds; false where it will be said by another way from now on. */
  confirmed(values: Float64Array): boolean
}

export interface ModelOptions {
  readonly input?: string
  readonly output: string
  /** K */
  readonly temperature?: number
  /** What a run over time begins from; the operating point when left out. */
  readonly start?: RunStart
}

/** The quickest exact model that there is for a circuit and what was measured of it. */
export function modelOf(circuit: VariedCircuit, samples: Samples, options: ModelOptions): Model {
  if (samples.over === 'time') return new CourseModel(circuit, samples.x, options)
  const mna = formulate(circuit.flat, options)
  const [signal] = bindSignals(mna, [options.output], options.input).signals
  // A device's operating point moves with the values; a number that is zero has no relative change.
  if (mna.devices.length > 0 || signal.isSloped || circuit.varied.some((v) => v.value === 0))
    return new DifferencedModel(circuit, samples.x, options, signal.isPower)
  return new AdjointModel(circuit, samples.x, options)
}

/** Relative steps of differences: as large as leaves their square below the noise of what is differenced. */
const AC_STEP = 2 ** -14
const COURSE_STEP = 2 ** -10

/** A model whose slopes are differences on both sides. */
abstract class Differenced implements Model {
  abstract readonly isPower: boolean
  protected abstract readonly step: number
  protected abstract values(values: Float64Array): Float64Array | null

  at(values: Float64Array, factors: Float64Array): ModelValues | null {
    const found = this.values(values)
    return (
      found && { values: found, slopes: () => Array.from(values, (_, k) => this.slope(found, values, k, factors[k])) }
    )
  }

  /** A difference is solved as any other value is. */
  confirmed(): boolean {
    return true
  }

  private slope(here: Float64Array, values: Float64Array, k: number, factor: number): Float64Array {
    const h = this.step * (Math.abs(values[k]) || 1)
    const moved = (by: number) => this.values(values.map((w, j) => (j === k ? w + by : w)))
    const [above, below] = [moved(h), moved(-h)]
    const width = (above ? h : 0) + (below ? h : 0)
    const [a, b] = [above ?? here, below ?? here]
    return a.map((v, i) => (width > 0 ? (factor * (v - b[i])) / width : 0))
  }
}

/** Any circuit over frequency, its operating point found anew each time. */
class DifferencedModel extends Differenced {
  protected readonly step = AC_STEP

  constructor(
    private readonly circuit: VariedCircuit,
    private readonly frequency: Float64Array,
    private readonly options: ModelOptions,
    readonly isPower: boolean,
  ) {
    super()
  }

  protected values(values: Float64Array): Float64Array | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const { input, output } = this.options
    const range = [this.frequency[0], this.frequency.at(-1)!].map((f) => 2 * Math.PI * f)
    const mna = smallSignal(formulate(flat, this.options))
    const { re, im } = new AcAnalysis(mna, { input, output, range: [range[0], range[1]] }).sweep(this.frequency)
    const both = new Float64Array(2 * re.length)
    both.set(re)
    both.set(im, re.length)
    return both
  }
}

/** Accuracy of a run: its noise must stay far below what a step of a difference does. */
const COURSE_TOLERANCE = 1e-6

/** Any circuit over time, in answer to its own sources. */
class CourseModel extends Differenced {
  readonly isPower = false
  protected readonly step = COURSE_STEP

  constructor(
    private readonly circuit: VariedCircuit,
    private readonly time: Float64Array,
    private readonly options: ModelOptions,
  ) {
    super()
    // A circuit that nothing drives has no course to compare with.
    inputSource(formulate(circuit.flat, options), options.input)
  }

  protected values(values: Float64Array): Float64Array | null {
    const flat = this.circuit.at(values)
    if (!flat) return null
    const { output, start } = this.options
    const mna = formulate(flat, this.options)
    const run = transient(mna, {
      stop: this.time.at(-1)!,
      outputs: [output],
      reltol: COURSE_TOLERANCE,
      start: startState(mna, start),
    })
    return interpolate(run, 0, this.time)
  }
}
