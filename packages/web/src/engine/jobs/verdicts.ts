import { ledger, ofResponse, type Verdict } from '@voskel/core'
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
  const evidence = study.evidence()
  const ofIdeal = evidence !== null && evidence.circuit === null
  if (!evidence) return { verdicts: [], ofIdeal }
  if (!ofIdeal) return { verdicts: ledger(evidence), ofIdeal }
  // What only a circuit decides has no verdict yet.
  const spec = { ...evidence.spec, requirements: evidence.spec.requirements?.filter(ofResponse) }
  return { verdicts: ledger({ ...evidence, spec }), ofIdeal }
})
