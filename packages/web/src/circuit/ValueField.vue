<script setup lang="ts">
import {
  type Circuit,
  formatExact,
  formatQuantity,
  type Part,
  partKind,
  type TypedValue,
  typedValue,
  VoskelError,
} from '@voskel/core'
import { computed, onMounted, ref } from 'vue'
import { valuesIn } from './scene'

/** A part's main value, typed where it stands: as a number, or as an expression over parameters. */
const { part, circuit } = defineProps<{ part: Part; circuit: Circuit }>()
const emit = defineEmits<{ value: [field: string, value: TypedValue]; done: [] }>()

const field = computed(() => partKind(part.kind).values.find((f) => f.id === partKind(part.kind).mainValue)!)
const input = ref<HTMLInputElement | null>(null)
const before = whatStands()
const text = ref(before)
const wanted = ref(false)

function whatStands(): string {
  const formula = part.formulas?.[field.value.id]
  if (formula !== undefined) return `= ${formula}`
  const value = valuesIn(circuit)(part)?.[field.value.id]?.value
  return value === undefined ? '' : formatExact(value, field.value.unit)
}

const read = computed((): { typed: TypedValue } | { problem: string } => {
  try {
    const typed = typedValue(text.value, field.value.unit, circuit)
    if (field.value.range !== 'any' && typed.value <= 0)
      return { problem: `${part.id} must be above 0${field.value.unit && ` ${field.value.unit}`}.` }
    return { typed }
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    return { problem: `${error.message} ${error.remedy}` }
  }
})
const echo = computed(() => ('typed' in read.value ? formatQuantity(read.value.typed.value, field.value.unit) : null))

onMounted(() => input.value?.select())

function keep() {
  wanted.value = true
  if (!('typed' in read.value)) return
  // Typed as it stands, a value stays what it is.
  if (text.value.trim() !== before) emit('value', field.value.id, read.value.typed)
  emit('done')
}

/** Leaving the field takes a value that can be used and stays on one that cannot. */
function leave() {
  keep()
  if (!('typed' in read.value)) input.value?.focus()
}
</script>

<template>
  <div class="field" @pointerdown.stop @keydown.stop>
    <input
      ref="input"
      v-model="text"
      :aria-label="`Value of ${part.id}`"
      :aria-invalid="wanted && !('typed' in read)"
      spellcheck="false"
      autocomplete="off"
      @keydown.enter.prevent="keep"
      @keydown.escape.prevent="emit('done')"
      @blur="leave"
    />
    <p v-if="'problem' in read && wanted" class="problem" role="alert">{{ read.problem }}</p>
    <p v-else-if="echo && text.trim() !== before" class="echo" role="status">{{ echo }}</p>
  </div>
</template>

<style scoped>
.field {
  position: absolute;
  z-index: 5;
  width: 128px;
}

input {
  width: 100%;
  padding: 2px 6px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
}

.echo,
.problem {
  position: absolute;
  top: 100%;
  left: 0;
  padding: 3px 8px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  margin: 2px 0 0;
  background: var(--raised);
  color: var(--ink);
  white-space: nowrap;
}

.problem {
  width: 260px;
  border-color: var(--missed);
  background: var(--missed-soft);
  white-space: normal;
}
</style>
