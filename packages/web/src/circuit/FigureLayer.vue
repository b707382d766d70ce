<script lang="ts">
import type { Figure } from '@voskel/core'
import type { Plot } from '../diagram/plot'

/** A diagram on the sheet, as it is drawn. */
export interface FigureOnSheet extends Pick<Figure, 'id' | 'at' | 'width' | 'height'> {
  readonly plot: Plot
  /** For those who do not see it. */
  readonly says: string
}
</script>

<script setup lang="ts">
import type { FigureFrame, GridPoint } from '@voskel/core'
import { nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { paintPicture } from '../diagram/paintPicture'
import type { Palette } from '../diagram/palette'
import { GRID } from './scene'

/** Diagrams that lie on the sheet and follow the circuit: drawn to another place or size by hand or by arrow keys. */
const { figures, palette, zoom } = defineProps<{
  figures: readonly FigureOnSheet[]
  palette: Palette
  /** px of the screen for one of the sheet, now. */
  zoom: () => number
}>()
const emit = defineEmits<{ frame: [id: string, frame: FigureFrame, group: string]; remove: [id: string] }>()

const canvases = useTemplateRef<HTMLCanvasElement[]>('canvases')
/** Dots for each px, so that a magnified sheet stays sharp. */
const DOTS = 2

function paint() {
  figures.forEach(({ plot, width, height }, k) => {
    const canvas = canvases.value?.[k]
    if (canvas) paintPicture(canvas, plot, palette, { width: width * GRID, height: height * GRID }, DOTS)
  })
}
onMounted(() => {
  paint()
  // A canvas does not follow a font that comes late by itself.
  void document.fonts.ready.then(paint)
})
watch([() => figures, () => palette], () => void nextTick(paint))

/** The figure as it was when it was taken hold of; `sizes` where that was at its corner. */
const dragging = ref<{ figure: FigureOnSheet; sizes: boolean; x: number; y: number } | null>(null)
let drags = 0
function press(figure: FigureOnSheet, sizes: boolean, event: PointerEvent) {
  if (event.button !== 0) return
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  dragging.value = { figure, sizes, x: event.clientX, y: event.clientY }
}
function move(event: PointerEvent) {
  const now = dragging.value
  if (!now) return
  const grid = (px: number) => Math.round(px / (GRID * zoom()))
  frame(now.figure, now.sizes, { x: grid(event.clientX - now.x), y: grid(event.clientY - now.y) })
}
function lift() {
  if (dragging.value) drags++
  dragging.value = null
}

/** Moves or sizes a figure by so much of what it was. */
function frame({ id, at, width, height }: FigureOnSheet, sizes: boolean, by: GridPoint) {
  const next = sizes
    ? { at, width: width + by.x, height: height + by.y }
    : { at: { x: at.x + by.x, y: at.y + by.y }, width, height }
  const before = figures.find((f) => f.id === id)
  const isOther = before && (['width', 'height'] as const).some((k) => before[k] !== next[k])
  if (before && (isOther || before.at.x !== next.at.x || before.at.y !== next.at.y))
    emit('frame', id, next, `figure ${drags}`)
}

const STEPS: Readonly<Record<string, GridPoint>> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
}
function key(figure: FigureOnSheet, event: KeyboardEvent) {
  const step = STEPS[event.key]
  if (step) frame(figure, event.shiftKey, step)
  else if (event.key === 'Delete' || event.key === 'Backspace') emit('remove', figure.id)
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    v-for="f in figures"
    :key="f.id"
    class="figure"
    tabindex="0"
    role="group"
    :aria-label="`${f.says}. Arrow keys move it, with Shift they size it, Delete takes it away`"
    :style="{
      left: `${f.at.x * GRID}px`,
      top: `${f.at.y * GRID}px`,
      width: `${f.width * GRID}px`,
      height: `${f.height * GRID}px`,
    }"
    @pointerdown.stop="press(f, false, $event)"
    @pointermove="move"
    @pointerup.stop="lift"
    @pointercancel="lift"
    @keydown="key(f, $event)"
  >
    <canvas ref="canvases" aria-hidden="true" />
    <button
      type="button"
      class="plain-button"
      :aria-label="`Take ${f.id} off the drawing`"
      @pointerdown.stop
      @click.stop="emit('remove', f.id)"
    >
      ×
    </button>
    <span class="corner" aria-hidden="true" @pointerdown.stop="press(f, true, $event)" />
  </div>
</template>

<style scoped>
.figure {
  position: absolute;
  border: 1px solid var(--line-strong);
  background: var(--paper);
  cursor: move;
}

.figure:focus-visible {
  outline: 2px solid var(--focus);
}

canvas {
  width: 100%;
  height: 100%;
}

button {
  position: absolute;
  top: 0;
  right: 2px;
  cursor: pointer;
  opacity: 0;
}

.corner {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 12px;
  height: 12px;
  border-right: 3px solid var(--line-strong);
  border-bottom: 3px solid var(--line-strong);
  cursor: nwse-resize;
}

.figure:hover button,
.figure:focus-within button {
  opacity: 1;
}
</style>
