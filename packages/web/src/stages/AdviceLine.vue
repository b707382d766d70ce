<script setup lang="ts">
import { askedSpec, isShaped, ofResponse, type RequirementId } from '@voskel/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { adviseInWorker } from '../engine/compare'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

/** What would meet a requirement that the response misses: looked for when nothing has changed for a moment. */
const design = useDesignStore()
const results = useResultsStore()

const IDLE_MS = 600

const advice = ref<string[]>([])
const looking = ref(false)

/** The specification where the response misses something that another one might meet; empty text else. */
const asked = computed(() => {
  const spec = design.document && askedSpec(design.document)
  if (!spec || isShaped(spec) || design.specDraft || results.stale) return ''
  const order = results.result?.ideal?.ideal.order
  const missed = results.verdicts.some(
    (v) =>
      !v.met && (/^(passband|stopband)/.test(v.id) || ofResponse({ kind: v.id.replace(/ \d+$/, '') as RequirementId })),
  )
  return missed && order ? JSON.stringify({ ...spec, order }) : ''
})

let stop = () => {}
let waiting: ReturnType<typeof setTimeout> | undefined
watch(
  asked,
  (text) => {
    stop()
    clearTimeout(waiting)
    advice.value = []
    looking.value = false
    if (!text) return
    waiting = setTimeout(() => {
      looking.value = true
      const work = adviseInWorker(JSON.parse(text))
      let stopped = false
      stop = () => {
        stopped = true
        work.stop()
      }
      work.done.then(
        (found) => {
          if (!stopped) [advice.value, looking.value] = [found, false]
        },
        // Advice is an extra: without it the ledger still says what is missed.
        () => {
          if (!stopped) looking.value = false
        },
      )
    }, IDLE_MS)
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  stop()
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
