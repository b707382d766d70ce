<script setup lang="ts">
import { testSignals, VoskelError, waveformKind, withCircuitEdit } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useDesignStore } from '../stores/design'
import type { Computed } from './instrument/Over'

/** The signal that a circuit is tried with: one of a list, given to its source. */
const { known } = defineProps<{ known: Computed }>()
const emit = defineEmits<{ close: [] }>()
const design = useDesignStore()

const source = computed(() =>
  known.circuit?.circuit?.parts.find((p) => p.id.toUpperCase() === known.time?.source.toUpperCase()),
)
const unit = computed(() => (source.value?.kind === 'current-source' ? 'A' : 'V'))
const id = ref('square')
const chosen = computed(() => testSignals.find((t) => t.id === id.value)!)
/** Where the circuit does something. */
const usual = Number((known.roots?.ac.cutoffs[0] ?? Math.sqrt(known.range.from * known.range.to)).toPrecision(3))
const frequency = ref<number | null>(usual)
const level = ref<number | null>(1)
const failure = ref('')
const problem = computed(() => {
  if (chosen.value.isPeriodic && !((frequency.value ?? 0) > 0)) return 'A frequency is above 0 Hz.'
  return (level.value ?? 0) === 0 ? 'A signal of level 0 is none.' : ''
})
const now = computed(() => {
  const { waveform } = source.value ?? {}
  return waveform ? waveformKind(waveform).name : 'none of its own: a step of 1 is taken'
})

function use() {
  const { document } = design
  if (!document || !source.value || problem.value) return
  const waveform = chosen.value.waveform(frequency.value ?? usual, level.value!)
  try {
    const next = withCircuitEdit(document, {
      edit: 'set-properties',
      args: { parts: [source.value.id], say: { waveform } },
    })
    design.edit(`${source.value.id}: ${chosen.value.name.toLowerCase()}`, next)
    emit('close')
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    failure.value = `${error.message} ${error.remedy}`
  }
}
</script>

<template>
  <form class="source" aria-label="Test signal" @submit.prevent="use" @keydown.escape.stop="emit('close')">
    <label
      >{{ known.time?.source }} gives
      <select v-model="id" class="text-field" aria-label="Test signal">
        <option v-for="t in testSignals" :key="t.id" :value="t.id">{{ t.name }}</option>
      </select>
    </label>
    <QuantityField v-if="chosen.isPeriodic" v-model="frequency" label="Frequency" unit="Hz" />
    <QuantityField v-model="level" :label="id === 'impulse' ? 'Area' : 'Level'" :unit="id === 'impulse' ? '' : unit" />
    <ElButton native-type="submit" size="small" type="primary" :disabled="problem !== ''">Use it</ElButton>
    <ElButton size="small" @click="emit('close')">Close</ElButton>
    <p class="soft">{{ chosen.says }}. Now: {{ now }}.</p>
    <p v-if="problem || failure" class="wrong" role="alert">{{ problem || failure }}</p>
  </form>
</template>

<style scoped>
.source {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
}

.source :deep(.quantity) {
  grid-template-columns: auto 110px;
}

select {
  width: auto;
}

p {
  margin: 0;
}

.soft {
  color: var(--ink-soft);
}

.wrong {
  color: var(--missed);
}
</style>
