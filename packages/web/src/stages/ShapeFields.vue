<script setup lang="ts">
import type { ShapeValueField } from '@voskel/core'
import { ElInput, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useSpecForm } from './specForm'

/** The values of a response that has its own. */
const form = useSpecForm()

const value = (field: ShapeValueField) => form.shaped.value?.shape[field.id]
const numberOf = (field: ShapeValueField) => {
  const v = value(field)
  return typeof v === 'number' ? v : null
}
const problem = (field: ShapeValueField) => form.problem(`shape.${field.id}`, ...entryPaths(field))

/** Places inside a list, of which the form has one field. */
const entryPaths = (field: ShapeValueField) => {
  const v = value(field)
  return Array.isArray(v) ? v.flatMap((_, k) => [`shape.${field.id}.${k}`, `shape.${field.id}.${k}.0`]) : []
}

/** Numbers stand apart by spaces; of roots a line each, real and imaginary part. */
function listText(field: ShapeValueField): string {
  const v = value(field)
  if (!Array.isArray(v)) return ''
  return field.kind === 'roots' ? v.map((root) => (root as number[]).join(' ')).join('\n') : v.join(' ')
}

const unread = ref<Record<string, string>>({})

function setList(field: ShapeValueField, text: string) {
  const numbers = (line: string) =>
    line
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number)
  const lines = text.split('\n').filter((line) => line.trim() !== '')
  const list = field.kind === 'roots' ? lines.map(numbers).map(([re, im = 0]) => [re, im]) : numbers(text)
  const wrong = list.flat().some((v) => !Number.isFinite(v))
  unread.value = {
    ...unread.value,
    [field.id]: wrong
      ? field.kind === 'roots'
        ? 'Not a number. One root a line: real part, then imaginary part, such as −100 995.'
        : 'Not a number. Coefficients, highest power first, such as 1 200 1e6.'
      : '',
  }
  if (!wrong) form.changeShape(field.id, list.length > 0 ? list : null)
}
</script>

<template>
  <template v-for="field in form.shape.value?.fields ?? []" :key="`${form.shape.value?.id} ${field.id}`">
    <QuantityField
      v-if="field.kind === 'quantity'"
      :label="field.name"
      :unit="field.unit"
      :optional="field.optional ?? false"
      :placeholder="field.empty"
      :model-value="numberOf(field)"
      :problem="problem(field)"
      @update:model-value="(v) => form.changeShape(field.id, v)"
    />
    <div v-else-if="field.kind === 'choice'" class="row">
      <label :for="`shape-${field.id}`">{{ field.name }}</label>
      <ElSelect
        :id="`shape-${field.id}`"
        :persistent="false"
        :model-value="String(value(field) ?? field.default)"
        @change="(v: string) => form.changeShape(field.id, v)"
      >
        <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
      </ElSelect>
    </div>
    <div v-else class="list">
      <label :for="`shape-${field.id}`">{{ field.name }}{{ field.unit ? `, ${field.unit}` : '' }}</label>
      <ElInput
        :id="`shape-${field.id}`"
        type="textarea"
        :autosize="{ minRows: field.kind === 'roots' ? 2 : 1, maxRows: 8 }"
        :model-value="listText(field)"
        :placeholder="field.kind === 'roots' ? 'a root a line: re im' : 'highest power first'"
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
