import { type BufferCost, bufferCosts } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** Amplifiers that only buffer, and what doing without each costs; null without a circuit. */
export const buffersTopic = topic<DesignQuestion, readonly BufferCost[] | null>('buffers', designKey)

export const buffersJob = /* @__PURE__ */ job(buffersTopic, (question) => {
  const study = studyOf(question)
  const [designed, spec, ideal] = [study.designed(), study.spec, study.ideal()]
  if (!designed) return null
  return bufferCosts({
    circuit: designed.circuit,
    promised: spec && ideal ? { spec, ideal } : null,
    requirements: question.requirements ?? [],
    output: study.output,
    ...(study.input !== undefined && { input: study.input }),
    referenceDb: study.referenceDb(),
  })
})
