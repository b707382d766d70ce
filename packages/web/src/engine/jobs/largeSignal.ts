import { largeSignalPoints, type LargeSignalPoint } from '@voskel/core'
import { type Job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface LargeSignalQuestion extends DesignQuestion {
  readonly output: string
  /** Of the input, V or A. */
  readonly amplitude: number
  /** Hz */
  readonly frequencies: readonly number[]
}

export interface LargeSignalAnswer {
  readonly points: readonly LargeSignalPoint[]
}

/** The response to a sine of real size, point by point; the answer holds all of them. */
export const largeSignalTopic = topic<LargeSignalQuestion, LargeSignalAnswer>('large-signal', (q) => [
  ...designKey(q),
  q.output,
  q.amplitude,
  ...q.frequencies,
])

export const largeSignalJob: Job<LargeSignalQuestion, LargeSignalAnswer> = {
  topic: largeSignalTopic,
  *run(question) {
    const designed = studyOf(question).designed()
    if (!designed) return { points: [] }
    const points: LargeSignalPoint[] = []
    for (const point of largeSignalPoints(designed.circuit, question)) {
      points.push(point)
      yield { points: [point] }
    }
    return { points }
  },
}
