<script setup lang="ts">
import { Handle, Position } from '@vue-flow/core'

/** Where wires meet. */
defineProps<{ data: { dot: boolean } }>()
</script>

<template>
  <div class="junction">
    <span v-if="data.dot" class="dot" />
    <Handle id="j" type="source" :position="Position.Top" class="pin" />
  </div>
</template>

<style scoped>
.junction {
  width: 8px;
  height: 8px;
}

.dot {
  position: absolute;
  inset: 0.5px;
  border-radius: 50%;
  background: var(--ink);
}

.pin {
  top: 4px;
  left: 4px;
  width: 1px;
  min-width: 1px;
  height: 1px;
  min-height: 1px;
  border: 0;
  background: none;
  pointer-events: none;
}
</style>
