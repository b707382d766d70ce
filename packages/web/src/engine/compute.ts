import {
  AcAnalysis,
  askedSpec,
  checkCircuit,
  type Finding,
  type AcMeasures,
  acMeasures,
  adaptiveSweep,
  idealOf,
  type Circuit,
  type Design,
  designedCircuit,
  evaluate,
  exactTransient,
  followedPhase,
  type Failure,
  type FilterSpec,
  formulate,
  gatherEvidence,
  groupDelay,
  type Ideal,
  inputSource,
  interpolate,
  type FormulaStep,
  formulaSheet,
  ledger,
  magnitudeDb,
  magnitudesDb,
  ofResponse,
  type Mna,
  type Outdated,
  type Patches,
  phase,
  phasesDeg,
  polesAndZeros,
  proposedRange,
  referenceLevel,
  proposedStop,
  proposedWindow,
  smallSignal,
  type StepMeasures,
  stepMeasures,
  StepResponse,
  toFailure,
  transient,
  type TransferFunction,
  uniformTimes,
  usualRange,
  type Waveform,
  waveformKinds,
  type Verdict,
} from '@voskel/core'

/** What is to be computed: what a design says of its response and its circuit. */
export type ComputeRequest = Pick<Design, 'specification' | 'requirements' | 'values' | 'circuit'>

/** A curve over frequency: Hz, dB, degrees, s. */
export interface FrequencyCurve {
  frequency: Float64Array
  db: Float64Array
  phase: Float64Array
  delay: Float64Array
}

/** A curve over time: s, V for a step of 1 V. */
export interface TimeCurve {
  time: Float64Array
  value: Float64Array
}

export interface IdealResult {
  ideal: Ideal
  frequency: FrequencyCurve
  time: TimeCurve
  ac: AcMeasures
  step: StepMeasures
  /** On what the response alone decides, where no circuit is asked for. */
  verdicts: Verdict[]
}

/** A course in time and what causes it: a unit step in a linear circuit, or the input's own waveform. */
export interface DrivenCurve extends TimeCurve {
  readonly source: string
  readonly drive: 'step' | 'waveform'
  /** Name of the waveform. */
  readonly waveform: string
}

/** What follows from poles and zeros. */
export interface RootsResult {
  transfer: TransferFunction
  ac: AcMeasures
  step: StepMeasures
}

/** What can fail by itself: `equations` takes all the others with it. */
export type Piece = 'equations' | 'roots' | 'frequency' | 'time' | 'verdicts'

/** A circuit and what was found of it; each result fails by itself and leaves the others, and the circuit, in view. */
export interface CircuitResult {
  circuit: Circuit
  /** The circuit before anything was said about its parts. */
  base: Circuit
  /** What was said of parts that it does not have. */
  lost: Patches
  /** Where this version computes another circuit than was last shown. */
  outdated: Outdated | null
  /** The circuit's level where the ideal response has 0 dB. */
  referenceDb: number
  roots: RootsResult | null
  frequency: FrequencyCurve | null
  /** At out, from the transient simulation. */
  time: DrivenCurve | null
  verdicts: Verdict[]
  /** Devices whose models do not hold, and with them every result. */
  doubts: string[]
  failures: Partial<Record<Piece, Failure>>
}

/** Each part stands alone: an impossible circuit does not take the ideal curve away. */
export interface ComputeResult {
  ideal: IdealResult | null
  idealFailure: Failure | null
  circuit: CircuitResult | null
  /** Why there is no circuit. */
  circuitFailure: Failure | null
  /** How response and values were found. */
  sheet: FormulaStep[]
  /** What is wrong with the circuit or worth a look, whether or not it can be solved. */
  findings: Finding[]
  range: { from: number; to: number } | null
  window: number | null
  /** ms spent */
  took: number
}

/** Curves of smooth ideal responses need no refinement beyond this. */
const IDEAL_POINTS = 240
const TIME_POINTS = 401
/** A root nearer to the axis than this part of its frequency is looked at as if it lay there. */
const NARROW = 2e-3
/** Where the curve is looked at besides, in widths of each root. */
const AROUND = [-6, -3, -1.5, -0.7, -0.3, 0, 0.3, 0.7, 1.5, 3, 6]
/** Points of a waveform that may hold many periods: below one a pixel, where lines are still drawn from point to point. */
const WAVEFORM_POINTS = 721

