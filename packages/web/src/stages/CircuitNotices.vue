<script setup lang="ts">
import {
  computedAnew,
  formatExact,
  formatQuantity,
  keptAsShown,
  outdatedText,
  type PartPatch,
  withPatches,
} from '@voskel/core'
import { computed } from 'vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

/** What stands between a circuit and what was said of it: values of an earlier version, and parts that it does not have. */
const design = useDesignStore()
const results = useResultsStore()
const lost = computed(() => Object.entries(results.circuit?.lost ?? {}))
const outdated = computed(() => results.circuit?.outdated ?? null)

/** Lets go what was said of a part that the circuit does not have. */
function forget(part: string) {
  const { document } = design
  if (document?.circuit.origin !== 'derived') return
  const { [part]: _gone, ...others } = document.circuit.patches
  design.edit(`what was typed for ${part} let go`, withPatches(document, others))
}

/** What was said of a part, in words. */
function saidOf(patch: PartPatch): string {
  const own = Object.entries(patch.values ?? {}).map(([field, value]) => `${field} ${formatExact(value, '')}`)
  const over = Object.entries(patch.formulas ?? {}).map(([field, formula]) => `${field} = ${formula}`)
  const rest = Object.keys(patch).filter((key) => key !== 'values' && key !== 'formulas')
  return [...own, ...over, ...rest].join(', ')
}

function keepShown() {
  if (design.document) design.edit('earlier values kept', keptAsShown(design.document))
}

function takeComputed() {
  if (design.document) design.edit('values computed anew', computedAnew(design.document))
}

const capital = (text: string) => text[0]!.toUpperCase() + text.slice(1)
</script>

<template>
  <div v-if="outdated" class="notice" role="status">
    <p>
      {{ capital(outdatedText(outdated)) }}.
      <template v-if="outdated.kind === 'values'">
        <span v-for="c in outdated.changes" :key="`${c.part} ${c.field}`" class="change">
          {{ c.part }}: {{ formatQuantity(c.shown, c.unit, 6) }}, now {{ formatQuantity(c.computed, c.unit, 6) }}
        </span>
      </template>
    </p>
    <button class="plain-button strong" @click="keepShown">Keep what stands</button>
    <button v-if="outdated.kind !== 'refused'" class="plain-button" @click="takeComputed">Take the new values</button>
  </div>
  <div v-if="lost.length" class="notice" role="status">
    <p>Typed for parts that this circuit does not have; it is kept, and counts again when they come back.</p>
    <ul>
      <li v-for="[part, patch] in lost" :key="part">
        <strong>{{ part }}</strong> {{ saidOf(patch) }}
        <button class="plain-button" :aria-label="`Let go what was typed for ${part}`" @click="forget(part)">
          Let go
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.notice {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  max-height: 30%;
  margin: 4px 14px;
  padding: 6px 10px;
  overflow: auto;
  border-left: 3px solid var(--accent);
  border-radius: 4px;
  background: var(--accent-soft);
}

ul {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.change {
  margin-left: 10px;
  font-variant-numeric: tabular-nums;
}

.strong {
  font-weight: 700;
}
</style>
