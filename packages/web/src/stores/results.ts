import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { board, NOTHING } from '../engine/board'
import { useDesignStore } from './design'

/** What was computed of the open design: derived, never saved. */
export const useResultsStore = defineStore('results', () => {
  const design = useDesignStore()
  const onBoard = shallowRef(board.shown)
  const running = ref(board.running)
  board.changed = () => {
    onBoard.value = board.shown
    running.value = board.running
  }
  const shown = computed(() => (design.document ? onBoard.value : NOTHING))

  watch(
    () => design.document,
    (document) => {
      if (!document || !design.id) return
      board.ask(document, design.id)
      running.value = board.running
    },
    { immediate: true, flush: 'sync' },
  )
  watch(
    [shown, () => design.document],
    () => {
      const { question, answers, isStale, isRecalled } = shown.value
      const { document } = design
      if (document && answers.circuit && question?.circuit === document.circuit && !isStale && !isRecalled)
        design.shown(document, answers.circuit.base)
    },
    { flush: 'sync' },
  )

  const answers = computed(() => shown.value.answers)
  const failures = computed(() => shown.value.failures)
  /** What is shown belongs to an older state of the design, or the specification as typed cannot be used. */
  const stale = computed(() => shown.value.isStale || design.specDraft !== null)
  const slow = computed(() => shown.value.isSlow && running.value)
  const stopped = computed(() => shown.value.isStopped)
  /** What is shown was computed when the design was last open. */
  const recalled = computed(() => shown.value.isRecalled)
  /** Nothing was computed yet. */
  const isEmpty = computed(() => shown.value.question === null)

  const ideal = computed(() => answers.value.ideal)
  const circuit = computed(() => answers.value.circuit)
  const roots = computed(() => answers.value.roots)
  /** Of the circuit, by the signals that the diagrams ask for. */
  const frequency = computed(() => answers.value.frequency)
  const time = computed(() => answers.value.time)
  const noise = computed(() => answers.value.noise)
  const influence = computed(() => answers.value.influence)
  const verdicts = computed(() => answers.value.verdicts.verdicts)
  const ofIdeal = computed(() => answers.value.verdicts.ofIdeal && verdicts.value.length > 0)
  /** Hz: of the ideal response, else of the circuit. */
  const range = computed(() => ideal.value?.range ?? answers.value.frequency?.range ?? null)
  /** s */
  const window = computed(() => time.value?.window ?? ideal.value?.window ?? null)
  const sheet = computed(() => circuit.value?.sheet ?? ideal.value?.sheet ?? [])
  /** The sections of an active circuit: what each makes, and what its parts do. */
  const sectionSteps = computed(() => (circuit.value?.sheet ?? []).filter((step) => step.parts))

  return {
    shown,
    running,
    slow,
    stopped,
    stale,
    recalled,
    isEmpty,
    failures,
    ideal,
    circuit,
    roots,
    frequency,
    time,
    noise,
    influence,
    verdicts,
    ofIdeal,
    range,
    window,
    sheet,
    sectionSteps,
    stop: () => board.stop(),
  }
})
