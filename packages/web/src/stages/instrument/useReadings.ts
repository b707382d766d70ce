import type { CurvePoint, Cursor } from '@voskel/core'
import { type Ref, shallowRef, watch } from 'vue'
import { lanes } from '../../engine/lanes'
import { readingsTopic } from '../../engine/jobs/reading'
import { useDesignStore } from '../../stores/design'
import { type Exact, nameOf } from './reading'

/** Curves and places at which numbers are wanted to the last digit. */
export interface Wanted {
  readonly signals: readonly string[]
  readonly cursors: readonly Cursor[]
  readonly range: { readonly from: number; readonly to: number } | null
}

/** The numbers at the cursors, solved by the worker; until they come those of the drawn curves stand in. */
export function useReadings(wanted: Ref<Wanted | null>) {
  const design = useDesignStore()
  const exact = shallowRef<Exact>(new Map())
  watch(
    [wanted, () => design.document],
    async ([asked, document]) => {
      if (!asked || !document || asked.cursors.length === 0) {
        exact.value = new Map()
        return
      }
      const at = [...new Set(asked.cursors.map((c) => c.at))]
      const question = { ...document, signals: asked.signals, at, wanted: asked.range }
      const outcome = await lanes.live.ask(readingsTopic, question)
      if (outcome.kind === 'failed') exact.value = new Map()
      if (outcome.kind !== 'done' || document !== design.document) return
      const numbers = new Map<string, CurvePoint>()
      for (const [signal, points] of Object.entries(outcome.answer))
        points.forEach((point, k) => numbers.set(nameOf(signal, at[k]!), point))
      exact.value = numbers
    },
    { immediate: true },
  )
  return exact
}
