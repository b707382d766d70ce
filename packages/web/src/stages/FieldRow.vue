<script setup lang="ts">
import type { RealizationField } from '@voskel/core'
import { ElOption, ElSelect, ElSwitch } from 'element-plus'
import { computed, useId } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import NumbersRow from './NumbersRow.vue'
import RecordRow from './RecordRow.vue'

/** A field that a response or a realization has of its own. */
const {
  field,
  value,
  problem = '',
} = defineProps<{
  field: RealizationField
  value: unknown
  problem?: string
}>()
const emit = defineEmits<{ change: [value: unknown] }>()
const id = useId()
/** What an empty field says of a quantity. */
const word = computed(() => (field.kind === 'quantity' && !field.optional && field.word) || null)
const canBeEmpty = computed(() => field.kind === 'quantity' && (field.optional === true || word.value !== null))
const choice = computed(() =>
  field.kind === 'choice' ? (field.choices.find((c) => c.id === (value ?? field.default))?.name ?? '') : '',
)
</script>

<template>
  <QuantityField
    v-if="field.kind === 'quantity'"
    :label="field.name"
    :unit="field.unit"
    :optional="canBeEmpty"
    :placeholder="canBeEmpty ? (field.empty ?? field.word) : undefined"
    :model-value="typeof value === 'number' ? value : canBeEmpty ? null : field.default"
    :problem="problem"
    @update:model-value="(v) => emit('change', v ?? word)"
  />
  <RecordRow
    v-else-if="field.kind === 'record'"
    :field="field"
    :value="value"
    :problem="problem"
    @change="(v) => emit('change', v)"
  />
  <NumbersRow
    v-else-if="field.kind === 'numbers'"
    :field="field"
    :value="value"
    :problem="problem"
    @change="(v) => emit('change', v)"
  />
  <div v-else class="row">
    <label :for="id">{{ field.name }}</label>
    <ElSwitch
      v-if="field.kind === 'switch'"
      :id="id"
      class="switch"
      size="small"
      :model-value="value === true"
      @change="(v) => emit('change', v === true ? true : null)"
    />
    <ElSelect
      v-else-if="field.kind === 'words'"
      :id="id"
      multiple
      :persistent="false"
      :model-value="Array.isArray(value) ? value : []"
      placeholder="as it suits"
      @change="(v: string[]) => emit('change', v.length > 0 ? v : null)"
    >
      <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
    </ElSelect>
    <ElSelect
      v-else
      :id="id"
      :persistent="false"
      :model-value="typeof value === 'string' ? value : field.default"
      :placeholder="choice"
      @change="(v: string) => emit('change', v)"
    >
      <template #label>{{ choice }}</template>
      <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
    </ElSelect>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.switch {
  justify-self: start;
}
</style>
