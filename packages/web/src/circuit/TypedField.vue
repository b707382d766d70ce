<script setup lang="ts">
import { type Circuit, formatExact, formatQuantity, type TypedValue, typedValue, VoskelError } from '@voskel/core'
import { computed, ref, useId, watch } from 'vue'

/**
 * A value as it is typed: a number in engineering notation, or an expression over the circuit's parameters. Taken with Enter
 * or when the field is left; what was understood, or what is wrong, stands below.
 */
const {
  label,
  unit,
  value,
  formula = null,
  circuit,
  optional,
} = defineProps<{
  label: string
  unit: string
  /** SI; null where there is none. */
  value: number | null
  formula?: string | null
  circuit: Circuit
  /** What an empty field means; left out, it cannot be empty. */
  optional?: string
  /** No room for the label. */
  bare?: boolean
}>()
const emit = defineEmits<{ typed: [value: TypedValue | null] }>()

const id = useId()
const shown = computed(() => (formula !== null ? `= ${formula}` : value === null ? '' : formatExact(value, unit)))
const text = ref(shown.value)
const problem = ref('')
watch(shown, (next) => {
  text.value = next
  problem.value = ''
})
const echo = computed(() => {
  if (problem.value || text.value.trim() === shown.value)
    return formula !== null && value !== null ? formatQuantity(value, unit) : ''
  try {
    return formatQuantity(typedValue(text.value, unit, circuit).value, unit)
  } catch (error) {
    if (error instanceof VoskelError) return ''
    throw error
  }
})

function keep() {
  if (text.value.trim() === shown.value) {
    problem.value = ''
    return
  }
  if (text.value.trim() === '' && optional !== undefined) {
    emit('typed', null)
    return
  }
  try {
    emit('typed', typedValue(text.value, unit, circuit))
    problem.value = ''
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}

function back() {
  text.value = shown.value
  problem.value = ''
}
</script>

<template>
  <div class="typed" :class="{ bare }">
    <label :for="id" :class="{ 'visually-hidden': bare }">{{ label }}</label>
    <input
      :id="id"
      v-model="text"
      class="text-field"
      :aria-label="bare ? label : undefined"
      :aria-invalid="problem !== ''"
      :placeholder="optional ?? unit"
      spellcheck="false"
      autocomplete="off"
      @keydown.enter.prevent="keep"
      @keydown.escape.stop="back"
      @blur="keep"
    />
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <p v-else-if="echo" class="echo">{{ echo }}</p>
  </div>
</template>

<style scoped>
.typed {
  display: grid;
  grid-template-columns: 1fr 118px;
  gap: 0 8px;
  align-items: center;
}

.bare {
  grid-template-columns: 1fr;
}

label {
  color: var(--ink-soft);
}

input {
  font-variant-numeric: tabular-nums;
}

input[aria-invalid='true'] {
  border-color: var(--missed);
}

.echo,
.problem {
  grid-column: 1 / -1;
  margin: 0;
  color: var(--ink-soft);
  font-size: 13px;
  text-align: right;
}

.problem {
  color: var(--missed);
  text-align: left;
}
</style>
