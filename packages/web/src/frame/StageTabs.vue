<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { BESIDE_CHOICES, besides, type StageId, stages } from '../stages'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'

/** The stages as tabs, each with its own state, and which one stands beside. */
const { current } = defineProps<{ current: StageId }>()
const emit = defineEmits<{ go: [stage: StageId] }>()
const design = useDesignStore()
const results = useResultsStore()
const view = useViewStore()

type State = 'met' | 'not met' | 'stale' | 'running' | 'nothing required' | 'impossible'

function stateOf(id: StageId): State {
  if (results.running && (results.stale || results.isEmpty)) return 'running'
  if (id === 'specify') {
    if (design.specDraft) return 'impossible'
    if (results.stopped) return 'stale'
    return results.failures.ideal ? 'impossible' : 'met'
  }
  if (results.stale) return 'stale'
  if (results.failures.ideal || results.failures.circuit || results.circuit?.failure) return 'impossible'
  const stage = stages.find((s) => s.id === id)!
  const verdicts =
    id === 'circuit'
      ? results.ofIdeal
        ? []
        : results.verdicts
      : results.verdicts.filter((v) => v.decided === stage.decides)
  if (verdicts.length === 0) return 'nothing required'
  return verdicts.every((v) => v.met) ? 'met' : 'not met'
}

/** Shapes tell the states apart where colours do not. */
const SHAPES: Record<State, string> = {
  met: 'M2 6.5L5 9.5L10 3',
  'not met': 'M3 3L9 9M9 3L3 9',
  impossible: 'M6 2V7M6 9.2V10',
  stale: 'M6 3V6L8.5 7.5M6 1.2A4.8 4.8 0 1 1 5.9 1.2',
  running: 'M3 6H3.1M6 6H6.1M9 6H9.1',
  'nothing required': 'M3 6H9',
}

const tabs = computed(() => stages.map((s) => ({ ...s, state: stateOf(s.id) })))
const beside = computed(() => new Set(besides(view.beside).map((s) => s.id)))
const besideChoice = computed({
  get: () => view.beside ?? 'none',
  set: (id) => (view.beside = id === 'none' ? null : id),
})

function key(event: KeyboardEvent) {
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!step) return
  const at = stages.findIndex((s) => s.id === current)
  const next = stages[(at + step + stages.length) % stages.length]!
  emit('go', next.id)
  document.getElementById(`tab-${next.id}`)?.focus()
  event.preventDefault()
}
</script>

<template>
  <nav class="tabs" aria-label="Stages">
    <div role="tablist" aria-label="Stages" class="list" @keydown="key">
      <button
        v-for="t in tabs"
        :id="`tab-${t.id}`"
        :key="t.id"
        role="tab"
        class="tab"
        :class="{ current: t.id === current, beside: beside.has(t.id) && t.id !== current }"
        :aria-selected="t.id === current"
        :tabindex="t.id === current ? 0 : -1"
        :title="`${t.name}: ${t.state} (${t.key})`"
        @click="emit('go', t.id)"
      >
        {{ t.name }}
        <svg class="state" :class="t.state.replace(/ /g, '-')" viewBox="0 0 12 12" aria-hidden="true">
          <path :d="SHAPES[t.state]" />
        </svg>
        <span class="visually-hidden">{{ t.state }}</span>
      </button>
    </div>
    <span class="space" />
    <label class="choice">
      beside
      <ElSelect
        v-model="besideChoice"
        :persistent="false"
        size="small"
        aria-label="Stage shown beside"
        style="width: 146px"
      >
        <ElOption value="none" label="nothing" />
        <ElOption v-for="s in BESIDE_CHOICES" :key="s.id" :value="s.id" :label="s.name" :disabled="s.id === current" />
      </ElSelect>
    </label>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  align-items: stretch;
  height: 40px;
  padding: 0 14px;
  border-bottom: 1px solid var(--line);
  background: var(--panel);
}

.list {
  display: flex;
  gap: 6px;
}

.tab {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 12px;
  border: 0;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}

.tab:hover {
  color: var(--ink);
}

.tab.current {
  border-bottom-color: var(--accent);
  color: var(--ink);
  font-weight: 650;
}

.tab.beside {
  border-bottom: 3px dashed var(--accent);
  color: var(--ink);
}

.state {
  width: 12px;
  height: 12px;
}

.state path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
}

.state.met {
  color: var(--met);
}

.state.not-met,
.state.impossible {
  color: var(--missed);
}

.state.stale,
.state.running {
  color: var(--waiting);
}

.space {
  flex: 1;
}

.choice {
  display: flex;
  align-items: center;
  gap: 8px;
  color: var(--ink-soft);
}
</style>
