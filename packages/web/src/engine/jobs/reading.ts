import { type CurvePoint, type CurveView, parseSignal, type Snap } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'
import { rangeOf, type SignalsQuestion } from './frequency'

/** Where a curve is asked for: a kind of place, or where a view of it has a value. */
export type Sought =
  { readonly snap: Snap; readonly view: CurveView } | { readonly view: CurveView; readonly value: number }

export interface PlacesQuestion extends DesignQuestion, Pick<SignalsQuestion, 'wanted'> {
  readonly signal: string
  readonly sought: Sought
}

/** Every place of a kind on one of the circuit's curves, Hz, ascending, each solved; null without a circuit. */
export const placesTopic = topic<PlacesQuestion, readonly number[] | null>('places', (q) => [
  ...designKey(q),
  q.signal,
  JSON.stringify([q.sought, q.wanted]),
])

export const placesJob = /* @__PURE__ */ job(placesTopic, (question) => {
  const { signal, sought } = question
  const curve = curveOf(studyOf(question), signal, question.wanted)
  if (!curve) return null
  return 'snap' in sought ? curve.snaps(sought.snap, sought.view) : curve.where(sought.view, sought.value)
})

export interface ReadingsQuestion extends DesignQuestion, Pick<SignalsQuestion, 'wanted'> {
  readonly signals: readonly string[]
  /** Hz */
  readonly at: readonly number[]
}

/** Each signal at each frequency, solved there; what cannot be had is left out. */
export type ReadingsAnswer = Readonly<Record<string, readonly CurvePoint[]>>

export const readingsTopic = topic<ReadingsQuestion, ReadingsAnswer>('readings', (q) => [
  ...designKey(q),
  q.signals.join('\n'),
  q.at.join(' '),
  JSON.stringify(q.wanted),
])

export const readingsJob = /* @__PURE__ */ job(readingsTopic, (question) => {
  const study = studyOf(question)
  return Object.fromEntries(
    question.signals.flatMap((signal) => {
      const curve = study.maybe(() => curveOf(study, signal, question.wanted))
      return curve ? [[signal, question.at.map((f) => curve.at(f))]] : []
    }),
  )
})

/** null without a circuit */
function curveOf(study: Study, signal: string, wanted: SignalsQuestion['wanted']) {
  if (!study.equations()) return null
  const transfer = signal === study.output ? study.maybe(study.transfer) : undefined
  return study.curve(parseSignal(signal), { ...(wanted ?? rangeOf(study)), ...(transfer && { transfer }) })
}
