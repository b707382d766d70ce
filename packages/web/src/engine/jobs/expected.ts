import { type Expected, Readings, toFailure, type ValueReading, VoskelError } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'

export interface ExpectedQuestion extends DesignQuestion {
  readonly expected?: readonly Expected[]
}

/** What the circuit has for something that was found by hand. */
export interface FoundValue {
  readonly id: string
  readonly value: number | null
  readonly unit: string
  /** Why there is none. */
  readonly failure?: string
}

export interface ReadingQuestion extends DesignQuestion {
  readonly reading: ValueReading
}

/** One thing read off the circuit, before it is promised. */
export const readingTopic = topic<ReadingQuestion, Pick<FoundValue, 'value' | 'unit'>>('reading', (q) => [
  ...designKey(q),
  JSON.stringify(q.reading),
])

export const readingJob = /* @__PURE__ */ job(readingTopic, (question) => {
  const { value, unit } = readingsOf(studyOf(question))!.read(question.reading)
  return { value, unit }
})

/** Everything that was found by hand, read off the circuit. */
export const expectedTopic = topic<ExpectedQuestion, readonly FoundValue[]>('expected', (q) => [
  ...designKey(q),
  q.expected,
])

export const expectedJob = /* @__PURE__ */ job(expectedTopic, (question) => {
  const { expected = [] } = question
  const study = studyOf(question)
  const readings = expected.length > 0 ? readingsOf(study) : null
  if (!readings) return expected.map(({ id }) => ({ id, value: null, unit: '', failure: 'There is no circuit yet.' }))
  return expected.map(({ id, of }): FoundValue => {
    try {
      const { value, unit } = readings.read(of)
      return { id, value, unit }
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      const { message, remedy } = toFailure(error)
      return { id, value: null, unit: '', failure: `${message} ${remedy}` }
    }
  })
})

/** null without a circuit */
function readingsOf(study: Study): Readings | null {
  const equations = study.equations()
  if (!equations) return null
  return new Readings(equations.mna, {
    output: study.output,
    ...(study.input !== undefined && { input: study.input }),
  })
}
