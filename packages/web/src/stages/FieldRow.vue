<script setup lang="ts">
import type { ChoiceField, QuantityField as Quantity } from '@voskel/core'
import { ElOption, ElSelect } from 'element-plus'
import { useId } from 'vue'
import QuantityField from '../components/QuantityField.vue'

/** A quantity or a choice that a response or a realization has of its own. */
const {
  field,
  value,
  problem = '',
} = defineProps<{
  field: Quantity | ChoiceField
  value: unknown
  problem?: string
}>()
const emit = defineEmits<{ change: [value: number | string | null] }>()
const id = useId()
</script>

<template>
  <QuantityField
    v-if="field.kind === 'quantity'"
    :label="field.name"
    :unit="field.unit"
    :optional="field.optional ?? false"
    :placeholder="field.optional ? (field.empty ?? 'open') : undefined"
    :model-value="typeof value === 'number' ? value : null"
    :problem="problem"
    @update:model-value="(v) => emit('change', v)"
  />
  <div v-else class="row">
    <label :for="id">{{ field.name }}</label>
    <ElSelect
      :id="id"
      :persistent="false"
      :model-value="typeof value === 'string' ? value : field.default"
      :placeholder="field.choices.find((c) => c.id === field.default)?.name"
      @change="(v: string) => emit('change', v)"
    >
      <template #label>{{ field.choices.find((c) => c.id === (value ?? field.default))?.name }}</template>
      <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
    </ElSelect>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped src="./specifyForm.css"></style>
