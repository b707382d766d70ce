<script setup lang="ts">
import { ElSwitch } from 'element-plus'

/** A small switch with its words beside it. */
const { on, name } = defineProps<{
  on: boolean
  /** What assistive technology calls it, where the words beside it say less. */
  name: string
}>()
const emit = defineEmits<{ turn: [on: boolean] }>()
</script>

<template>
  <label class="switch"
    ><ElSwitch :model-value="on" size="small" :aria-label="name" @change="(to) => emit('turn', to === true)" /> <slot
  /></label>
</template>

<style scoped>
.switch {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  color: var(--ink-soft);
}
</style>
