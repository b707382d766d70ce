import {
  AcAnalysis,
  exactTransient,
  inputSource,
  interpolate,
  type Mna,
  proposedStop,
  proposedWindow,
  stepMeasures,
  StepResponse,
  transient,
  type TransferFunction,
  uniformTimes,
  type Waveform,
  waveformKinds,
} from '@voskel/core'
import type { TimeCurve } from '../curves'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'
import { rangeOf } from './frequency'

/** A course in time and what causes it: a unit step in a linear circuit, or the input's own waveform. */
export interface TimeAnswer extends TimeCurve {
  readonly source: string
  readonly drive: 'step' | 'waveform'
  /** Name of the waveform. */
  readonly waveform: string
}

const POINTS = 401
/** Points of a waveform that may hold many periods: below one a pixel, where lines are still drawn from point to point. */
const WAVEFORM_POINTS = 721
/** Times the delay at the low end that a window without poles is long. */
const WINDOW_DELAYS = 4

/** What the circuit answers at out to its input; null without a circuit. */
export const timeTopic = topic<DesignQuestion, TimeAnswer | null>('time', designKey)

export const timeJob = /* @__PURE__ */ job(timeTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { mna } = equations
  const transfer = study.maybe(study.transfer)
  const window = windowOf(study, transfer)
  const { name, waveform } = inputSource(mna).element
  const step = { source: name, drive: 'step', waveform: 'Step of 1 V' } as const
  if (!waveform) return { ...step, ...(transfer ? stepCurve(transfer, window) : steppedStep(mna, name, window)) }
  return isUnitStep(waveform) && mna.devices.length === 0
    ? { ...step, ...answerToStep(mna, name, transfer, window) }
    : {
        source: name,
        drive: 'waveform',
        waveform: waveformKinds.find((k) => k.kind === waveform.kind)!.name,
        ...answerToWaveform(mna, transfer, window),
      }
})

/** The answer of a response to a unit step. */
export function stepCurve(transfer: TransferFunction, window: number): TimeCurve {
  return { time: uniformTimes(window, POINTS), value: new StepResponse(transfer).sampled(window, POINTS) }
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

/** Exact where the circuit is linear, else by steps. */
function answerToStep(mna: Mna, input: string, transfer: TransferFunction | null, stop: number): TimeCurve {
  const known = transfer ? { input, output: 'out', transfer } : undefined
  const exact = transfer && exactTransient(mna, { stop, points: POINTS, outputs: ['out'], known })
  if (exact) return { time: uniformTimes(stop, POINTS), value: exact[0]! }
  const run = transient(mna, { stop, outputs: ['out'] })
  return { time: run.time, value: run.outputs[0]! }
}

function answerToWaveform(mna: Mna, transfer: TransferFunction | null, window: number): TimeCurve {
  const stop = (transfer && proposedStop(mna, 'out')) ?? window
  const time = uniformTimes(stop, WAVEFORM_POINTS)
  return { time, value: interpolate(transient(mna, { stop, outputs: ['out'] }), 0, time) }
}

/** What a unit step on top of a source's bias adds at out, by steps. */
function steppedStep(mna: Mna, source: string, window: number): TimeCurve {
  const elements = mna.circuit.elements.map((e) => {
    if (e.name !== source) return e
    const { bias = 0 } = e.values
    return { ...e, waveform: { kind: 'pulse' as const, low: bias, high: bias + 1, delay: 0, rise: 0, fall: 0 } }
  })
  const stepping = { ...mna, circuit: { ...mna.circuit, elements } }
  const { time, outputs } = transient(stepping, { stop: window, outputs: ['out'] })
  const [value] = outputs
  return { time, value: value!.map((v) => v - value![0]!) }
}

function isUnitStep(waveform: Waveform): boolean {
  if (waveform.kind !== 'pulse') return false
  const { low, high, delay, width, period } = waveform
  return low === 0 && high === 1 && delay === 0 && width === undefined && period === undefined
}
