import { type Seen, whatItSees } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'
import { rangeOf } from './frequency'

export interface SeesQuestion extends DesignQuestion {
  readonly part: string
}

/** The circuit as one of its parts sees it, at the low end of what is shown; null of a part that sees nothing alone. */
export const seesTopic = topic<SeesQuestion, Seen | null>('sees', (q) => [...designKey(q), q.part])

export const seesJob = /* @__PURE__ */ job(seesTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  return equations && whatItSees(equations.linear, question.part, rangeOf(study).from, study.input)
})
