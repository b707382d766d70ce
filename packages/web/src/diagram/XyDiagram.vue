<script setup lang="ts">
import type { ChartOptions } from 'chart.js'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { Chart, FONT } from './chart'
import { usePalette } from './palette'
import { logTicks, tickText } from './ticks'

/** A curve: arrays of equal length. */
export interface Series {
  label: string
  x: ArrayLike<number>
  y: ArrayLike<number>
  /** Index into the palette's curves. */
  color: number
  dash?: number[]
}

export interface DiagramAxis {
  title: string
  log?: boolean
  min?: number
  max?: number
  /** Numbers take SI prefixes; not for dB and degrees. */
  prefixes?: boolean
  /** Distance of ticks, for degrees. */
  step?: number
}

/** A line that can be dragged: at a place on one axis, over a stretch of the other. */
export interface Handle {
  id: string
  axis: 'x' | 'y'
  at: number
  /** Stretch on the other axis within which it can be grasped; open where left out. */
  from?: number
  to?: number
}

/**
 * A diagram of curves with annotations, a cursor that follows pointer or arrow keys, and edges that can be dragged.
 * Ctrl+wheel or pinch zooms along x, Shift+drag pans, a double click shows everything again.
 */
const {
  series,
  x,
  y,
  annotations,
  handles = [],
  cursor = null,
  description,
} = defineProps<{
  series: readonly Series[]
  x: DiagramAxis
  y: DiagramAxis
  annotations?: Readonly<Record<string, AnnotationOptions>>
  handles?: readonly Handle[]
  cursor?: number | null
  /** What is seen, for those who do not see it. */
  description: string
}>()
const emit = defineEmits<{ cursor: [x: number]; drag: [id: string, value: number]; dropped: [id: string] }>()

const canvas = ref<HTMLCanvasElement | null>(null)
const palette = usePalette()
let chart: Chart<'line', { x: number; y: number }[]> | null = null
const dragging = shallowRef<Handle | null>(null)
/** The stretch of x that was zoomed to; null shows everything. */
const zoomed = shallowRef<{ min: number; max: number } | null>(null)
const keepZoom = ({ chart: { scales } }: { chart: Chart }) =>
  (zoomed.value = { min: scales.x!.min, max: scales.x!.max })

const GRASP_PX = 7
const KEY_STEP = 0.01

const datasets = computed(() =>
  series.map((s) => ({
    label: s.label,
    data: Array.from(s.x, (v, k) => ({ x: v, y: s.y[k]! })),
    borderColor: palette.value.curves[s.color % palette.value.curves.length],
    borderDash: s.dash ?? [],
    borderWidth: 2,
    borderJoinStyle: 'round' as const,
    pointRadius: 0,
    spanGaps: true,
    parsing: false as const,
    normalized: true,
  })),
)

const options = computed<ChartOptions<'line'>>(() => {
  const p = palette.value
  const axis = (a: DiagramAxis, isX: boolean) => ({
    type: a.log ? ('logarithmic' as const) : ('linear' as const),
    min: (isX ? zoomed.value?.min : undefined) ?? a.min,
    max: (isX ? zoomed.value?.max : undefined) ?? a.max,
    title: { display: true, text: a.title, color: p.soft, padding: 2 },
    grid: { color: p.grid, drawTicks: false },
    border: { color: p.line },
    ...(a.log && {
      afterBuildTicks: (scale: { min: number; max: number; ticks: { value: number }[] }) => {
        scale.ticks = logTicks(scale.min, scale.max).map((value) => ({ value }))
      },
    }),
    ...(!isX && { afterFit: (scale: { width: number }) => (scale.width = 68) }),
    ticks: {
      color: p.soft,
      padding: 6,
      maxRotation: 0,
      // All labels of an axis are of one length or nearly so: a few are measured for all.
      sampleSize: 4,
      autoSkip: isX,
      ...(a.step && { stepSize: a.step }),
      callback: (value: number | string) => tickText(Number(value), a.prefixes ?? true),
    },
  })
  return {
    responsive: true,
    normalized: true,
    maintainAspectRatio: false,
    events: [],
    layout: { autoPadding: false, padding: { right: 8, top: 4 } },
    scales: { x: axis(x, true), y: axis(y, false) } as ChartOptions<'line'>['scales'],
    plugins: {
      legend: { display: false },
      endLabels: { halo: p.paper },
      annotation: { clip: true, annotations: {} },
      zoom: {
        zoom: {
          wheel: { enabled: true, modifierKey: 'ctrl' },
          pinch: { enabled: true },
          mode: 'x',
          onZoomComplete: keepZoom,
        },
        pan: { enabled: true, modifierKey: 'shift', mode: 'x', onPanComplete: keepZoom },
      },
    } as ChartOptions<'line'>['plugins'],
  }
})

