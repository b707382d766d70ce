import { type AmplifierNeed, amplifierNeed, type BufferCost, bufferCosts, signalDemand } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface AmplifiersAnswer {
  /** Those that only buffer, and what doing without each costs. */
  readonly buffers: readonly BufferCost[]
  /** Where the signal asks too much of them, in sentences. */
  readonly exceeded: readonly string[]
  /** What all have to be; null where nothing can be said of that. */
  readonly need: AmplifierNeed | null
}

/** What a circuit's amplifiers are for, and what they have to be; null without a circuit. */
export const amplifiersTopic = topic<DesignQuestion, AmplifiersAnswer | null>('amplifiers', designKey)

export const amplifiersJob = /* @__PURE__ */ job(amplifiersTopic, (question) => {
  const study = studyOf(question)
  const [designed, spec, ideal] = [study.designed(), study.spec, study.ideal()]
  if (!designed) return null
  const { circuit } = designed
  const promised = spec && ideal ? { spec, ideal } : null
  const asked = { promised, output: study.output, ...(study.input !== undefined && { input: study.input }) }
  const transfer = promised?.ideal.transfer ?? study.maybe(study.transfer)
  return {
    buffers: bufferCosts({
      circuit,
      ...asked,
      requirements: question.requirements ?? [],
      referenceDb: study.referenceDb(),
    }),
    exceeded:
      (spec && transfer && study.maybe(() => signalDemand(spec, circuit, transfer, study.input)?.remarks)) ?? [],
    need: transfer && study.maybe(() => amplifierNeed(circuit, { ...asked, transfer })),
  }
})
