<script setup lang="ts">
import { computed } from 'vue'
import { useResultsStore } from '../stores/results'

/** What a stage shows instead of curves: that they are on their way, or why there are none and what would help. */
const results = useResultsStore()
const reason = computed(() => {
  const failure = results.circuit?.failure ?? Object.values(results.failures)[0]
  if (results.stopped) return 'It was stopped. Change something to compute it again.'
  if (failure) return `${failure.message} ${failure.remedy}`
  if (results.running || results.isEmpty) return ''
  return 'There is no circuit yet. Choose how it is made under Specify.'
})
</script>

<template>
  <div class="empty" :role="reason ? 'alert' : 'status'">
    <p v-if="reason">{{ reason }}</p>
    <p v-else>Computing …</p>
  </div>
</template>

<style scoped>
.empty {
  display: grid;
  place-items: center;
  flex: 1;
  padding: 24px;
  color: var(--ink-soft);
  text-align: center;
}

p {
  max-width: 460px;
}
</style>
