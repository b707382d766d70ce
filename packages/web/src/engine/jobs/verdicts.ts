import { ledger, type Verdict } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface VerdictsAnswer {
  readonly verdicts: readonly Verdict[]
  /** They are about the ideal response, since there is no circuit. */
  readonly ofIdeal: boolean
}

/** Whether each requirement is kept: by the circuit, or, where none is asked for, by the ideal response. */
export const verdictsTopic = topic<DesignQuestion, VerdictsAnswer>('verdicts', designKey)

export const verdictsJob = /* @__PURE__ */ job(verdictsTopic, (question) => {
  const study = studyOf(question)
  const ofIdeal = study.designed() === null
  // Where nothing is asked, nothing has to be known.
  const isAsked = study.spec !== null || (question.requirements?.length ?? 0) > 0
  const evidence = isAsked ? study.evidence() : null
  return { verdicts: evidence ? ledger(evidence) : [], ofIdeal }
})
