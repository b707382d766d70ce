<script setup lang="ts">
import { computed } from 'vue'
import type { Piece } from '../engine/board'
import { useResultsStore } from '../stores/results'

/** What a stage says above the curves that it has when others could not be had, or rest on a model that does not hold: one sentence for each reason. */
const { pieces, doubtsOnly = false } = defineProps<{
  pieces: readonly Piece[]
  /** Why something could not be had stands elsewhere. */
  doubtsOnly?: boolean
}>()
const results = useResultsStore()
const notes = computed(() => {
  const { doubts = [], failure } = results.circuit ?? {}
  const found = failure ? [failure] : pieces.flatMap((piece) => results.failures[piece] ?? [])
  if (doubtsOnly) return [...new Set(doubts)]
  return [...new Set([...doubts, ...found.map((f) => `${f.message} ${f.remedy}`)])]
})
</script>

<template>
  <p v-for="note in notes" :key="note" class="note" role="status">{{ note }}</p>
</template>

<style scoped>
.note {
  margin: 4px 14px;
  padding: 6px 10px;
  border-left: 3px solid var(--waiting);
  border-radius: 4px;
  background: var(--panel);
}
</style>
