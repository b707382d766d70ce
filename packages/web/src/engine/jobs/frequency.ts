import {
  adaptiveSweep,
  followedPhase,
  magnitudesDb,
  phasesDeg,
  proposedRange,
  SignalAnalysis,
  usualRange,
} from '@voskel/core'
import type { FrequencyCurve } from '../curves'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'

export interface FrequencyAnswer {
  readonly range: { readonly from: number; readonly to: number }
  readonly curve: FrequencyCurve
}

/** The circuit's response at out over the range where something happens; null without a circuit. */
export const frequencyTopic = topic<DesignQuestion, FrequencyAnswer | null>('frequency', designKey)

export const frequencyJob = /* @__PURE__ */ job(frequencyTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const transfer = study.maybe(study.transfer)
  const range = rangeOf(study)
  const { from, to } = range
  const analysis = new SignalAnalysis(equations.linear, ['out'], { range: [2 * Math.PI * from, 2 * Math.PI * to] })
  const out = analysis.signal(0)
  const sweep = adaptiveSweep(out, from, to, transfer ? [...transfer.poles, ...transfer.zeros] : [])
  return {
    range,
    curve: {
      frequency: sweep.frequency,
      db: magnitudesDb(sweep),
      phase: phasesDeg(sweep, transfer ?? followedPhase(out, from)),
      delay: sweep.delay,
    },
  }
})

/** Of the specification where there is one, so that it stays while values change; else of the circuit. */
export function rangeOf(study: Study): FrequencyAnswer['range'] {
  const ideal = study.maybe(study.ideal)
  if (ideal) return proposedRange(ideal.transfer, [...ideal.marks])
  const transfer = study.maybe(study.transfer)
  return transfer ? proposedRange(transfer) : usualRange(study.equations()!.linear)
}
