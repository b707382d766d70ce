import type { Design, Verdict } from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { ComputeResult } from '../engine/compute'
import { requestOf, sharedEngine } from '../engine/engine'
import { useDesignStore } from './design'

/** ms after which a computation is long */
const SLOW_AFTER = 1500

/** What was computed of the open design: derived, never saved. */
export const useResultsStore = defineStore('results', () => {
  const design = useDesignStore()
  const engine = sharedEngine()
  const result = shallowRef<ComputeResult | null>(null)
  /** The document that the result belongs to. */
  const of = shallowRef<Design | null>(null)
  const running = ref(false)
  /** It has been running for so long that one may want to stop it. */
  const slow = ref(false)
  const broken = ref<string | null>(null)

  let timer: ReturnType<typeof setTimeout> | undefined

  watch(() => design.document, run, { immediate: true, flush: 'sync' })
  watch(
    () => design.id,
    () => {
      result.value = null
      of.value = null
    },
    { flush: 'sync' },
  )

  async function run() {
    const document = design.document
    if (!document || sameComputation(document, of.value)) {
      if (document) of.value = document
      return
    }
    running.value = true
    slow.value = false
    clearTimeout(timer)
    timer = setTimeout(() => (slow.value = running.value), SLOW_AFTER)
    try {
      const answer = await engine.compute(requestOf(document))
      if (answer === null || design.document !== document) return
      broken.value = null
      result.value = answer
      of.value = document
      running.value = false
      if (answer.circuit && !document.circuit) design.adopt(answer.circuit.circuit)
    } catch (error) {
      if (design.document !== document) return
      broken.value = error instanceof Error ? error.message : String(error)
      running.value = false
    } finally {
      if (!running.value) slow.value = false
    }
  }

  /** What is shown belongs to an older state of the design, or the specification as typed cannot be used. */
  const stale = computed(() => running.value || broken.value !== null || design.specDraft !== null)
  /** On the circuit, or, where none is asked for, on the ideal response. */
  const verdicts = computed<readonly Verdict[]>(
    () => result.value?.circuit?.verdicts ?? result.value?.ideal?.verdicts ?? [],
  )
  const ofIdeal = computed(() => !result.value?.circuit && verdicts.value.length > 0)

  return { result, of, running, slow, stop: () => engine.stop(), broken, stale, verdicts, ofIdeal }
})

/** True where two documents differ in nothing that is computed from; an adopted circuit is the computed one. */
function sameComputation(a: Design, b: Design | null): boolean {
  return (
    b !== null &&
    a.specification === b.specification &&
    a.values === b.values &&
    (a.circuit === b.circuit || b.circuit === undefined)
  )
}