const marks = computed<Record<string, AnnotationOptions>>(() => ({
  ...annotations,
  ...(cursor !== null && {
    cursor: {
      type: 'line',
      xMin: cursor,
      xMax: cursor,
      borderColor: palette.value.ink,
      borderWidth: 1,
      borderDash: [2, 3],
    },
  }),
}))

/** New options with the marks of the moment in them. */
function marked(looks: ChartOptions<'line'>): ChartOptions<'line'> {
  looks.plugins!.annotation!.annotations = marks.value
  return looks
}

onMounted(() => {
  chart = new Chart(canvas.value!, { type: 'line', data: { datasets: datasets.value }, options: marked(options.value) })
})
// A canvas does not follow a font that comes late by itself.
if (!document.fonts.check(FONT)) void document.fonts.load(FONT).then(() => chart?.update('none'))
onBeforeUnmount(() => {
  chart?.destroy()
  chart = null
})
watch([datasets, options, marks], ([sets, looks], [, before]) => {
  if (!chart) return
  chart.data.datasets = sets
  // New options are worked out from scratch, which costs more than the drawing; marks alone are exchanged in place.
  if (looks !== before) chart.options = marked(looks)
  else chart.options.plugins!.annotation!.annotations = marks.value
  chart.update('none')
})

function place(event: PointerEvent) {
  const box = canvas.value!.getBoundingClientRect()
  return { px: event.clientX - box.left, py: event.clientY - box.top }
}

/** The handle under the pointer, if any. */
function handleAt(px: number, py: number): Handle | null {
  if (!chart) return null
  const { x: sx, y: sy } = chart.scales as Record<'x' | 'y', NonNullable<typeof chart.scales.x>>
  for (const h of handles) {
    const [own, other] = h.axis === 'x' ? [sx, sy] : [sy, sx]
    const [along, across] = h.axis === 'x' ? [px, py] : [py, px]
    if (Math.abs(along - own.getPixelForValue(h.at)) > GRASP_PX) continue
    const ends = [h.from ?? other.min, h.to ?? other.max].map((v) => other.getPixelForValue(v)).sort((a, b) => a - b)
    if (across >= ends[0]! - GRASP_PX && across <= ends[1]! + GRASP_PX) return h
  }
  return null
}

function down(event: PointerEvent) {
  const { px, py } = place(event)
  const handle = handleAt(px, py)
  if (!handle || event.shiftKey) return
  dragging.value = handle
  canvas.value!.setPointerCapture(event.pointerId)
  event.preventDefault()
}

function move(event: PointerEvent) {
  if (!chart) return
  const { px, py } = place(event)
  const handle = dragging.value
  if (handle) {
    const value = handle.axis === 'x' ? chart.scales.x!.getValueForPixel(px) : chart.scales.y!.getValueForPixel(py)
    if (value !== undefined && Number.isFinite(value)) emit('drag', handle.id, value)
    return
  }
  const over = handleAt(px, py)
  canvas.value!.style.cursor = over ? (over.axis === 'x' ? 'ew-resize' : 'ns-resize') : 'crosshair'
  const area = chart.chartArea
  if (px >= area.left && px <= area.right) emit('cursor', chart.scales.x!.getValueForPixel(px)!)
}

function up() {
  if (!dragging.value) return
  emit('dropped', dragging.value.id)
  dragging.value = null
}

/** Arrow keys move the cursor along x by a hundredth of the axis, with Shift by a tenth. */
function key(event: KeyboardEvent) {
  if (!chart || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return
  const scale = chart.scales.x!
  const from = cursor ?? (x.log ? Math.sqrt(scale.min * scale.max) : (scale.min + scale.max) / 2)
  const width = scale.right - scale.left
  const step = (event.key === 'ArrowRight' ? 1 : -1) * width * KEY_STEP * (event.shiftKey ? 10 : 1)
  const px = Math.min(scale.right, Math.max(scale.left, scale.getPixelForValue(from) + step))
  emit('cursor', scale.getValueForPixel(px)!)
  event.preventDefault()
}

const showAll = () => (zoomed.value = null)
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
      @pointercancel="up"
      @dblclick="showAll"
      @keydown="key"
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
</style>
