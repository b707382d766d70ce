<script setup lang="ts">
import { formatExact, formatQuantity, parseQuantity, VoskelError } from '@voskel/core'
import { ElInput } from 'element-plus'
import { computed, ref, useId, watch } from 'vue'

/**
 * A value in engineering notation. What is typed stays as it is typed; what was understood is echoed below, or what is
 * wrong with it. Emits each value that can be used, and null where an optional field is emptied.
 */
const {
  modelValue,
  unit,
  label,
  optional = false,
  problem = '',
} = defineProps<{
  modelValue: number | null
  unit: string
  label: string
  optional?: boolean
  problem?: string
  placeholder?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | null]; done: [] }>()

const id = useId()
const show = (value: number | null) => (value === null ? '' : formatExact(value, unit))
const text = ref(show(modelValue))
const syntax = ref('')
/** The value that the text stands for, so that a change from outside can be told from an echo of one's own. */
let understood = modelValue

watch(
  () => modelValue,
  (value) => {
    if (value === understood) return
    understood = value
    text.value = show(value)
    syntax.value = ''
  },
)

const message = computed(() => syntax.value || problem)
const echo = computed(() => {
  if (message.value || modelValue === null) return ''
  return text.value.trim() === show(modelValue) ? '' : `= ${formatQuantity(modelValue, unit)}`
})

function typed(value: string) {
  text.value = value
  if (value.trim() === '' && optional) {
    syntax.value = ''
    understood = null
    emit('update:modelValue', null)
    return
  }
  try {
    const parsed = parseQuantity(value, unit)
    syntax.value = ''
    understood = parsed
    emit('update:modelValue', parsed)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    syntax.value = `${error.message} ${error.remedy}`
  }
}
</script>

<template>
  <div class="quantity">
    <label :for="id">{{ label }}</label>
    <ElInput
      :id="id"
      :model-value="text"
      :placeholder="placeholder"
      :aria-invalid="message ? 'true' : 'false'"
      :aria-describedby="`${id}-note`"
      :class="{ wrong: message }"
      autocomplete="off"
      spellcheck="false"
      @update:model-value="typed"
      @change="emit('done')"
    />
    <p :id="`${id}-note`" class="note" :class="{ bad: message }" :role="message ? 'alert' : undefined">
      {{ message || echo }}
    </p>
    <div class="mends"><slot /></div>
  </div>
</template>

<style scoped>
.quantity {
  display: grid;
  grid-template-columns: minmax(110px, 1fr) minmax(120px, 1.1fr);
  align-items: center;
  column-gap: 10px;
}

.note {
  grid-column: 1 / -1;
  min-height: 0;
  color: var(--ink-soft);
  font-size: 13px;
  text-align: right;
}

.note.bad {
  padding: 2px 0 4px;
  color: var(--missed);
  text-align: left;
}

.mends {
  grid-column: 1 / -1;
}

.mends:empty {
  display: none;
}

.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--missed) inset;
}
</style>