/** Everything that the stages show of a design. A pure function of the request; throws nothing that a user can cause. */
export function compute(request: ComputeRequest): ComputeResult {
  const began = performance.now()
  const result: ComputeResult = {
    ideal: null,
    idealFailure: null,
    circuit: null,
    circuitFailure: null,
    sheet: [],
    findings: [],
    range: null,
    window: null,
    took: 0,
  }
  const spec = askedSpec(request)
  try {
    if (spec) {
      const ideal = idealOf(spec)
      const step = stepMeasures(ideal.transfer)
      result.range = proposedRange(ideal.transfer, [...ideal.marks])
      result.window = proposedWindow(ideal.transfer, step)
      result.sheet = formulaSheet(spec, ideal, null)
      result.ideal = {
        ideal,
        frequency: idealFrequency(ideal, result.range),
        time: stepTime(ideal.transfer, result.window),
        ac: acMeasures(ideal.transfer),
        step,
        verdicts: spec.realization ? [] : responseVerdicts(spec, ideal),
      }
    }
  } catch (error) {
    result.idealFailure = toFailure(error)
  }
  try {
    const ideal = result.ideal?.ideal ?? null
    if (spec && ideal) result.circuit = computeCircuit(request, spec, ideal, result)
    else if (!spec) result.circuit = computeCircuit(request, null, null, result)
  } catch (error) {
    result.circuitFailure = toFailure(error)
  }
  result.took = performance.now() - began
  return result
}

function computeCircuit(
  request: ComputeRequest,
  spec: FilterSpec | null,
  ideal: Ideal | null,
  result: ComputeResult,
): CircuitResult | null {
  const designed = designedCircuit(request, ideal ?? undefined)
  if (!designed) return null
  const { circuit, base, lost, outdated, realized } = designed
  if (spec && ideal) result.sheet = formulaSheet(spec, ideal, realized)
  const found: CircuitResult = {
    circuit,
    base,
    lost,
    outdated,
    referenceDb: realized?.referenceDb ?? (spec && ideal ? referenceLevel(spec, ideal) : 0),
    roots: null,
    frequency: null,
    time: null,
    verdicts: [],
    doubts: [],
    failures: {},
  }
  const piece = <T>(name: Piece, step: () => T): T | null => {
    try {
      return step()
    } catch (error) {
      found.failures[name] = toFailure(error)
      return null
    }
  }
  const equations = piece('equations', () => {
    result.findings = checkCircuit(circuit, request.circuit.origin === 'derived')
    const mna = formulate(circuit)
    const linear = smallSignal(mna)
    found.doubts = linear.circuit.warnings.slice(mna.circuit.warnings.length)
    return { mna, linear }
  })
  if (!equations) return found
  const { mna, linear } = equations
  const transfer = piece('roots', () => polesAndZeros(linear, { most: MOST_UNKNOWNS }).transfer)
  const evidence = transfer && spec && ideal ? gatherEvidence(spec, ideal, transfer, circuit, found.referenceDb) : null
  found.roots =
    transfer &&
    piece('roots', () => ({
      transfer,
      ac: evidence?.ac ?? acMeasures(transfer),
      step: evidence?.step ?? stepMeasures(transfer),
    }))
  const range = (result.range ??= transfer ? proposedRange(transfer) : usualRange(linear))
  found.frequency = piece('frequency', () => frequencyCurve(linear, range, transfer))
  result.window ??= found.roots
    ? proposedWindow(found.roots.transfer, found.roots.step)
    : windowOf(found.frequency, range)
  const window = result.window
  found.time = piece('time', () => circuitTime(mna, window, transfer))
  if (found.time) result.window = found.time.time.at(-1)!
  found.verdicts = (evidence && piece('verdicts', () => ledger(evidence))) ?? []
  return found
}

/** Unknowns up to which the interface looks for poles and zeros: beyond, they take seconds. */
const MOST_UNKNOWNS = 120

function frequencyCurve(
  linear: Mna,
  { from, to }: { from: number; to: number },
  transfer: TransferFunction | null,
): FrequencyCurve {
  const ac = new AcAnalysis(linear, { range: [2 * Math.PI * from, 2 * Math.PI * to] })
  const sweep = adaptiveSweep(ac, from, to, transfer ? [...transfer.poles, ...transfer.zeros] : [])
  return {
    frequency: sweep.frequency,
    db: magnitudesDb(sweep),
    phase: phasesDeg(sweep, transfer ?? followedPhase(ac, from)),
    delay: sweep.delay,
  }
}

/** A window without poles: some times the delay at the low end, or what the range says. */
function windowOf(curve: FrequencyCurve | null, { from, to }: { from: number; to: number }): number {
  const delay = curve?.delay[0] ?? 0
  const longest = delay > 0 && Number.isFinite(delay) ? delay : 1 / (2 * Math.PI * Math.sqrt(from * to))
  return Number((WINDOW_DELAYS * longest).toPrecision(1))
}
const WINDOW_DELAYS = 4

