import { adaptiveSweep } from '../analysis/adaptiveGrid.js'
import { interpolate } from '../analysis/interpolate.js'
import type { Mna } from '../analysis/mna.js'
import { NoiseAnalysis } from '../analysis/noise.js'
import { operatingPoint } from '../analysis/operatingPoint.js'
import { maybeTransfer, naturalFrequenciesOf, polesAndZeros } from '../analysis/poles.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { bindSignals, readOutput, real } from '../analysis/signals.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { followedPhase, phasesDeg } from '../analysis/sweeps.js'
import { transient } from '../analysis/transient.js'
import { type AcMeasures, acMeasures } from '../measure/acMeasures.js'
import { type StepMeasures, stepMeasures } from '../measure/stepMeasures.js'
import { type Complex, complex } from '../numeric/complex.js'
import { leastBetween } from '../numeric/goldenSection.js'
import { measureOf } from '../specification/requirements/measures.js'
import type { Reads } from './Requirement.js'
import type { ReadAs, ValueReading, Taken } from '../specification/requirements/value.js'

/** A number that was read, its unit, and where it is had. */
export interface Read {
  /** null where there is no such number. */
  readonly value: number | null
  readonly unit: string
  readonly at: number | null
  readonly atUnit: 'Hz' | 's' | null
  /** Size of what the value was made of, in its unit; left out where that is its own. */
  readonly scale?: number
}

/** A measure by its path, from what was measured. */
export function measuredOf(path: string, found: { readonly ac: AcMeasures; readonly step: StepMeasures }): Read {
  const { measure, index } = measureOf(path)!
  const steps = measure.path.replace('[n]', '').split('.')
  const reached = steps.reduce<unknown>((at, step) => (at as Record<string, unknown>)[step], found)
  const value = index === null ? reached : (reached as number[])[index]
  return { value: typeof value === 'number' ? value : null, unit: measure.unit, at: null, atUnit: null }
}

/** Whatever can be read of a circuit. Each piece is worked out once, and when it is asked for. */
export class Readings implements Reads {
  private readonly pieces = new Map<string, unknown>()

  /**
   * @param mna the circuit's equations, with its devices
   * @param study what is its input and its output, where nothing else is said
   */
  constructor(
    private readonly mna: Mna,
    private readonly study: { readonly input?: string; readonly output?: string } = {},
  ) {}

  /** @throws VoskelError of the analysis that it takes; `ARGUMENT` and `SIGNAL_INVALID` for what the circuit does not have */
  read(reading: ValueReading): Read {
    if ('measure' in reading) return this.measure(reading.measure, reading.output ?? this.study.output ?? 'out')
    if ('operatingPoint' in reading) return this.atRest(reading.signal)
    if ('noise' in reading) return this.noise(reading.noise, reading.from, reading.to, reading.level)
    if ('frequency' in reading) return this.atFrequency(reading.signal, reading.frequency, reading.as)
    const { signal, from, to, take, over, as } = reading
    return over === 'frequency'
      ? this.overFrequency(signal, from, to, take, as!)
      : this.overTime(signal, from, to, take)
  }

  private once<T>(key: string, make: () => T): T {
    if (!this.pieces.has(key)) this.pieces.set(key, make())
    return this.pieces.get(key) as T
  }

  private point = () => this.once('point', () => operatingPoint(this.mna))
  private linear = () =>
    this.once('linear', () => (this.mna.devices.length > 0 ? smallSignal(this.mna, this.point()) : this.mna))

  private measure(path: string, output: string): Read {
    const found = this.once(`measures ${output}`, () => {
      const { transfer } = polesAndZeros(this.linear(), { ...this.study, output })
      return { ac: acMeasures(transfer), step: stepMeasures(transfer) }
    })
    return measuredOf(path, found)
  }

