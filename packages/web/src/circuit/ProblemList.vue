<script setup lang="ts">
import type { Failure } from '@voskel/core'

/** What of a text cannot be read, each with its place and what would be right. */
defineProps<{ problems: readonly Failure[] }>()
defineEmits<{ go: [line: number, column: number] }>()

/** More are counted, not listed. */
const MOST = 30
</script>

<template>
  <ul v-if="problems.length > 0" class="problems" aria-label="What cannot be read">
    <li v-for="(p, k) in problems.slice(0, MOST)" :key="k">
      <button type="button" class="plain-button" @click="$emit('go', p.place.line ?? 1, p.place.column ?? 1)">
        <b>{{ p.place.line ? `Line ${p.place.line}` : 'The text' }}</b> {{ p.message }} <span>{{ p.remedy }}</span>
      </button>
    </li>
    <li v-if="problems.length > MOST">and {{ problems.length - MOST }} more</li>
  </ul>
</template>

<style scoped>
.problems {
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
  font-size: 13.5px;
}

button {
  width: 100%;
  padding: 3px 6px;
  text-align: left;
}

b {
  color: var(--missed);
}

span {
  color: var(--ink-soft);
}
</style>
