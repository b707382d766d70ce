import {
  AcAnalysis,
  exactTransient,
  type Failure,
  inputSource,
  interpolate,
  type Mna,
  parseSignal,
  proposedStop,
  proposedWindow,
  bindSignals,
  stepMeasures,
  StepResponse,
  transient,
  type Transient,
  type TransferFunction,
  uniformTimes,
  type RunStart,
  startState,
  toFailure,
  type TransientOptions,
  type Waveform,
  waveformKind,
  waveformKinds,
} from '@voskel/core'
import type { Named, TimeCurve } from '../curves'
import { job, topic } from '../Job'
import { type Study, studyOf } from '../study'
import { knownSignals, rangeOf, signalsKey, type SignalsQuestion } from './frequency'

/** Courses in time and what causes them: a unit step in a linear circuit, or the input's own waveform. */
export interface TimeAnswer {
  readonly source: string
  readonly drive: 'step' | 'waveform'
  /** Name of the waveform. */
  readonly waveform: string
  /** Hz, of a sine; null of anything else. */
  readonly frequency: number | null
  /** Of a sine: V or A, and degrees that it is ahead of a sine from 0 s on. */
  readonly sine: { readonly amplitude: number; readonly phase: number } | null
  /** Devices bend what the circuit does: the small signals' response does not say it. */
  readonly bends: boolean
  /** s, of what comes again and again; null of anything else. */
  readonly period: number | null
  /** s */
  readonly window: number
  readonly curves: readonly (TimeCurve & Named)[]
  /** Why a signal has none. */
  readonly failures: Readonly<Record<string, Failure>>
  /** A settled run was asked for, and this is one. */
  readonly isSettled: boolean
  /** Why it is not, and the run from rest is shown. */
  readonly unsettled: Failure | null
}

/** Points of a step's answer, and for each period of its fastest ringing, so that crests are drawn as high as they are. */
const LEAST_POINTS = 401
const POINTS_A_PERIOD = 64
const MOST_STEP_POINTS = 20_001
/** Points for each step of a simulation, so that crests between the steps are drawn as high as they are; at least these parts. */
const POINTS_A_STEP = 4
const LEAST_PARTS = 2
const MOST_POINTS = 400_000
/** Times the delay at the low end that a window without poles is long. */
const WINDOW_DELAYS = 4

/** What the circuit's signals answer to its input; null without a circuit. */
export const timeTopic = topic<SignalsQuestion, TimeAnswer | null>('time', signalsKey)

export const timeJob = /* @__PURE__ */ job(timeTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { mna } = equations
  const transfer = study.maybe(study.transfer)
  const { known, failures } = knownSignals(mna, question.signals, null)
  const { name, waveform } = inputSource(mna, study.input).element
  const isStep = !waveform || (isUnitStep(waveform) && mna.devices.length === 0)
  const { wanted } = question
  const window = windowOf(study, transfer)
  const proposed = isStep ? window : ((transfer && proposedStop(mna, study.output)) ?? window)
  const stop = wanted?.to ?? proposed
  const { output } = study
  const { start } = question.study ?? {}
  // A step has nothing that comes again and again.
  const { start: begin, unsettled } = beginOf(mna, isStep && start === 'settled' ? undefined : start)
  const asked = { mna, signals: known, input: name, output, transfer, stop, start: begin }
  const courses = isStep ? (waveform ? answersToStep(asked) : answersToAddedStep(asked)) : answersToWaveform(asked)
  const { signals } = bindSignals(mna, known.map(parseSignal), null)
  return {
    source: name,
    drive: isStep ? ('step' as const) : ('waveform' as const),
    waveform: isStep ? 'Step of 1 V' : waveformKinds.find((k) => k.kind === waveform.kind)!.name,
    frequency: !isStep && waveform.kind === 'sine' ? waveform.frequency : null,
    sine: !isStep && waveform.kind === 'sine' ? { amplitude: waveform.amplitude, phase: waveform.phase } : null,
    bends: mna.devices.length > 0,
    period: isStep ? null : (waveformKind(waveform).period?.(waveform) ?? null),
    window: stop,
    curves: courses.map((course, k) => ({ signal: known[k]!, unit: signals[k]!.unit, ...course })),
    failures,
    isSettled: begin instanceof Float64Array,
    unsettled,
  }
})

/** Where a run begins; where nothing settles, at rest, and why. */
function beginOf(mna: Mna, start: RunStart | undefined): { start: Begin; unsettled: Failure | null } {
  if (start !== 'settled') return { start: start ?? 'op', unsettled: null }
  try {
    return { start: startState(mna, start), unsettled: null }
  } catch (error) {
    const failure = toFailure(error)
    if (failure.code === 'NO_SETTLED_STATE') return { start: 'zero', unsettled: failure }
    throw error
  }
}

type Begin = NonNullable<TransientOptions['start']>

