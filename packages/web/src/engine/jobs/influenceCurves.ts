import { parseSignal, sensitivity, spacedGrid } from '@voskel/core'
import { job, topic } from '../Job'
import { studyOf } from '../study'
import { rangeOf, signalsKey, type SignalsQuestion } from './frequency'

/** What one per cent more of each part does to the magnitude of a signal over frequency. */
export interface InfluenceCurves {
  readonly signal: string
  /** Hz */
  readonly frequency: Float64Array
  /** dB, and degrees; the part that does most comes first. */
  readonly parts: readonly { readonly name: string; readonly db: Float64Array; readonly degrees: Float64Array }[]
}

/** Of each of some signals over what is seen; null where none is asked for, or without a circuit. */
export const influenceCurvesTopic = topic<SignalsQuestion, readonly InfluenceCurves[] | null>(
  'influence-curves',
  signalsKey,
)

const POINTS = 201
const DB = 20 / Math.LN10 / 100
const DEGREES = 180 / Math.PI / 100

export const influenceCurvesJob = /* @__PURE__ */ job(influenceCurvesTopic, (question) => {
  if (question.signals.length === 0) return null
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { from, to } = question.wanted ?? rangeOf(study)
  const frequency = spacedGrid(from, to, POINTS)
  return question.signals.flatMap((signal): InfluenceCurves[] => {
    const asked = { output: parseSignal(signal), ...(study.input && { input: study.input }) }
    const found = study.maybe(() => sensitivity(equations.linear, [...frequency], asked))
    if (!found) return []
    const parts = Object.entries(found.components).map(([name, { magnitude, phase }]) => ({
      name,
      db: Float64Array.from(magnitude, (m) => DB * m),
      degrees: Float64Array.from(phase, (p) => DEGREES * p),
    }))
    const most = ({ db }: { db: Float64Array }) =>
      db.reduce((a, b) => (Number.isFinite(b) ? Math.max(a, Math.abs(b)) : a), 0)
    return [{ signal, frequency, parts: parts.sort((a, b) => most(b) - most(a)) }]
  })
})
