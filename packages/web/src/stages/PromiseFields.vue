<script lang="ts">
import type { ValueReading } from '@voskel/core'

/** Something that was read, and can be promised or compared. */
export interface ReadValue {
  readonly id: string
  readonly of: ValueReading
  readonly value: number
  readonly unit: string
}
</script>

<script setup lang="ts">
import { type Expected, formatQuantity, readingText, type ValueRequirement } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, nextTick, onMounted, ref } from 'vue'
import QuantityField from '../components/QuantityField.vue'

/** What was read, as a promise with its limits, or beside the number that was found by hand. */
const { id, of, value, unit } = defineProps<ReadValue>()
const emit = defineEmits<{ promise: [promise: ValueRequirement]; expect: [expected: Expected]; close: [] }>()

const name = ref(id)
const least = ref<number | null>(null)
const most = ref<number | null>(null)
const byHand = ref<number | null>(null)
const tolerance = ref<number | null>(5)
const form = ref<HTMLFormElement | null>(null)
onMounted(async () => {
  await nextTick()
  form.value?.querySelectorAll('input')[1]?.focus()
})

const problem = computed(() => {
  if (name.value.trim() === '') return 'It needs a name.'
  if (least.value === null && most.value === null) return 'Say what it must be at least, at most, or both.'
  return least.value !== null && most.value !== null && least.value > most.value ? 'The least is above the most.' : ''
})

function done() {
  if (problem.value) return
  emit('promise', {
    kind: 'value',
    id: name.value.trim(),
    of,
    ...(least.value !== null && { min: least.value }),
    ...(most.value !== null && { max: most.value }),
  })
}
/** The number that was found by hand is kept, with the deviation that is allowed. */
function note() {
  if (byHand.value === null || name.value.trim() === '') return
  emit('expect', { id: name.value.trim(), of, value: byHand.value, tolerance: Math.max(0, tolerance.value ?? 0) })
}
</script>

<template>
  <form ref="form" class="promise" aria-label="Promise" @submit.prevent="done" @keydown.escape.stop="emit('close')">
    <p class="soft">{{ readingText(of) }}, now {{ formatQuantity(value, unit) }}</p>
    <label>Name <input v-model="name" class="text-field" maxlength="80" spellcheck="false" /></label>
    <QuantityField v-model="least" label="At least" :unit="unit" optional />
    <QuantityField v-model="most" label="At most" :unit="unit" optional />
    <p v-if="problem" class="soft">{{ problem }}</p>
    <QuantityField v-model="byHand" label="Or found by hand" :unit="unit" optional />
    <QuantityField v-if="byHand !== null" v-model="tolerance" label="may differ by" unit="%" optional />
    <div class="buttons">
      <ElButton native-type="submit" type="primary" size="small" :disabled="problem !== ''">Promise it</ElButton>
      <ElButton v-if="byHand !== null" size="small" @click="note">Compare</ElButton>
      <ElButton size="small" @click="emit('close')">Cancel</ElButton>
    </div>
  </form>
</template>

<style scoped>
.promise {
  display: grid;
  gap: 4px;
  padding: 8px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--raised);
}

label {
  display: grid;
  grid-template-columns: minmax(110px, 1fr) minmax(120px, 1.1fr);
  align-items: center;
  column-gap: 10px;
}

p {
  margin: 0;
}

.soft {
  color: var(--ink-soft);
}

.buttons :deep(.el-button) {
  margin: 0 6px 0 0;
}
</style>
