import { type AcMeasures, type StepMeasures, type TextbookValue, textbook, type TransferFunction } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** What follows from poles and zeros. */
export interface RootsAnswer {
  readonly transfer: TransferFunction
  readonly ac: AcMeasures
  readonly step: StepMeasures
  /** Measures by the formulas that textbooks have for such a response. */
  readonly textbook: readonly TextbookValue[]
}

/** The circuit's response by its poles and zeros, with its measures; null without a circuit. */
export const rootsTopic = topic<DesignQuestion, RootsAnswer | null>('roots', designKey)

export const rootsJob = /* @__PURE__ */ job(rootsTopic, (question) => {
  const study = studyOf(question)
  if (!study.designed()) return null
  const transfer = study.transfer()!
  const { ac, step } = study.evidence()!
  return { transfer, ac, step, textbook: textbook(transfer, study.equations()!.linear.circuit) }
})
