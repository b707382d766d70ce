import {
  type AcMeasures,
  acMeasures,
  evaluate,
  type FormulaStep,
  formulaSheet,
  groupDelay,
  type Ideal,
  magnitudeDb,
  phase,
  proposedRange,
  proposedWindow,
  type StepMeasures,
  stepMeasures,
} from '@voskel/core'
import type { FrequencyCurve, TimeCurve } from '../curves'
import { job, topic } from '../Job'
import { type DesignQuestion, studyOf } from '../study'
import type { SignalsQuestion } from './frequency'
import { stepCurve } from './time'

export interface IdealAnswer {
  readonly ideal: Ideal
  /** Hz, s */
  readonly range: { readonly from: number; readonly to: number }
  readonly window: number
  readonly frequency: FrequencyCurve
  readonly time: TimeCurve
  readonly ac: AcMeasures
  readonly step: StepMeasures
  /** How the response was found. */
  readonly sheet: readonly FormulaStep[]
}

/** The ideal response of a specification with its curves and measures; null without one. */
export const idealTopic = topic<DesignQuestion & Pick<SignalsQuestion, 'wanted'>, IdealAnswer | null>(
  'ideal',
  ({ specification, requirements, wanted }) => [specification, requirements, wanted?.from, wanted?.to],
)

export const idealJob = /* @__PURE__ */ job(idealTopic, (question) => {
  const study = studyOf(question)
  const [spec, ideal] = [study.spec, study.ideal()]
  if (!spec || !ideal) return null
  const { transfer } = ideal
  const step = stepMeasures(transfer)
  const range = proposedRange(transfer, [...ideal.marks])
  const window = proposedWindow(transfer, step)
  return {
    ideal,
    range,
    window,
    frequency: frequencyCurve(ideal, question.wanted ?? range),
    time: stepCurve(transfer, window),
    ac: acMeasures(transfer),
    step,
    sheet: formulaSheet(spec, ideal, null),
  }
})

/** Curves of smooth ideal responses need no refinement beyond this. */
const POINTS = 240
const PASSBAND_POINTS = 120
/** A root nearer to the axis than this part of its frequency is looked at as if it lay there. */
const NARROW = 2e-3
/** Where the curve is looked at besides, in widths of each root. */
const AROUND = [-6, -3, -1.5, -0.7, -0.3, 0, 0.3, 0.7, 1.5, 3, 6]

function frequencyCurve(
  { transfer, marks: noted, passbands }: Ideal,
  { from, to }: IdealAnswer['range'],
): FrequencyCurve {
  // A sharp root bends the curve within a few of its widths.
  const around = [...transfer.poles, ...transfer.zeros]
    .filter((r) => r.im > 0)
    .flatMap((r) => AROUND.map((widths) => (r.im + widths * Math.max(Math.abs(r.re), NARROW * r.im)) / (2 * Math.PI)))
  // The passband is looked at through a lens.
  const inside = passbands.flatMap(([low, high]) => {
    const [a, b] = [Math.max(from, low), Math.min(to, high)]
    return Array.from({ length: PASSBAND_POINTS }, (_, k) => a * (b / a) ** (k / (PASSBAND_POINTS - 1)))
  })
  const marks = [...noted, ...around, ...inside]
  const grid = Float64Array.from({ length: POINTS }, (_, k) => from * (to / from) ** (k / (POINTS - 1)))
  const frequency = Float64Array.from([...grid, ...marks.filter((f) => f > from && f < to)]).sort()
  const values = Array.from(frequency, (f) => evaluate(transfer, { re: 0, im: 2 * Math.PI * f }))
  return {
    frequency,
    re: Float64Array.from(values, (v) => v.re),
    im: Float64Array.from(values, (v) => v.im),
    db: frequency.map((f) => magnitudeDb(transfer, 2 * Math.PI * f)),
    phase: frequency.map((f) => (phase(transfer, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(transfer, 2 * Math.PI * f)),
  }
}
