<script setup lang="ts">
import type { Circuit } from '@voskel/core'
import { computed } from 'vue'
import CircuitLayers from './CircuitLayers.vue'
import { resistorLook } from './look'
import { GRID, sceneOf } from './scene'

/** A circuit too small to be read: the shape is what is known again. Width and height in px. */
const { circuit, width, height } = defineProps<{ circuit: Circuit; width: number; height: number }>()

const scene = computed(() => sceneOf(circuit, undefined, resistorLook.value))
const placed = computed(() => {
  const bounds = scene.value.bounds
  if (!bounds) return {}
  const [w, h] = [(bounds.right - bounds.left) * GRID, (bounds.bottom - bounds.top) * GRID]
  const k = Math.min(width / w, height / h, 0.5)
  const x = (width - k * w) / 2 - k * bounds.left * GRID
  const y = (height - k * h) / 2 - k * bounds.top * GRID
  return {
    transform: `translate(${x}px, ${y}px) scale(${k})`,
    // As thick on the screen whatever the size.
    '--wire': `${1 / k}px`,
    '--stroke': 1.1 / (k * GRID),
  }
})
</script>

<template>
  <span class="picture" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true"
    ><span class="world" :style="placed"><CircuitLayers :scene="scene" /></span
  ></span>
</template>

<style scoped>
.picture {
  position: relative;
  display: block;
  flex: none;
  overflow: hidden;
}

.world :deep(.words) {
  display: none;
}

.world :deep(.wires path) {
  stroke-width: var(--wire);
}

.world :deep(.symbols path) {
  stroke-width: var(--stroke);
}

.world {
  position: absolute;
  top: 0;
  left: 0;
  transform-origin: 0 0;
}
</style>
