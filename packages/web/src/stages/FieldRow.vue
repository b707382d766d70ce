<script setup lang="ts">
import type { ChoiceField, QuantityField as Quantity } from '@voskel/core'
import { ElOption, ElSelect } from 'element-plus'
import { computed, useId } from 'vue'
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
/** What an empty field says of a quantity. */
const word = computed(() => (field.kind === 'quantity' && !field.optional && field.word) || null)
const canBeEmpty = computed(() => field.kind === 'quantity' && (field.optional === true || word.value !== null))
</script>

<template>
  <QuantityField
    v-if="field.kind === 'quantity'"
    :label="field.name"
    :unit="field.unit"
    :optional="canBeEmpty"
    :placeholder="canBeEmpty ? (field.empty ?? field.word) : undefined"
    :model-value="typeof value === 'number' ? value : null"
    :problem="problem"
    @update:model-value="(v) => emit('change', v ?? word)"
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
