import {
  acMeasures,
  adaptiveSweeps,
  bindSignals,
  type Failure,
  followedPhase,
  magnitudesDb,
  type Mna,
  parseSignal,
  phasesDeg,
  proposedRange,
  SignalAnalysis,
  toFailure,
  usualRange,
} from '@voskel/core'
import type { FrequencyCurve, Named } from '../curves'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'

/** A question about signals of the circuit, as diagrams ask for them. */
export interface SignalsQuestion extends DesignQuestion {
  readonly signals: readonly string[]
  /** Hz or s that are to be seen; null: where something happens. */
  readonly wanted?: { readonly from: number; readonly to: number } | null
}

export const signalsKey = (question: SignalsQuestion): readonly unknown[] => [
  ...designKey(question),
  question.signals.join('\n'),
  question.wanted?.from,
  question.wanted?.to,
]

/** A curve of one of a circuit's signals. */
export interface SweptCurve extends FrequencyCurve, Named {
  /** 10 dB a decade. */
  readonly isPower: boolean
  /** It is in dB or degrees already. */
  readonly isLevel: boolean
}

export interface FrequencyAnswer {
  /** Hz */
  readonly range: { readonly from: number; readonly to: number }
  readonly curves: readonly SweptCurve[]
  /** Why a signal has none. */
  readonly failures: Readonly<Record<string, Failure>>
}

/** The circuit's signals over the range where something happens, all on one grid; null without a circuit. */
export const frequencyTopic = topic<SignalsQuestion, FrequencyAnswer | null>('frequency', signalsKey)

export const frequencyJob = /* @__PURE__ */ job(frequencyTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { linear } = equations
  const range = question.wanted ?? rangeOf(study)
  const { known, failures } = knownSignals(linear, question.signals, study.input)
  return { range, curves: known.length > 0 ? curvesOf(study, linear, known, range) : [], failures }
})

function curvesOf(
  study: Study,
  linear: Mna,
  signals: readonly string[],
  { from, to }: FrequencyAnswer['range'],
): FrequencyAnswer['curves'] {
  const transfer = study.maybe(study.transfer)
  const analysis = new SignalAnalysis(linear, signals.map(parseSignal), {
    range: [2 * Math.PI * from, 2 * Math.PI * to],
    ...(study.input && { input: study.input }),
  })
  const sweeps = adaptiveSweeps(analysis, from, to, transfer ? [...transfer.poles, ...transfer.zeros] : [])
  return sweeps.map((sweep, k) => {
    const known = signals[k] === study.output && transfer ? transfer : followedPhase(analysis.signal(k), from)
    const db = magnitudesDb(sweep)
    return {
      signal: signals[k]!,
      unit: analysis.units[k]!,
      isPower: analysis.arePowers[k]!,
      isLevel: analysis.areLevels[k]!,
      frequency: sweep.frequency,
      re: sweep.re,
      im: sweep.im,
      // A power has 10 dB a decade.
      db: analysis.arePowers[k] ? db.map((v) => v / 2) : db,
      phase: heard(phasesDeg(sweep, known), db),
      delay: sweep.delay,
    }
  })
}

/** A point that lies so far below both its neighbours is a zero to rounding: it has no phase. */
const NOTHING_DB = 60

function heard(phase: Float64Array, db: Float64Array): Float64Array {
  return phase.map((p, k) => (db[k]! < Math.min(db[k - 1] ?? Infinity, db[k + 1] ?? Infinity) - NOTHING_DB ? NaN : p))
}

/** The signals that these equations have; why the others cannot be had. */
export function knownSignals(
  mna: Mna,
  signals: readonly string[],
  input?: string | null,
): { known: string[]; failures: Record<string, Failure> } {
  const failures: Record<string, Failure> = {}
  const known = signals.filter((text) => {
    try {
      bindSignals(mna, [parseSignal(text)], input)
      return true
    } catch (error) {
      failures[text] = toFailure(error)
      return false
    }
  })
  return { known, failures }
}

/** Of the specification where there is one, so that it stays while values change; else of the circuit. */
export function rangeOf(study: Study): FrequencyAnswer['range'] {
  const ideal = study.maybe(study.ideal)
  if (ideal) return proposedRange(ideal.transfer, [...ideal.marks])
  const transfer = study.maybe(study.transfer)
  if (!transfer) return usualRange(study.equations()!.linear)
  // An amplifier is looked at to where its gain is 1.
  const { gainCrossing } = acMeasures(transfer)
  return proposedRange(transfer, gainCrossing === null ? [] : [gainCrossing])
}
