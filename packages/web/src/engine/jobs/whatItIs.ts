import { type WhatItIs, whatItIs } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** What the circuit is, and what it could promise; null without a circuit. */
export const whatItIsTopic = topic<DesignQuestion, WhatItIs | null>('what-it-is', designKey)

export const whatItIsJob = /* @__PURE__ */ job(whatItIsTopic, (question) => {
  const study = studyOf(question)
  const designed = study.designed()
  if (!designed) return null
  const { temperature } = question.study ?? {}
  return whatItIs(designed.circuit, study.transfer()!, {
    output: study.output,
    ...(study.input !== undefined && { input: study.input }),
    ...(temperature !== undefined && { temperature }),
  })
})
