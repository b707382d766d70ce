<script setup lang="ts">
import { formatQuantity, isDrawn, partKind, topologies, withValue, writeNetlist } from '@voskel/core'
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import CircuitDrawing from '../circuit/CircuitDrawing.vue'
import StageEmpty from '../components/StageEmpty.vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

/** The circuit with its values. */
const design = useDesignStore()
const results = useResultsStore()
const drawing = ref<InstanceType<typeof CircuitDrawing> | null>(null)
const selectedId = ref<string | null>(null)

const circuit = computed(() => design.document?.circuit ?? null)
const family = computed(
  () => topologies.find((t) => t.id === design.document?.specification?.realization?.family)?.name ?? 'drawn',
)
const values = computed(() =>
  design.document?.values === 'exact' ? 'values as computed' : `values from ${design.document?.values}`,
)
const selected = computed(() => circuit.value?.parts.find((p) => p.id === selectedId.value) ?? null)

/** Values that differ from what was computed, with the computed one. */
const changed = computed(
  () =>
    circuit.value?.parts.flatMap((part) =>
      Object.entries(part.exact ?? {}).map(([field, exact]) => ({
        part: part.id,
        field,
        exact,
        value: part.values[field]!,
      })),
    ) ?? [],
)

function setValue(part: string, field: string, value: number) {
  const document = design.document
  if (!document?.circuit) return
  const unit = partKind(document.circuit.parts.find((p) => p.id === part)!.kind).values.find(
    (f) => f.id === field,
  )!.unit
  design.edit(`${part} to ${formatQuantity(value, unit)}`, {
    ...document,
    circuit: withValue(document.circuit, part, field, value),
  })
}

/** Back to what synthesis gives: every typed value is let go. */
function recompute() {
  if (!design.document) return
  const { circuit: _gone, ...rest } = design.document
  design.edit('values computed anew', rest)
}

async function copyNetlist() {
  if (!circuit.value) return
  try {
    await navigator.clipboard.writeText(writeNetlist({ ...circuit.value, title: design.document?.name }))
    ElMessage.success('Netlist copied.')
  } catch {
    ElMessage.error('The clipboard is not open to this page. Allow it in the browser, then try again.')
  }
}

const detail = computed(() => {
  const part = selected.value
  if (!part) return null
  const fields = partKind(part.kind).values.map((f) => {
    const exact = part.exact?.[f.id]
    const shown = formatQuantity(part.values[f.id] ?? f.default, f.unit, 6)
    return `${f.name.toLowerCase()} ${shown}${exact === undefined ? '' : ` (computed ${formatQuantity(exact, f.unit, 6)})`}`
  })
  return `${part.id}, ${partKind(part.kind).name.toLowerCase()}: ${fields.join(', ')}`
})
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" aria-label="Circuit">
    <header class="tools">
      <span class="what">{{ family }}</span>
      <span class="soft">{{ values }}</span>
      <span class="space" />
      <button class="plain-button" :disabled="!circuit" @click="drawing?.fit()">Show all</button>
      <button class="plain-button" :disabled="!circuit" @click="copyNetlist">Copy netlist</button>
      <button
        v-if="design.document?.specification"
        class="plain-button"
        :disabled="changed.length === 0"
        @click="recompute"
      >
        Compute values anew
      </button>
    </header>
    <StageEmpty v-if="!circuit" />
    <p v-else-if="!isDrawn(circuit)" class="undrawn">
      This circuit came without a drawing. It is simulated all the same.
    </p>
    <CircuitDrawing
      v-else
      ref="drawing"
      class="sheet"
      :circuit="circuit"
      @value="setValue"
      @select="(id) => (selectedId = id)"
    />
    <p v-if="circuit" class="read">
      <template v-if="detail">{{ detail }}</template>
      <template v-else-if="changed.length">
        <span class="mark">*</span> {{ changed.length }}
        {{ changed.length === 1 ? 'value differs' : 'values differ' }} from what was computed. A change of the
        specification computes them anew; Undo brings them back.
      </template>
      <template v-else>Click a value to type another. Drag moves the sheet, the wheel zooms.</template>
    </p>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.stage {
  padding-inline: 0;
}

.tools {
  padding: 0 14px;
}

.space {
  flex: 1;
}

.sheet {
  flex: 1;
  min-height: 0;
  background: radial-gradient(circle, var(--grid) 1px, transparent 1.2px) 0 0 / 16px 16px;
}

.undrawn {
  flex: 1;
  padding: 48px;
  color: var(--ink-soft);
  text-align: center;
}

.read {
  padding: 4px 14px 0;
}

.mark {
  color: var(--accent);
  font-weight: 700;
}
</style>
