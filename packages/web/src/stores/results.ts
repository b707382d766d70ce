import type { Design, Verdict } from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { ComputeResult } from '../engine/compute'
import { requestOf, sameRequest, sharedEngine } from '../engine/engine'
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
    if (!document) return
    if (of.value && sameRequest(document, of.value)) {
      belongsTo(document)
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
      belongsTo(document)
      running.value = false
    } catch (error) {
      if (design.document !== document) return
      broken.value = error instanceof Error ? error.message : String(error)
      running.value = false
    } finally {
      if (!running.value) slow.value = false
    }
  }

  function belongsTo(document: Design) {
    of.value = document
    const { circuit } = result.value ?? {}
    if (circuit) design.shown(document, circuit.base)
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
