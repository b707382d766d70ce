import { type Expected, Readings, toFailure, VoskelError } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

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

/** Everything that was found by hand, read off the circuit. */
export const expectedTopic = topic<ExpectedQuestion, readonly FoundValue[]>('expected', (q) => [
  ...designKey(q),
  q.expected,
])

export const expectedJob = /* @__PURE__ */ job(expectedTopic, (question) => {
  const { expected = [] } = question
  const study = studyOf(question)
  const equations = expected.length > 0 ? study.equations() : null
  if (!equations) return expected.map(({ id }) => ({ id, value: null, unit: '', failure: 'There is no circuit yet.' }))
  const readings = new Readings(equations.mna, {
    output: study.output,
    ...(study.input !== undefined && { input: study.input }),
  })
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
