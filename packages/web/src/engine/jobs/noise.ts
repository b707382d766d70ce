import { naturalFrequenciesOf, type NoiseCurves, noiseCurves, parseSignal, spacedGrid } from '@voskel/core'
import { job, topic } from '../Job'
import { studyOf } from '../study'
import { rangeOf, signalsKey, type SignalsQuestion } from './frequency'

export interface NoiseAnswer {
  readonly signal: string
  readonly curves: NoiseCurves
}

/** Noise of each of some signals over what is seen; null where none is asked for, or without a circuit. */
export const noiseTopic = topic<SignalsQuestion, readonly NoiseAnswer[] | null>('noise', signalsKey)

const POINTS = 161

export const noiseJob = /* @__PURE__ */ job(noiseTopic, (question) => {
  if (question.signals.length === 0) return null
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { from, to } = question.wanted ?? rangeOf(study)
  const grid = spacedGrid(from, to, POINTS)
  const marks = naturalFrequenciesOf(equations.linear, 'small').map((p) => Math.hypot(p.re, p.im) / (2 * Math.PI))
  return question.signals.flatMap((signal): NoiseAnswer[] => {
    const asked = { output: parseSignal(signal), ...(study.input && { input: study.input }) }
    const curves = study.maybe(() => noiseCurves(equations.linear, asked, grid, marks))
    return curves ? [{ signal, curves }] : []
  })
})
