import {
  AcAnalysis,
  type AcMeasures,
  acMeasures,
  adaptiveSweep,
  approximate,
  type Circuit,
  evaluate,
  exactTransient,
  type Failure,
  type FilterSpec,
  formulate,
  gatherEvidence,
  groupDelay,
  type Ideal,
  inputSource,
  ledger,
  magnitudeDb,
  magnitudesDb,
  type Mna,
  phase,
  phasesDeg,
  polesAndZeros,
  proposedRange,
  proposedWindow,
  realize,
  smallSignal,
  type StepMeasures,
  stepMeasures,
  StepResponse,
  toFailure,
  transient,
  type TransferFunction,
  uniformTimes,
  type ValueChoice,
  type Verdict,
} from '@voskel/core'

/** What is to be computed: a specification, and the circuit if it is already there. */
export interface ComputeRequest {
  specification: FilterSpec | null
  values: ValueChoice
  /** Null asks for the specification's own circuit. */
  circuit: Circuit | null
}

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
}

export interface CircuitResult {
  circuit: Circuit
  /** The circuit's level where the ideal response has 0 dB. */
  referenceDb: number
  transfer: TransferFunction
  frequency: FrequencyCurve
  /** From the transient simulation. */
  time: TimeCurve
  ac: AcMeasures
  step: StepMeasures
  verdicts: Verdict[]
}

/** Each part stands alone: an impossible circuit does not take the ideal curve away. */
export interface ComputeResult {
  ideal: IdealResult | null
  idealFailure: Failure | null
  circuit: CircuitResult | null
  circuitFailure: Failure | null
  range: { from: number; to: number } | null
  window: number | null
  /** ms spent */
  took: number
}

/** Curves of smooth ideal responses need no refinement beyond this. */
const IDEAL_POINTS = 240
const TIME_POINTS = 401

/** Everything that the stages show of a design. A pure function of the request; throws nothing that a user can cause. */
export function compute(request: ComputeRequest): ComputeResult {
  const began = performance.now()
  const result: ComputeResult = {
    ideal: null,
    idealFailure: null,
    circuit: null,
    circuitFailure: null,
    range: null,
    window: null,
    took: 0,
  }
  const { specification: spec } = request
  try {
    if (spec) {
      const ideal = approximate(spec)
      const step = stepMeasures(ideal.transfer)
      result.range = proposedRange(ideal.transfer, [ideal.passbandEdge, ideal.stopbandEdge ?? 0])
      result.window = proposedWindow(ideal.transfer, step)
      result.ideal = {
        ideal,
        frequency: idealFrequency(ideal, result.range),
        time: idealTime(ideal.transfer, result.window),
        ac: acMeasures(ideal.transfer),
        step,
      }
    }
  } catch (error) {
    result.idealFailure = toFailure(error)
  }
  try {
    const ideal = result.ideal?.ideal ?? null
    if (spec && ideal) result.circuit = computeCircuit(request, spec, ideal, result)
    else if (!spec && request.circuit) result.circuit = computeCircuit(request, null, null, result)
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
  if (spec && !spec.realization) return null
  // The reference level follows from the specification, whether or not values were typed over since.
  const made = spec && ideal ? realize(spec, request.values, ideal) : null
  const circuit = request.circuit ?? made?.circuit
  if (!circuit) return null
  const mna = formulate(circuit)
  const linear = smallSignal(mna)
  const { transfer } = polesAndZeros(linear)
  const evidence = spec && ideal ? gatherEvidence(spec, ideal, transfer) : null
  const step = evidence?.step ?? stepMeasures(transfer)
  const range = result.range ?? proposedRange(transfer)
  const window = result.window ?? proposedWindow(transfer, step)
  result.range = range
  result.window = window
  const ac = new AcAnalysis(linear, { range: [2 * Math.PI * range.from, 2 * Math.PI * range.to] })
  const sweep = adaptiveSweep(ac, range.from, range.to, [...transfer.poles, ...transfer.zeros])
  return {
    circuit,
    referenceDb: made?.referenceDb ?? 0,
    transfer,
    frequency: {
      frequency: sweep.frequency,
      db: magnitudesDb(sweep),
      phase: phasesDeg(sweep, transfer),
      delay: sweep.delay,
    },
    time: circuitTime(mna, window, transfer),
    ac: evidence?.ac ?? acMeasures(transfer),
    step,
    verdicts: evidence ? ledger(evidence) : [],
  }
}

/** The simulated response at out: exact where the circuit is linear, else by steps. */
function circuitTime(mna: Mna, window: number, transfer: TransferFunction): TimeCurve {
  const known = { input: inputSource(mna).element.name, output: 'out', transfer }
  const exact = exactTransient(mna, { stop: window, points: TIME_POINTS, outputs: ['out'], known })
  if (exact) return { time: uniformTimes(window, TIME_POINTS), value: exact[0]! }
  const run = transient(mna, { stop: window, outputs: ['out'] })
  return { time: run.time, value: run.outputs[0]! }
}

function idealFrequency(
  { transfer, passbandEdge, stopbandEdge }: Ideal,
  { from, to }: { from: number; to: number },
): FrequencyCurve {
  const marks = [
    passbandEdge,
    stopbandEdge ?? 0,
    ...[...transfer.poles, ...transfer.zeros].map((r) => Math.abs(r.im) / (2 * Math.PI)),
  ]
  const grid = Float64Array.from({ length: IDEAL_POINTS }, (_, k) => from * (to / from) ** (k / (IDEAL_POINTS - 1)))
  const frequency = Float64Array.from([...grid, ...marks.filter((f) => f > from && f < to)]).sort()
  return {
    frequency,
    db: frequency.map((f) => magnitudeDb(transfer, 2 * Math.PI * f)),
    phase: frequency.map((f) => (phase(transfer, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(transfer, 2 * Math.PI * f)),
  }
}

function idealTime(transfer: TransferFunction, window: number): TimeCurve {
  return {
    time: Float64Array.from({ length: TIME_POINTS }, (_, k) => (window * k) / (TIME_POINTS - 1)),
    value: new StepResponse(transfer).sampled(window, TIME_POINTS),
  }
}

/** The circuit's own value at one frequency, for a read-out: dB and degrees. */
export function readOut(
  transfer: TransferFunction,
  frequency: number,
): { db: number; phase: number; delay: number; gain: number } {
  const omega = 2 * Math.PI * frequency
  const value = evaluate(transfer, { re: 0, im: omega })
  return {
    db: magnitudeDb(transfer, omega),
    phase: (phase(transfer, omega) * 180) / Math.PI,
    delay: groupDelay(transfer, omega),
    gain: Math.hypot(value.re, value.im),
  }
}
