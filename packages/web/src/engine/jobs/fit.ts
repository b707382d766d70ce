import { type Fit, fitting, type Samples, ZERO_CELSIUS } from '@voskel/core'
import { type Job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface FitQuestion extends DesignQuestion {
  readonly samples: Samples
  /** The signal that was measured. */
  readonly signal: string
  readonly vary: readonly string[]
  readonly bounds: Readonly<Record<string, readonly [number, number]>>
}

export interface FitAnswer {
  readonly fit: Fit | null
  readonly iterations: number
  readonly rms: number
}

/** Values of the circuit's parts from samples; how far it is meanwhile. */
export const fitTopic = topic<FitQuestion, FitAnswer>('fit', (q) => [
  ...designKey(q),
  q.samples,
  q.signal,
  JSON.stringify([q.vary, q.bounds]),
])

/** ms between two words of progress */
const EVERY = 100

export const fitJob: Job<FitQuestion, FitAnswer> = {
  topic: fitTopic,
  *run(question) {
    const study = studyOf(question)
    const designed = study.designed()
    if (!designed) return { fit: null, iterations: 0, rms: NaN }
    const { temperature, start } = question.study ?? {}
    const run = fitting(designed.circuit, question.samples, {
      vary: question.vary,
      bounds: question.bounds,
      output: question.signal,
      ...(study.input !== undefined && { input: study.input }),
      ...(temperature !== undefined && { temperature: temperature + ZERO_CELSIUS }),
      ...(start && { start }),
    })
    let told = performance.now()
    for (;;) {
      const next = run.next()
      if (next.done) return { fit: next.value, iterations: next.value.iterations, rms: next.value.rms }
      if (performance.now() - told < EVERY) continue
      told = performance.now()
      yield next.value
    }
  },
}
