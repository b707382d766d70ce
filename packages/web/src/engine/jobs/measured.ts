import {
  type ColumnChoice,
  decodeText,
  guessColumns,
  layoutOf,
  type MeasuredCurve,
  readingMeasured,
  networkCurves,
  readTouchstone,
  type TableLayout,
  type TouchstoneData,
} from '@voskel/core'
import { job, type Job, topic } from '../Job'

/** What a file is found to be, before anything of it is read. */
export interface Survey {
  readonly encoding: string
  /** null of a Touchstone file, which says itself what it holds. */
  readonly table: { readonly layout: TableLayout; readonly columns: readonly ColumnChoice[] } | null
}

export interface SurveyQuestion {
  readonly name: string
  readonly bytes: Uint8Array
}

/** Ports by a file's name; null where it is no Touchstone file. */
export const portsOf = (name: string): number | null => {
  const found = /\.s(\d+)p$/i.exec(name)
  return found ? Number(found[1]) : null
}

/** How a file is written, and what its columns are taken for. */
export const surveyTopic = topic<SurveyQuestion, Survey>('survey', ({ name, bytes }) => [name, bytes])

export const surveyJob = /* @__PURE__ */ job(surveyTopic, ({ name, bytes }: SurveyQuestion): Survey => {
  const { text, encoding } = decodeText(bytes)
  if (portsOf(name) !== null) return { encoding, table: null }
  const layout = layoutOf(text)
  return { encoding, table: { layout, columns: guessColumns(layout) } }
})

export interface MeasuredQuestion extends SurveyQuestion {
  readonly layout: TableLayout | null
  readonly columns: readonly ColumnChoice[]
  readonly leaveOut: boolean
}

export interface MeasuredAnswer {
  readonly curves: readonly MeasuredCurve[]
  readonly notes: readonly string[]
  /** What the curves are entries of, where they are. */
  readonly network?: TouchstoneData
  /** How far it is, 0 … 1. */
  readonly part: number
}

/** The curves of a file; how far it is meanwhile. */
export const measuredTopic = topic<MeasuredQuestion, MeasuredAnswer>('measured', (q) => [
  q.name,
  q.bytes,
  JSON.stringify([q.layout, q.columns, q.leaveOut]),
])

export const measuredJob: Job<MeasuredQuestion, MeasuredAnswer> = {
  topic: measuredTopic,
  *run({ name, bytes, layout, columns, leaveOut }) {
    const { text } = decodeText(bytes)
    if (!layout) {
      const network = readTouchstone(text, portsOf(name) ?? undefined)
      const notes = [`Referred to ${network.references.join(' Ω and ')} Ω.`, ...network.notes]
      return { curves: networkCurves(network), notes, network, part: 1 }
    }
    const run = readingMeasured(text, { layout, columns, leaveOut })
    for (;;) {
      const next = run.next()
      if (next.done) return { curves: next.value.curves, notes: next.value.notes, part: 1 }
      yield { part: next.value.part }
    }
  },
}