/** The answer of a response to a unit step. */
export function stepCurve(transfer: TransferFunction, window: number): TimeCurve {
  const points = stepPoints(transfer, window)
  return { time: uniformTimes(window, points), value: new StepResponse(transfer).sampled(window, points) }
}

function stepPoints({ poles }: TransferFunction, window: number): number {
  const fastest = poles.reduce((most, p) => Math.max(most, Math.abs(p.im)), 0)
  const wanted = Math.ceil(((window * fastest) / (2 * Math.PI)) * POINTS_A_PERIOD)
  return Math.min(MOST_STEP_POINTS, Math.max(LEAST_POINTS, wanted))
}

/** s: that of the ideal response where there is one, so that it stays while values change; else of the circuit. */
function windowOf(study: Study, transfer: TransferFunction | null): number {
  const response = study.maybe(study.ideal)?.transfer ?? transfer
  if (response) return proposedWindow(response, stepMeasures(response))
  const { from, to } = rangeOf(study)
  const low = new AcAnalysis(study.equations()!.linear, { range: [2 * Math.PI * from, 2 * Math.PI * to] })
  const [delay] = low.sweep(Float64Array.of(from)).delay
  const longest = delay! > 0 && Number.isFinite(delay) ? delay! : 1 / (2 * Math.PI * Math.sqrt(from * to))
  return Number((WINDOW_DELAYS * longest).toPrecision(1))
}

interface Asked {
  readonly mna: Mna
  readonly signals: readonly string[]
  readonly input: string
  readonly output: string
  readonly start: Begin
  readonly transfer: TransferFunction | null
  readonly stop: number
}

const shared = (time: Float64Array, values: readonly Float64Array[]): TimeCurve[] =>
  values.map((value) => ({ time, value }))

/** Exact where the circuit is linear, else by steps. */
function answersToStep({ mna, signals, input, output, transfer, stop, start }: Asked): TimeCurve[] {
  const outputs = signals.map((text) => (text === output ? output : parseSignal(text)))
  const known = transfer ? { input, output, transfer } : undefined
  const points = transfer ? stepPoints(transfer, stop) : LEAST_POINTS
  const exact =
    transfer && !(start instanceof Float64Array) && exactTransient(mna, { stop, points, outputs, known, start })
  if (exact) return shared(uniformTimes(stop, points), exact)
  const run = transient(mna, { stop, outputs, start })
  return shared(run.time, run.outputs)
}

function answersToWaveform({ mna, signals, stop, start }: Asked): TimeCurve[] {
  const run = transient(mna, { stop, outputs: signals.map(parseSignal), start })
  const { time, step } = betweenSteps(run)
  return shared(
    time,
    signals.map((_, k) => {
      const value = interpolate(run, k, time)
      const own = run.outputs[k]!
      // At a jump stand what was and what is.
      return value.map((v, j) => (step[j]! < 0 ? v : own[step[j]!]!))
    }),
  )
}

/** Times of a run's steps and some between them, evenly, and which step each is; −1 between. Jumps stay jumps. */
function betweenSteps({ time, inside }: Transient): { time: Float64Array; step: Int32Array } {
  const wanted = Math.max(LEAST_PARTS, Math.ceil(POINTS_A_STEP / (inside + 1)))
  const each = Math.max(1, Math.min(wanted, Math.floor(MOST_POINTS / time.length)))
  const times: number[] = []
  const steps: number[] = []
  time.forEach((t, k) => {
    times.push(t)
    steps.push(k)
    const width = (time[k + 1] ?? t) - t
    for (let j = 1; j < each && width > 0; j++) {
      times.push(t + (width * j) / each)
      steps.push(-1)
    }
  })
  return { time: Float64Array.from(times), step: Int32Array.from(steps) }
}

/** What a unit step on top of a source's bias adds, by steps; for the output by its roots where they are known. */
function answersToAddedStep({ mna, signals, input, output, transfer, stop, start }: Asked): TimeCurve[] {
  if (start !== 'zero' && transfer && signals.every((text) => text === output))
    return signals.map(() => stepCurve(transfer, stop))
  const elements = mna.circuit.elements.map((e) => {
    if (e.name !== input) return e
    const { bias = 0 } = e.values
    return { ...e, waveform: { kind: 'pulse' as const, low: bias, high: bias + 1, delay: 0, rise: 0, fall: 0 } }
  })
  const stepping = { ...mna, circuit: { ...mna.circuit, elements } }
  const { time, outputs } = transient(stepping, { stop, outputs: signals.map(parseSignal), start })
  return shared(
    time,
    outputs.map((value) => value.map((v) => v - value[0]!)),
  )
}

function isUnitStep(waveform: Waveform): boolean {
  if (waveform.kind !== 'pulse') return false
  const { low, high, delay, width, period } = waveform
  return low === 0 && high === 1 && delay === 0 && width === undefined && period === undefined
}
