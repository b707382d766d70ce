<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js'
import { TYPE } from './chart'
import type { Palette } from './palette'
import { tickText } from './ticks'

/** Points of two figures against each other; a filled circle meets everything, an open square does not. */
export interface ScatterPoint {
  readonly x: number
  readonly y: number
  readonly good: boolean
  readonly chosen: boolean
  readonly label: string
}

Chart.register(LineController, LineElement, PointElement, LinearScale)
Chart.defaults.font.family = TYPE.family

const { points, palette, xTitle, yTitle, description } = defineProps<{
  palette: Palette
  points: readonly ScatterPoint[]
  xTitle: string
  yTitle: string
  description: string
}>()
const emit = defineEmits<{ pick: [index: number] }>()

const canvas = ref<HTMLCanvasElement | null>(null)
let chart: Chart<'line', { x: number; y: number }[]> | null = null

function draw() {
  if (!canvas.value) return
  const p = palette
  const axis = (text: string) => ({
    type: 'linear' as const,
    title: { display: true, text, color: p.soft, padding: 2 },
    grid: { color: p.grid, drawTicks: false },
    border: { color: p.line },
    ticks: {
      color: p.soft,
      padding: 6,
      maxRotation: 0,
      callback: (value: number | string) => tickText(Number(value), true),
    },
  })
  const color = points.map((q) => (q.chosen ? p.curves[1]! : q.good ? p.met : p.soft))
  chart?.destroy()
  chart = new Chart(canvas.value, {
    type: 'line',
    data: {
      datasets: [
        {
          data: points.map(({ x, y }) => ({ x, y })),
          showLine: false,
          pointRadius: points.map((q) => (q.chosen ? 6 : 4)),
          pointStyle: points.map((q) => (q.good ? 'circle' : 'rect')),
          pointBorderColor: color,
          pointBackgroundColor: points.map((q, k) => (q.good || q.chosen ? color[k]! : 'transparent')),
          parsing: false,
        },
      ],
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      scales: { x: axis(xTitle), y: axis(yTitle) },
      onClick: (_event, hit) => hit[0] && emit('pick', hit[0].index),
    },
  })
}

onMounted(draw)
watch([() => points, () => xTitle, () => yTitle, () => palette], draw)
onBeforeUnmount(() => chart?.destroy())
</script>

<template>
  <div class="scatter">
    <canvas ref="canvas" role="img" :aria-label="description" />
  </div>
</template>

<style scoped>
.scatter {
  position: relative;
  min-width: 0;
  min-height: 0;
}
</style>
