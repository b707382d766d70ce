import { bindSignals, parseSignal } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface SignalQuestion extends DesignQuestion {
  readonly signal: string
  readonly over: 'frequency' | 'time'
}

export interface SignalAnswer {
  /** SI; dB and degrees are units as well. */
  readonly unit: string
  readonly isLevel: boolean
}

/** What a signal is in, asked of the circuit at hand; null without one. Fails where the circuit has no such signal. */
export const signalTopic = topic<SignalQuestion, SignalAnswer | null>('signal', (q) => [
  ...designKey(q),
  q.signal,
  q.over,
])

export const signalJob = /* @__PURE__ */ job(signalTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const [mna, input] = question.over === 'time' ? [equations.mna, null] : [equations.linear, study.input]
  const [bound] = bindSignals(mna, [parseSignal(question.signal)], input).signals
  return { unit: bound!.unit, isLevel: bound!.isLevel }
})
