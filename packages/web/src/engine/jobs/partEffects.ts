import { parseSignal, poleSensitivities, sensitivity } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface PartEffectsQuestion extends DesignQuestion {
  /** A curve at a frequency, Hz, by a name. */
  readonly places: readonly { readonly name: string; readonly signal: string; readonly frequency: number }[]
}

/** What one per cent more of a part does. */
export interface PartEffect {
  readonly part: string
  readonly db: number
  readonly degrees: number
}

export interface PartEffectsAnswer {
  /** At each place, the greatest first. */
  readonly places: readonly { readonly name: string; readonly effects: readonly PartEffect[] }[]
  /** Of each pair of poles, and each real one: how ω₀ and Q follow each part, per cent per cent. */
  readonly pairs: readonly {
    /** Hz */
    readonly frequency: number
    readonly q: number
    readonly parts: readonly { readonly part: string; readonly w0: number; readonly q: number }[]
  }[]
}

/** What each part does to curves at cursors, and to the poles of the output; null without a circuit. */
export const partEffectsTopic = topic<PartEffectsQuestion, PartEffectsAnswer | null>('part-effects', (q) => [
  ...designKey(q),
  JSON.stringify(q.places),
])

const DB = 20 / Math.LN10 / 100
const DEGREES = 180 / Math.PI / 100
/** Below this a value does nothing. */
const NOTHING = 1e-9

export const partEffectsJob = /* @__PURE__ */ job(partEffectsTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return null
  const { linear } = equations
  const places = question.places.map(({ name, signal, frequency }) => {
    const asked = { output: parseSignal(signal), ...(study.input && { input: study.input }) }
    const found = study.maybe(() => sensitivity(linear, [frequency], asked))
    const effects = Object.entries(found?.components ?? {}).map(([part, { magnitude, phase }]) => ({
      part,
      db: DB * magnitude[0]!,
      degrees: DEGREES * phase[0]!,
    }))
    const size = ({ db, degrees }: PartEffect) => Math.hypot(db / DB, degrees / DEGREES)
    return { name, effects: effects.filter((e) => size(e) > NOTHING).sort((a, b) => size(b) - size(a)) }
  })
  const transfer = study.maybe(study.transfer)
  const own = transfer?.poles.filter((p) => p.im >= 0) ?? []
  const pairs = (study.maybe(() => poleSensitivities(linear, own, transfer?.poles)) ?? []).flatMap((found) => {
    if (!found) return []
    const parts = Object.entries(found.components).map(([part, s]) => ({ part, ...s }))
    const size = (s: { w0: number; q: number }) => Math.hypot(s.w0, Number.isFinite(s.q) ? s.q : 0)
    return [
      {
        frequency: found.w0 / (2 * Math.PI),
        q: found.q,
        parts: parts.filter((p) => size(p) > NOTHING).sort((a, b) => size(b) - size(a)),
      },
    ]
  })
  return { places, pairs: pairs.sort((a, b) => a.frequency - b.frequency) }
})
