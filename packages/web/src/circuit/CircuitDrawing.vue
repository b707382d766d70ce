<script setup lang="ts">
import type { Circuit } from '@voskel/core'
import { computed, nextTick, ref, watch } from 'vue'
import CircuitLayers from './CircuitLayers.vue'
import { resistorLook } from './look'
import { EMPTY_SCENE, GRID, sceneOf } from './scene'
import { useViewport } from './viewport'

/** A circuit to be looked at: drag moves the sheet, the wheel zooms. */
const { circuit } = defineProps<{ circuit: Circuit }>()

const root = ref<HTMLElement | null>(null)
const world = ref<HTMLElement | null>(null)
const viewport = useViewport(root, { world }, () => true)

/** Zoom below which names and values are too small to read. */
const READABLE = 0.72

const sheet = computed(() => {
  const { width, height } = viewport.size.value
  return width > 0 ? { width: width / (GRID * READABLE), height: height / (GRID * READABLE) } : undefined
})
const scene = computed(() => (sheet.value ? sceneOf(circuit, sheet.value, resistorLook.value) : EMPTY_SCENE))
watch(
  [scene, viewport.size],
  async () => {
    await nextTick()
    viewport.fit(scene.value.bounds)
  },
  { immediate: true },
)
</script>

<template>
  <div ref="root" class="drawing" role="img" aria-label="Circuit drawing">
    <div ref="world" class="world"><CircuitLayers :scene="scene" /></div>
  </div>
</template>

<style scoped>
.drawing {
  position: relative;
  overflow: hidden;
  cursor: grab;
}

.world {
  position: absolute;
  top: 0;
  left: 0;
  transform-origin: 0 0;
}
</style>
