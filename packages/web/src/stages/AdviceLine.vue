<script setup lang="ts">
import { askedSpec, type FilterSpec, isShaped, requirementKindOf } from '@voskel/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { adviceTopic } from '../engine/jobs/advice'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

/** What would meet a requirement that the response misses: looked for when nothing has changed for a moment. */
const design = useDesignStore()
const results = useResultsStore()

const IDLE_MS = 600

const advice = ref<readonly string[]>([])
const looking = ref(false)

/** The specification where the response misses something that another one might meet; empty text else. */
const asked = computed(() => {
  const spec = design.document && askedSpec(design.document)
  if (!spec || isShaped(spec) || design.specDraft || results.stale) return ''
  const order = results.ideal?.ideal.order
  const missed = results.verdicts.some(
    (v) =>
      !v.met &&
      (v.kind === 'passband' ||
        v.kind === 'stopband' ||
        (v.kind !== 'limits' && v.kind !== 'value' && !requirementKindOf(v.kind).ofCircuit)),
  )
  return missed && order ? JSON.stringify({ ...spec, order }) : ''
})

let waiting: ReturnType<typeof setTimeout> | undefined
watch(
  asked,
  (text) => {
    clearTimeout(waiting)
    lanes.trace.supersede(adviceTopic.id)
    advice.value = []
    looking.value = false
    if (text) waiting = setTimeout(() => void look(JSON.parse(text) as FilterSpec), IDLE_MS)
  },
  { immediate: true },
)

async function look(spec: FilterSpec) {
  looking.value = true
  const outcome = await lanes.trace.ask(adviceTopic, spec)
  if (outcome.kind === 'superseded') return
  looking.value = false
  if (outcome.kind === 'done') advice.value = outcome.answer
  // Without advice the ledger still says what is missed; why there is none is said all the same.
  if (outcome.kind === 'failed') advice.value = [`none that could be found: ${outcome.failure.message}`]
}
onBeforeUnmount(() => {
  lanes.trace.supersede(adviceTopic.id)
  clearTimeout(waiting)
})
</script>

<template>
  <p v-if="looking || advice.length" class="advice" aria-live="polite">
    <template v-if="looking">Looking for what would meet everything …</template>
    <template v-else>Would meet everything: {{ advice.join(' · ') }}.</template>
  </p>
</template>

<style scoped>
.advice {
  margin: 0 22px 6px;
  padding: 6px 10px;
  border-left: 3px solid var(--waiting);
  font-size: 13px;
}
</style>
