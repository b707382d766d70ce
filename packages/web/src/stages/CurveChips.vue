<script setup lang="ts">
import { signalColor } from './instrument/Over'

/** The curves along an axis, each in its colour: its expression can be changed, or it goes. */
const {
  signals,
  drawn = 0,
  where = '',
  keepsOne = false,
} = defineProps<{
  signals: readonly string[]
  /** Curves of the diagram that come before. */
  drawn?: number
  /** Said behind what a button does. */
  where?: string
  /** One has to stay. */
  keepsOne?: boolean
}>()
const emit = defineEmits<{ change: [signal: string]; drop: [signal: string] }>()
const ink = (k: number) => ({ color: `var(--curve-${signalColor(drawn + k) + 1})` })
</script>

<template>
  <span v-for="(signal, k) in signals" :key="signal" class="chip" :style="ink(k)">
    <button type="button" class="plain-button" title="Change the expression" @click="emit('change', signal)">
      {{ signal }}
    </button>
    <button
      v-if="!keepsOne || signals.length > 1"
      type="button"
      class="plain-button"
      :aria-label="`No longer draw ${signal}${where}`"
      @click="emit('drop', signal)"
    >
      ×
    </button>
  </span>
</template>

<style scoped>
.chip {
  display: inline-flex;
  align-items: baseline;
  max-width: 240px;
  font-weight: 600;
}

.chip button {
  overflow: hidden;
  color: inherit;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
