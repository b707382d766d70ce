<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { FONT, plotChart, type PlotChart } from './chart'
import type { Palette } from './palette'
import type { Plot } from './plot'

/** A line that can be dragged: at a place on one axis, over a stretch of the other; or a point, along both. */
export interface Handle {
  readonly id: string
  readonly axis: 'x' | 'y' | 'both'
  /** Along its axis; of a point along x. */
  readonly at: number
  /** Of a point. */
  readonly y?: number
  /** Stretch on the other axis within which it can be grasped; open where left out. */
  readonly from?: number
  readonly to?: number
}

/**
 * A diagram with a cursor that follows pointer or arrow keys, and edges that can be dragged. Ctrl+wheel or pinch zooms
 * along x, a stretch that is drawn out is seen alone, Shift+drag pans, a double click shows everything again.
 */
const {
  plot,
  palette,
  handles = [],
  ranged = false,
  description,
} = defineProps<{
  plot: Plot
  palette: Palette
  handles?: readonly Handle[]
  /** A stretch along x can be drawn out, to be seen alone. */
  ranged?: boolean
  /** What is seen, for those who do not see it. */
  description: string
}>()
const emit = defineEmits<{
  cursor: [x: number]
  /** Of a point with its value along y. */
  drag: [id: string, value: number, y: number]
  dropped: [id: string]
  range: [from: number, to: number]
  /** Everything is to be seen again. */
  all: []
}>()

const canvas = ref<HTMLCanvasElement | null>(null)
let chart: PlotChart | null = null
const dragging = shallowRef<Handle | null>(null)

/** The stretch that is being drawn out, px. */
const stretch = shallowRef<{ from: number; to: number } | null>(null)

const GRASP_PX = 7
const GRASPS = { x: 'ew-resize', y: 'ns-resize', both: 'move' } as const
/** px from which on a stretch is meant. */
const LEAST_STRETCH = 10
const KEY_STEP = 0.01

onMounted(() => {
  chart = plotChart(canvas.value!, plot, palette)
  // A canvas does not follow a font that comes late by itself.
  if (!document.fonts.check(FONT)) void document.fonts.load(FONT).then(() => chart?.show(plot, palette))
})
onBeforeUnmount(() => {
  chart?.destroy()
  chart = null
})
watch([() => plot, () => palette], ([next, colors]) => chart?.show(next, colors))

function place(event: PointerEvent) {
  const box = canvas.value!.getBoundingClientRect()
  return { px: event.clientX - box.left, py: event.clientY - box.top }
}

/** The handle under the pointer, if any. */
function handleAt(px: number, py: number): Handle | null {
  if (!chart) return null
  for (const h of handles) {
    if (h.axis === 'both') {
      if (Math.hypot(px - chart.x.place(h.at), py - chart.y.place(h.y ?? 0)) <= GRASP_PX + 2) return h
      continue
    }
    const [own, other] = h.axis === 'x' ? [chart.x, chart.y] : [chart.y, chart.x]
    const [along, across] = h.axis === 'x' ? [px, py] : [py, px]
    if (Math.abs(along - own.place(h.at)) > GRASP_PX) continue
    const { min, max } = other.axis
    const ends = [h.from ?? min, h.to ?? max].map((v) => other.place(v)).sort((a, b) => a - b)
    if (across >= ends[0]! - GRASP_PX && across <= ends[1]! + GRASP_PX) return h
  }
  return null
}

function down(event: PointerEvent) {
  const { px, py } = place(event)
  const handle = handleAt(px, py)
  if (event.shiftKey || event.button !== 0) return
  if (handle) {
    dragging.value = handle
    event.preventDefault()
  } else if (ranged && chart && isInside(px, py) && !plot.square) stretch.value = { from: px, to: px }
  else return
  canvas.value!.setPointerCapture(event.pointerId)
}

function isInside(px: number, py: number): boolean {
  const { left, right, top, bottom } = chart!.area
  return px >= left && px <= right && py >= top && py <= bottom
}

function move(event: PointerEvent) {
  if (!chart) return
  const { px, py } = place(event)
  const handle = dragging.value
  if (handle) {
    const value = handle.axis === 'y' ? chart.y.value(py) : chart.x.value(px)
    if (Number.isFinite(value)) emit('drag', handle.id, value, chart.y.value(py))
    return
  }
  if (stretch.value) {
    const { left, right } = chart.area
    stretch.value = { ...stretch.value, to: Math.min(right, Math.max(left, px)) }
  }
  const over = handleAt(px, py)
  canvas.value!.style.cursor = over ? GRASPS[over.axis] : 'crosshair'
  if (px >= chart.area.left && px <= chart.area.right) emit('cursor', chart.x.value(px))
}

function up() {
  if (stretch.value && chart) {
    const [from, to] = [stretch.value.from, stretch.value.to].sort((a, b) => a - b) as [number, number]
    stretch.value = null
    if (to - from >= LEAST_STRETCH) emit('range', chart.x.value(from), chart.x.value(to))
  }
  if (!dragging.value) return
  emit('dropped', dragging.value.id)
  dragging.value = null
}

/** Arrow keys move the cursor along x by a hundredth of the axis, with Shift by a tenth. */
function key(event: KeyboardEvent) {
  if (!chart || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return
  const { left, right } = chart.area
  const from = typeof plot.cursor === 'number' ? chart.x.place(plot.cursor) : (left + right) / 2
  const step = (event.key === 'ArrowRight' ? 1 : -1) * (right - left) * KEY_STEP * (event.shiftKey ? 10 : 1)
  emit('cursor', chart.x.value(Math.min(right, Math.max(left, from + step))))
  event.preventDefault()
}

function showAll() {
  chart?.showAll()
  emit('all')
}

function cancel() {
  stretch.value = null
  up()
}
</script>

<template>
  <div class="diagram">
    <canvas
      ref="canvas"
      role="img"
      tabindex="0"
      :aria-label="description"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="cancel"
      @keydown.escape="stretch = null"
      @dblclick="showAll"
      @keydown="key"
    />
    <div
      v-if="stretch"
      class="stretch"
      :style="{ left: `${Math.min(stretch.from, stretch.to)}px`, width: `${Math.abs(stretch.to - stretch.from)}px` }"
    />
  </div>
</template>

<style scoped>
.diagram {
  position: relative;
  min-width: 0;
  min-height: 0;
}

canvas {
  touch-action: pan-y;
}

.stretch {
  position: absolute;
  top: 12px;
  bottom: 42px;
  border: solid var(--accent);
  border-width: 0 1px;
  background: var(--accent);
  opacity: 0.18;
  pointer-events: none;
}
</style>
