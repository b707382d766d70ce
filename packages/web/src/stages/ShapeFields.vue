<script setup lang="ts">
import type { ShapeValueField } from '@voskel/core'
import { ElInput } from 'element-plus'
import { ref } from 'vue'
import FieldRow from './FieldRow.vue'
import { useSpecForm } from './specForm'

/** The values of a response that has its own. */
const form = useSpecForm()

const value = (field: ShapeValueField) => form.shaped.value?.shape[field.id]
const problem = (field: ShapeValueField) => form.problem(`shape.${field.id}`, ...entryPaths(field))

/** Places inside a list, of which the form has one field. */
const entryPaths = (field: ShapeValueField) => {
  const v = value(field)
  return Array.isArray(v)
    ? v.flatMap((_, k) => ['', '.0', '.1', '.2'].map((part) => `shape.${field.id}.${k}${part}`))
    : []
}

/** Numbers stand apart by spaces; of roots and points a line each, a dash where there is no limit. */
function listText(field: ShapeValueField): string {
  const v = value(field)
  if (!Array.isArray(v)) return ''
  if (field.kind === 'numbers') return v.join(' ')
  return v.map((entry) => (entry as (number | null)[]).map((n) => n ?? '–').join(' ')).join('\n')
}

const EXAMPLES = {
  roots: 'One root a line: real part, then imaginary part, such as -100 995.',
  numbers: 'Coefficients, highest power first, such as 1 200 1e6.',
  limits: 'One point a line: Hz, lowest, highest, a dash for no limit, such as 1000 -0.5 0.5.',
}
const PLACEHOLDERS = { roots: 'a root a line: re im', numbers: 'highest power first', limits: 'Hz lowest highest' }

/** Lists as they are being typed, and what is wrong with them. */
const typed = ref<Record<string, string>>({})
const unread = ref<Record<string, string>>({})

function setList(field: ShapeValueField, text: string) {
  if (field.kind === 'quantity' || field.kind === 'choice') return
  const numbers = (line: string) =>
    line
      .replaceAll('\u2212', '-')
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map((word) => (field.kind === 'limits' && /^[-–—]$/.test(word) ? null : Number(word)))
  const lines = text.split('\n').filter((line) => line.trim() !== '')
  const list =
    field.kind === 'numbers'
      ? numbers(text)
      : lines.map(numbers).map(([a, b, c]) => (field.kind === 'roots' ? [a, b ?? 0] : [a, b ?? null, c ?? null]))
  const wrong = list.flat().some((v) => v !== null && !Number.isFinite(v))
  unread.value = {
    ...unread.value,
    [field.id]: wrong ? `Not a number. ${EXAMPLES[field.kind]}` : '',
  }
  if (wrong) return
  const { [field.id]: _read, ...others } = typed.value
  typed.value = others
  form.changeShape(field.id, list.length > 0 ? list : null)
}
</script>

<template>
  <template v-for="field in form.shape.value?.fields ?? []" :key="`${form.shape.value?.id} ${field.id}`">
    <FieldRow
      v-if="field.kind === 'quantity' || field.kind === 'choice'"
      :field="field"
      :value="value(field)"
      :problem="problem(field)"
      @change="(v) => form.changeShape(field.id, v as number | string | null)"
    />
    <div v-else class="list">
      <label :for="`shape-${field.id}`">{{ field.name }}{{ field.unit ? `, ${field.unit}` : '' }}</label>
      <ElInput
        :id="`shape-${field.id}`"
        type="textarea"
        :autosize="{ minRows: field.kind === 'numbers' ? 1 : 2, maxRows: 8 }"
        :model-value="typed[field.id] ?? listText(field)"
        :placeholder="PLACEHOLDERS[field.kind]"
        @update:model-value="(v: string) => (typed = { ...typed, [field.id]: v })"
        @change="(v: string) => setList(field, v)"
      />
      <p v-if="unread[field.id] || problem(field)" class="bad" role="alert">{{ unread[field.id] || problem(field) }}</p>
    </div>
  </template>
  <p v-if="form.problem('shape')" class="bad" role="alert">{{ form.problem('shape') }}</p>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.list {
  display: grid;
  gap: 3px;
}
</style>