/** The simulated response at out to the input's waveform: exact where the circuit is linear, else by steps. */
function circuitTime(mna: Mna, window: number, transfer: TransferFunction | null): DrivenCurve {
  const { name, waveform } = inputSource(mna).element
  const step = { source: name, drive: 'step', waveform: 'Step of 1 V' } as const
  if (!waveform) {
    return { ...step, ...(transfer ? stepTime(transfer, window) : steppedStep(mna, name, window)) }
  }
  const known = transfer ? { input: name, output: 'out', transfer } : undefined
  const isStep = isUnitStep(waveform) && mna.devices.length === 0
  const stop = isStep ? window : ((transfer && proposedStop(mna, 'out')) ?? window)
  const driven = isStep
    ? step
    : ({
        source: name,
        drive: 'waveform',
        waveform: waveformKinds.find((k) => k.kind === waveform.kind)!.name,
      } as const)
  const exact = transfer && exactTransient(mna, { stop, points: TIME_POINTS, outputs: ['out'], known })
  const time = uniformTimes(stop, isStep ? TIME_POINTS : WAVEFORM_POINTS)
  if (exact && isStep) return { ...driven, time, value: exact[0]! }
  const run = transient(mna, { stop, outputs: ['out'] })
  return isStep
    ? { ...driven, time: run.time, value: run.outputs[0]! }
    : { ...driven, time, value: interpolate(run, 0, time) }
}

/** What a unit step on top of a source's bias adds at out, by steps. */
function steppedStep(mna: Mna, source: string, window: number): TimeCurve {
  const elements = mna.circuit.elements.map((e) => {
    if (e.name !== source) return e
    const { bias = 0 } = e.values
    return { ...e, waveform: { kind: 'pulse' as const, low: bias, high: bias + 1, delay: 0, rise: 0, fall: 0 } }
  })
  const { time, outputs } = transient(
    { ...mna, circuit: { ...mna.circuit, elements } },
    { stop: window, outputs: ['out'] },
  )
  const [value] = outputs
  return { time, value: value!.map((v) => v - value![0]!) }
}

/** What the ideal response keeps of all that does not need a circuit. */
function responseVerdicts(spec: FilterSpec, ideal: Ideal): Verdict[] {
  const requirements = spec.requirements?.filter(ofResponse)
  return ledger(gatherEvidence({ ...spec, requirements }, ideal, ideal.transfer, null))
}

function isUnitStep(waveform: Waveform): boolean {
  if (waveform.kind !== 'pulse') return false
  const { low, high, delay, width, period } = waveform
  return low === 0 && high === 1 && delay === 0 && width === undefined && period === undefined
}

function idealFrequency({ transfer, marks: noted }: Ideal, { from, to }: { from: number; to: number }): FrequencyCurve {
  // A sharp root bends the curve within a few of its widths.
  const around = [...transfer.poles, ...transfer.zeros]
    .filter((r) => r.im > 0)
    .flatMap((r) => AROUND.map((widths) => (r.im + widths * Math.max(Math.abs(r.re), NARROW * r.im)) / (2 * Math.PI)))
  const marks = [...noted, ...around]
  const grid = Float64Array.from({ length: IDEAL_POINTS }, (_, k) => from * (to / from) ** (k / (IDEAL_POINTS - 1)))
  const frequency = Float64Array.from([...grid, ...marks.filter((f) => f > from && f < to)]).sort()
  return {
    frequency,
    db: frequency.map((f) => magnitudeDb(transfer, 2 * Math.PI * f)),
    phase: frequency.map((f) => (phase(transfer, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(transfer, 2 * Math.PI * f)),
  }
}

function stepTime(transfer: TransferFunction, window: number): TimeCurve {
  return {
    time: Float64Array.from({ length: TIME_POINTS }, (_, k) => (window * k) / (TIME_POINTS - 1)),
    value: new StepResponse(transfer).sampled(window, TIME_POINTS),
  }
}

/** A response at one frequency: dB, degrees, s. */
export interface ReadOut {
  db: number
  phase: number
  delay: number
  gain: number
}

/** The value of a curve at one frequency, by straight lines in log f: the curve's points are dense enough for them. */
export function readCurve(curve: FrequencyCurve, frequency: number): ReadOut {
  const { frequency: x } = curve
  let [lo, hi] = [0, x.length - 1]
  while (hi - lo > 1) {
    const middle = (lo + hi) >> 1
    if (x[middle]! <= frequency) lo = middle
    else hi = middle
  }
  const share = Math.min(1, Math.max(0, Math.log(frequency / x[lo]!) / Math.log(x[hi]! / x[lo]!)))
  const at = (y: Float64Array) => y[lo]! + share * (y[hi]! - y[lo]!)
  const db = at(curve.db)
  return { db, phase: at(curve.phase), delay: at(curve.delay), gain: 10 ** (db / 20) }
}

/** The circuit's own value at one frequency, for a read-out. */
export function readOut(transfer: TransferFunction, frequency: number): ReadOut {
  const omega = 2 * Math.PI * frequency
  const value = evaluate(transfer, { re: 0, im: omega })
  return {
    db: magnitudeDb(transfer, omega),
    phase: (phase(transfer, omega) * 180) / Math.PI,
    delay: groupDelay(transfer, omega),
    gain: Math.hypot(value.re, value.im),
  }
}