  private atRest(text: string): Read {
    // Refused by name where it is nothing of this circuit, and an impedance, which is none at rest.
    const { leaves, signals } = bindSignals(this.mna, [readOutput(this.mna, text)], null)
    const { x, devices } = this.point()
    const own = leaves.map((leaf) => {
      if (leaf.device === undefined) return leaf.probe.reduce((sum, [column, g]) => sum + g * x[column], 0)
      const { placed, state } = devices[leaf.device]
      return placed.pinCurrent!.reduce((sum, [flow, sign]) => sum + sign * state.current[flow], 0)
    })
    const [signal] = signals
    const scale =
      signal.leaf === null ? 0 : leaves[signal.leaf].probe.reduce((sum, [k, g]) => sum + Math.abs(g * x[k]), 0)
    return { value: signal.combine(real, own), unit: signal.unit, at: null, atUnit: null, scale }
  }

  /** The effective value of what a net or a current rustles by in a band, or the dB of a level over it. */
  private noise(text: string, from: number, to: number, level?: number): Read {
    const linear = this.linear()
    const output = readOutput(linear, text)
    const rms = this.once(`noise ${text} ${from} ${to}`, () => {
      const noise = new NoiseAnalysis(linear, { ...this.study, output, range: [from, to] })
      const marks = naturalFrequenciesOf(linear, 'small').map((p) => Math.hypot(p.re, p.im) / (2 * Math.PI))
      return Math.sqrt(noise.power(from, to, marks))
    })
    const [{ unit }] = bindSignals(linear, [output], this.study.input).signals
    return level === undefined
      ? { value: rms, unit, at: null, atUnit: null }
      : { value: 20 * Math.log10(level / rms), unit: 'dB', at: null, atUnit: null }
  }

  private analysis(text: string) {
    return this.once(`ac ${text}`, () => {
      const linear = this.linear()
      const output = readOutput(linear, text)
      const options = { ...this.study, output }
      const [{ unit, isPower }] = bindSignals(linear, [output], this.study.input).signals
      return { ac: new AcAnalysis(linear, options), transfer: maybeTransfer(linear, options), unit, isPower }
    })
  }

  private atFrequency(text: string, frequency: number, as: ReadAs): Read {
    const { ac, unit, isPower } = this.analysis(text)
    const { re, im } = ac.at(complex(0, 2 * Math.PI * frequency))
    const degrees = () => this.phase(text, frequency)
    const value = numberOf({ re, im }, as, isPower, degrees)
    return { value, unit: unitOf(unit, as), at: frequency, atUnit: 'Hz', scale: scaleOf(Math.hypot(re, im), as) }
  }

  /** Unwrapped, as it is counted from DC, degrees. */
  private phase(text: string, frequency: number): number {
    const { ac, transfer } = this.analysis(text)
    return phasesDeg(ac.sweep(Float64Array.of(frequency)), transfer ?? followedPhase(ac, frequency))[0]
  }

  private overFrequency(text: string, from: number, to: number, take: Taken, as: ReadAs): Read {
    const { ac, transfer, unit, isPower } = this.analysis(text)
    const sweep = adaptiveSweep(ac, from, to, transfer ? [...transfer.poles, ...transfer.zeros] : [])
    const phases = as === 'deg' ? phasesDeg(sweep, transfer ?? followedPhase(ac, from)) : null
    const values = Float64Array.from(sweep.frequency, (_, k) =>
      numberOf({ re: sweep.re[k], im: sweep.im[k] }, as, isPower, () => phases![k]),
    )
    const exact = (f: number) => numberOf(ac.at(complex(0, 2 * Math.PI * f)), as, isPower, () => this.phase(text, f))
    const { value, at } = takenOf({ x: sweep.frequency, y: values }, take, exact)
    const largest = sweep.re.reduce((most, re, k) => Math.max(most, Math.hypot(re, sweep.im[k])), 0)
    return { value, unit: unitOf(unit, as), at, atUnit: at === null ? null : 'Hz', scale: scaleOf(largest, as) }
  }

