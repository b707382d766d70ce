<script setup lang="ts">
import { type NumbersField, parseQuantity, VoskelError } from '@voskel/core'
import { ElInput } from 'element-plus'
import { ref, useId, watch } from 'vue'

/** Numbers of one unit, apart by spaces. */
const { field, value, problem = '' } = defineProps<{ field: NumbersField; value: unknown; problem?: string }>()
const emit = defineEmits<{ change: [value: readonly number[] | null] }>()
const id = useId()

const written = () => (Array.isArray(value) ? value.join(' ') : '')
const text = ref(written())
const unread = ref('')
watch(
  () => value,
  () => (text.value = written()),
)

function set() {
  unread.value = ''
  const words = text.value.split(/[\s;]+/).filter(Boolean)
  try {
    emit('change', words.length > 0 ? words.map((w) => parseQuantity(w, field.unit)) : null)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    const example = Array.from({ length: field.count ?? 2 }, (_, k) => k + 1).join(' ')
    unread.value = `Numbers in ${field.unit}, apart by spaces, such as ${example}.`
  }
}
</script>

<template>
  <div class="row">
    <label :for="id">{{ field.name }}, {{ field.unit }}</label>
    <ElInput
      :id="id"
      v-model="text"
      placeholder="as it comes"
      :aria-invalid="Boolean(unread || problem)"
      @change="set"
    />
    <p v-if="unread || problem" class="bad" role="alert">{{ unread || problem }}</p>
  </div>
</template>

<style scoped src="./specifyForm.css"></style>
