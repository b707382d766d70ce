import { type Influence, influences, ZERO_CELSIUS } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** How each part decides each requirement, by the verdict's id; null without a circuit. */
export const influenceTopic = topic<DesignQuestion, Record<string, Influence[]> | null>('influence', designKey)

export const influenceJob = /* @__PURE__ */ job(influenceTopic, (question) => {
  const study = studyOf(question)
  const designed = study.designed()
  const evidence = designed && study.evidence()
  if (!designed || !evidence) return null
  const { temperature } = question.study ?? {}
  return influences(
    {
      promised: evidence.promised,
      requirements: evidence.requirements,
      circuit: designed.circuit,
      transfer: study.transfer()!,
      equations: study.equations()!.linear,
      whole: study.equations()!.mna,
      output: study.output,
      ...(study.input && { input: study.input }),
      referenceDb: study.referenceDb(),
      lenient: true,
    },
    temperature === undefined ? undefined : temperature + ZERO_CELSIUS,
  )
})
