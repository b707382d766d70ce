import { defineStore } from 'pinia'
import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { type DeviationAnswer, deviationTopic, type Measured } from '../engine/jobs/deviation'
import { samplesOf } from '../engine/kept'
import { lanes } from '../engine/lanes'
import { useComparedStore } from './compared'
import { useDesignStore } from './design'

/** How far the circuit is from the measured data that are shown, while somebody looks at it. */
export const useDeviationsStore = defineStore('deviations', () => {
  const design = useDesignStore()
  const compared = useComparedStore()
  const answer = shallowRef<DeviationAnswer>([])
  const looking = ref(0)

  watch(
    [() => design.document, () => compared.shown, () => looking.value > 0],
    async ([document, shown, isLookedAt]) => {
      const measured = shown.flatMap(({ entry, kept }) =>
        entry.kind === 'data'
          ? kept.curves.flatMap((curve): Measured[] => {
              const samples = samplesOf(curve)
              return samples ? [{ id: entry.id, signal: curve.signal, samples }] : []
            })
          : [],
      )
      if (!isLookedAt || !document || measured.length === 0) {
        answer.value = []
        return
      }
      const outcome = await lanes.trace.ask(deviationTopic, { ...document, measured })
      if (document !== design.document || outcome.kind === 'superseded' || outcome.kind === 'stopped') return
      answer.value =
        outcome.kind === 'done'
          ? outcome.answer
          : measured.map(({ id, signal }) => ({ id, signal, deviation: null, failure: outcome.failure.message }))
    },
    { immediate: true },
  )

  /** Follows edits as long as the component is there. */
  function follow() {
    looking.value++
    onScopeDispose(() => looking.value--)
  }
  return { answer, follow }
})
