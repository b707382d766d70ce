import { type Design, type LargeSignalPoint, outputOf } from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { largeSignalTopic } from '../engine/jobs/largeSignal'
import { lanes } from '../engine/lanes'
import { useDesignStore } from './design'

/** What was asked of a sine of real size. */
export interface LargeSignalAsked {
  /** Of the input, V or A. */
  readonly amplitude: number
  /** Hz */
  readonly frequencies: readonly number[]
}

/** The response to a sine of real size, point by point, and what it was asked of. */
export const useLargeSignalStore = defineStore('large-signal', () => {
  const design = useDesignStore()
  const points = shallowRef<readonly LargeSignalPoint[]>([])
  const asked = shallowRef<LargeSignalAsked | null>(null)
  const askedOf = shallowRef<Design | null>(null)
  const isRunning = ref(false)
  const failure = ref('')

  /** What the circuit and its study say of it. */
  const sameCircuit = (a: Design | null, b: Design | null) =>
    a !== null && b !== null && a.circuit === b.circuit && a.study === b.study && a.specification === b.specification
  const isStale = computed(() => points.value.length > 0 && !sameCircuit(askedOf.value, design.document))

  async function run(next: LargeSignalAsked) {
    const { document } = design
    if (!document) return
    asked.value = next
    askedOf.value = document
    points.value = []
    failure.value = ''
    isRunning.value = true
    const question = { ...document, output: outputOf(document), ...next }
    const outcome = await lanes.population.ask(largeSignalTopic, question, (part) => {
      points.value = [...points.value, ...(part.points ?? [])]
    })
    if (asked.value !== next) return
    isRunning.value = false
    if (outcome.kind === 'failed') failure.value = `${outcome.failure.message} ${outcome.failure.remedy}`
    if (outcome.kind === 'stopped') failure.value = 'Stopped; the points so far stay.'
    if (outcome.kind === 'done') points.value = outcome.answer.points
  }

  function clear() {
    lanes.population.supersede(largeSignalTopic.id)
    asked.value = askedOf.value = null
    points.value = []
    failure.value = ''
    isRunning.value = false
  }

  // Of another design nothing is shown.
  watch(() => design.id, clear)

  return { points, asked, isRunning, isStale, failure, run, clear, stop: () => lanes.population.stop() }
})