  private overTime(text: string, from: number, to: number, take: Taken): Read {
    const signal = readOutput(this.mna, text)
    const run = this.once(`run ${text} ${to}`, () =>
      transient(this.mna, { stop: to, outputs: [signal], reltol: RELTOL }),
    )
    const { signals } = bindSignals(this.mna, [signal], null)
    const exact = (t: number) => interpolate(run, 0, Float64Array.of(t))[0]
    const x = timesOf(run.time, from, to)
    const y = interpolate(run, 0, x)
    const { value, at } = takenOf({ x, y }, take, exact)
    const scale = y.reduce((most, v) => Math.max(most, Math.abs(v)), 0)
    return { value, unit: signals[0].unit, at, atUnit: at === null ? null : 's', scale }
  }
}

/** Accuracy of a run that numbers are read off, and points between its steps. */
const RELTOL = 1e-6
const BETWEEN = 4

/** Of a time, how long before a jump the value before it is read. */
const JUST_BEFORE = 1e-12

function timesOf(steps: Float64Array, from: number, to: number): Float64Array {
  const times = new Set([from, to])
  steps.forEach((t, k) => {
    const last = steps[k - 1] ?? t
    // At a jump stands what comes after it.
    if (last === t && t * (1 - JUST_BEFORE) > from && t < to) times.add(t * (1 - JUST_BEFORE))
    for (let n = 1; n <= BETWEEN; n++) {
      const at = last + ((t - last) * n) / BETWEEN
      if (at > from && at < to) times.add(at)
    }
  })
  return Float64Array.from(times).sort()
}

const numberOf = (value: Complex, as: ReadAs, isPower: boolean, degrees: () => number): number =>
  as === 'deg' ? degrees() : valueAs(value, as, isPower)

/** A complex value as a number; its phase needs more than one place. */
export function valueAs(value: Complex, as: Exclude<ReadAs, 'deg'>, isPower: boolean): number {
  if (as === 're') return value.re
  if (as === 'im') return value.im
  const size = Math.hypot(value.re, value.im)
  // A power has 10 dB a decade.
  return as === 'abs' ? size : (isPower ? 10 : 20) * Math.log10(size)
}

/** Of a real or imaginary part the whole counts; all else is its own size, or has a scale by its unit. */
const scaleOf = (size: number, as: ReadAs): number => (as === 're' || as === 'im' ? size : 0)

/** A gain has none; a current over the source's one volt is read as a current. */
const unitOf = (unit: string, as: ReadAs): string =>
  as === 'db' ? 'dB' : as === 'deg' ? '°' : unit === 'V' ? '' : unit

/** What is taken of a curve, with every extremum solved between its neighbours; means by Simpson’s rule on each stretch. */
function takenOf(
  { x, y }: { readonly x: Float64Array; readonly y: Float64Array },
  take: Taken,
  exact: (x: number) => number,
): { value: number; at: number | null } {
  if (take === 'mean' || take === 'rms') {
    const of = take === 'mean' ? (v: number) => v : (v: number) => v * v
    let sum = 0
    for (let k = 1; k < x.length; k++)
      sum += ((x[k] - x[k - 1]) / 6) * (of(y[k - 1]) + 4 * of(exact((x[k - 1] + x[k]) / 2)) + of(y[k]))
    const mean = sum / (x.at(-1)! - x[0])
    return { value: take === 'mean' ? mean : Math.sqrt(mean), at: null }
  }
  const end = (sign: 1 | -1) => {
    let k = 0
    for (let n = 1; n < y.length; n++) if (sign * y[n] > sign * y[k]) k = n
    const at = leastBetween((v) => -sign * exact(v), x[Math.max(0, k - 1)], x[Math.min(x.length - 1, k + 1)])
    const value = exact(at)
    return sign * value >= sign * y[k] ? { value, at } : { value: y[k], at: x[k] }
  }
  if (take === 'greatest') return end(1)
  if (take === 'least') return end(-1)
  const [top, bottom] = [end(1), end(-1)]
  return { value: top.value - bottom.value, at: top.at }
}
