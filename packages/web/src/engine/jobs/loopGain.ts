import { LoopGain, type StabilityMargins } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'
import { rangeOf } from './frequency'

export interface LoopGainQuestion extends DesignQuestion {
  /** Name of the voltage source of 0 V that marks the place in the loop. */
  readonly marker: string
}

export interface LoopGainAnswer {
  /** Hz, and the loop gain there. */
  readonly frequency: Float64Array
  readonly re: Float64Array
  readonly im: Float64Array
  readonly margins: StabilityMargins
}

/** The loop gain of a feedback loop with its margins; null without a circuit. */
export const loopGainTopic = topic<LoopGainQuestion, LoopGainAnswer | null>('loop-gain', (q) => [
  ...designKey(q),
  q.marker,
])

export const loopGainJob = /* @__PURE__ */ job(loopGainTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { from, to } = rangeOf(study)
  const loop = new LoopGain(equations.linear, question.marker, [from, to])
  const { frequency, re, im } = loop.sweep()
  return { frequency, re, im, margins: loop.margins() }
})
