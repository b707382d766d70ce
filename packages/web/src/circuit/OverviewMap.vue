<script setup lang="ts">
import { computed, ref } from 'vue'
import { rectOf } from './gestureShapes'
import { GRID, type Scene } from './scene'
import type { Viewport } from './viewport'

/** The whole drawing, small, with what of it is in view; a press or a drag takes the sheet there. */
const { scene, viewport } = defineProps<{ scene: Scene; viewport: Viewport }>()

const root = ref<SVGSVGElement | null>(null)
const wires = computed(() => scene.wires.map((w) => w.d).join(''))
const symbols = computed(() =>
  scene.symbols
    .map(({ box }) => {
      const { x, y, width, height } = rectOf(box)
      return `M${x} ${y}h${width}v${height}h${-width}Z`
    })
    .join(''),
)
const whole = computed(() => {
  const { x, y, width, height } = rectOf(scene.bounds!, 2 * GRID)
  return `${x} ${y} ${width} ${height}`
})

/** What is in view, in grid units. */
const seen = computed(() => viewport.seen())

function go(event: PointerEvent) {
  if (event.type === 'pointermove' && event.buttons === 0) return
  const matrix = root.value?.getScreenCTM()
  if (!matrix) return
  if (event.type === 'pointerdown') root.value?.setPointerCapture(event.pointerId)
  const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  viewport.centre({ x: x / GRID, y: y / GRID })
}
</script>

<template>
  <svg
    ref="root"
    class="map"
    role="img"
    aria-label="The whole drawing; press where to look"
    :viewBox="whole"
    @pointerdown.stop="go"
    @pointermove.stop="go"
  >
    <path class="wires" :d="wires" vector-effect="non-scaling-stroke" />
    <path class="symbols" :d="symbols" />
    <rect class="seen" v-bind="rectOf(seen)" vector-effect="non-scaling-stroke" />
  </svg>
</template>

<style scoped>
.map {
  position: absolute;
  right: 10px;
  bottom: 10px;
  z-index: 2;
  width: 190px;
  height: 110px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--raised);
  cursor: crosshair;
}

.wires {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1;
}

.symbols {
  fill: var(--ink-soft);
}

.seen {
  fill: var(--accent-soft);
  fill-opacity: 0.4;
  stroke: var(--accent);
  stroke-width: 1.5;
}
</style>
