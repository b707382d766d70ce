<script setup lang="ts">
import type { RecordField } from '@voskel/core'
import { ElOption, ElSelect } from 'element-plus'
import { computed, useId } from 'vue'
import QuantityField from '../components/QuantityField.vue'

/** A word for values that are known, or the values themselves. */
const { field, value, problem = '' } = defineProps<{ field: RecordField; value: unknown; problem?: string }>()
const emit = defineEmits<{ change: [value: string | Readonly<Record<string, number>> | null] }>()
const id = useId()

const OWN = 'own'
const own = computed(() => (typeof value === 'object' && value !== null ? (value as Record<string, number>) : null))
const chosen = computed(() => (own.value ? OWN : typeof value === 'string' ? value : field.default))
const name = computed(() => field.choices.find((c) => c.id === chosen.value)?.name ?? 'Own values')

const choose = (next: string) => emit('change', next === OWN ? {} : next === field.default ? null : next)

function set(part: string, next: number | null) {
  const { [part]: _old, ...rest } = own.value ?? {}
  emit('change', next === null ? rest : { ...rest, [part]: next })
}
</script>

<template>
  <div class="row">
    <label :for="id">{{ field.name }}</label>
    <ElSelect :id="id" :persistent="false" :model-value="chosen" @change="choose">
      <template #label>{{ name }}</template>
      <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
      <ElOption :value="OWN" label="Own values" />
    </ElSelect>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </div>
  <template v-if="own">
    <QuantityField
      v-for="part in field.fields"
      :key="part.id"
      :label="part.name"
      :unit="part.unit"
      optional
      placeholder="ideal"
      :model-value="own[part.id] ?? null"
      @update:model-value="(v) => set(part.id, v)"
    />
  </template>
</template>

<style scoped src="./specifyForm.css"></style>
