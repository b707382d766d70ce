<script setup lang="ts">
import type { FormulaStep } from '@voskel/core'
import { ElDrawer } from 'element-plus'

/** How the values were found, step by step, with the source of each formula. */
const open = defineModel<boolean>({ required: true })
defineProps<{ steps: readonly FormulaStep[] }>()
</script>

<template>
  <ElDrawer
    v-model="open"
    title="How these values were found"
    size="min(560px, 92vw)"
    append-to-body
    :modal="false"
    modal-penetrable
  >
    <ol class="steps" tabindex="0" aria-label="Steps">
      <li v-for="step in steps" :key="step.title">
        <h3>{{ step.title }}</h3>
        <p v-for="line in step.lines" :key="line" class="line">{{ line }}</p>
        <p v-if="step.source" class="source">{{ step.source }}</p>
      </li>
    </ol>
  </ElDrawer>
</template>

<style scoped>
.steps {
  display: grid;
  gap: 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}

h3 {
  margin: 0 0 4px;
  color: var(--accent);
  font-size: 15px;
}

.line {
  padding: 1px 0;
  font-variant-numeric: tabular-nums;
}

.source {
  margin-top: 4px;
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
