<script setup lang="ts">
import { ElButton } from 'element-plus'
import { nextTick, onMounted, ref } from 'vue'

/** The name of a block that is being made of what is chosen. */
const { count } = defineProps<{ count: number }>()
const emit = defineEmits<{ make: [name: string]; close: [] }>()

const name = ref('')
const field = ref<HTMLInputElement | null>(null)
onMounted(async () => {
  await nextTick()
  field.value?.focus()
})
</script>

<template>
  <form class="block" @submit.prevent="name.trim() && emit('make', name.trim())">
    <p>
      {{ count === 1 ? 'The chosen part becomes' : `The ${count} chosen parts become` }} a block, used once where they
      stand. Nets that lead outside are its pins. It can then be placed again, and opened to be changed: every place
      follows.
    </p>
    <label
      >Name <input ref="field" v-model="name" class="text-field" maxlength="60" spellcheck="false" placeholder="stage"
    /></label>
    <footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" native-type="submit" :disabled="name.trim() === ''">Make the block</ElButton>
    </footer>
  </form>
</template>

<style scoped>
.block {
  display: grid;
  gap: 12px;
}

p {
  margin: 0;
  color: var(--ink-soft);
}

label {
  display: flex;
  gap: 10px;
  align-items: center;
}

input {
  flex: 1;
}

footer {
  display: flex;
  gap: 8px;
  justify-content: flex-end;
}

footer :deep(.el-button) {
  margin: 0;
}
</style>
