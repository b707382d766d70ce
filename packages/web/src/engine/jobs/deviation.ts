import { deviationFrom, type SampleDeviation, type Samples, toFailure, VoskelError, ZERO_CELSIUS } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** Samples of one of the circuit's signals. */
export interface Measured {
  readonly id: string
  readonly signal: string
  readonly samples: Samples
}

export interface DeviationQuestion extends DesignQuestion {
  readonly measured: readonly Measured[]
}

export type DeviationAnswer = readonly {
  readonly id: string
  readonly signal: string
  readonly deviation: SampleDeviation | null
  /** Why there is none. */
  readonly failure?: string
}[]

/** How far the circuit is from what was measured. */
export const deviationTopic = topic<DeviationQuestion, DeviationAnswer>('deviation', (q) => [
  ...designKey(q),
  ...q.measured.flatMap(({ id, signal, samples }) => [id, signal, samples]),
])

export const deviationJob = /* @__PURE__ */ job(deviationTopic, (question): DeviationAnswer => {
  const study = studyOf(question)
  const designed = study.designed()
  const { temperature, start } = question.study ?? {}
  return question.measured.map(({ id, signal, samples }) => {
    if (!designed) return { id, signal, deviation: null, failure: 'There is no circuit yet.' }
    try {
      const deviation = deviationFrom(designed.circuit, samples, {
        output: signal,
        ...(study.input !== undefined && { input: study.input }),
        ...(temperature !== undefined && { temperature: temperature + ZERO_CELSIUS }),
        ...(start && { start }),
      })
      return { id, signal, deviation }
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      const { message, remedy } = toFailure(error)
      return { id, signal, deviation: null, failure: `${message} ${remedy}` }
    }
  })
})
