<script setup lang="ts">
import { formatQuantity } from '@voskel/core'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import { computed } from 'vue'
import StageEmpty from './StageEmpty.vue'
import StageNote from './StageNote.vue'
import { usePalette } from '../diagram/palette'
import { roundTop } from '../diagram/values'
import XyDiagram, { type Series } from '../diagram/XyDiagram.vue'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'

/** The step response of the circuit, from the transient simulation, over the ideal one, with its measures marked. */
const results = useResultsStore()
const view = useViewStore()
const palette = usePalette()

const circuit = computed(() => results.circuit)
const ideal = computed(() => results.ideal)
const level = computed(() => 10 ** ((circuit.value?.referenceDb ?? 0) / 20))
const span = computed(() => results.window ?? 1)
/** The course in time of the circuit, and whether it is the answer to a unit step, which has measures. */
const driven = computed(() => results.time)
const isStep = computed(() => driven.value?.drive !== 'waveform')
const step = computed(() =>
  isStep.value ? (results.roots?.step ?? (driven.value ? null : ideal.value?.step) ?? null) : null,
)

const series = computed<Series[]>(() => {
  const list: Series[] = []
  if (ideal.value && isStep.value)
    list.push({
      label: 'ideal',
      x: ideal.value.time.time,
      y: ideal.value.time.value.map((v) => v * level.value),
      color: 1,
      dash: [7, 4],
    })
  if (driven.value) list.push({ label: 'circuit', x: driven.value.time, y: driven.value.value, color: 0 })
  return list
})

const annotations = computed<Record<string, AnnotationOptions>>(() => {
  const s = step.value
  const marks: Record<string, AnnotationOptions> = {}
  if (!s || s.final === null) return marks
  const scale = circuit.value ? 1 : level.value
  const final = s.final * scale
  const p = palette.value
  const label = (
    content: string,
    xValue: number,
    yValue: number,
    position: 'start' | 'end',
    yAdjust: number,
  ): AnnotationOptions => ({
    type: 'label',
    xValue,
    yValue,
    yAdjust,
    xAdjust: position === 'start' ? 6 : -6,
    position: { x: position, y: 'center' },
    content,
    color: p.ink,
    backgroundColor: p.paper,
    padding: 3,
    font: { size: 13 },
  })
  const line = (x0: number, x1: number, y0: number, y1: number): AnnotationOptions => ({
    type: 'line',
    xMin: x0,
    xMax: x1,
    yMin: y0,
    yMax: y1,
    borderColor: p.soft,
    borderWidth: 1,
    borderDash: [5, 4],
  })
  marks.band = {
    type: 'box',
    yMin: final * 0.99,
    yMax: final * 1.01,
    backgroundColor: p.mask,
    borderWidth: 0,
    drawTime: 'beforeDatasetsDraw',
  }
  marks.final = line(0, span.value, final, final)
  if (s.settlingTime !== null && s.settlingTime > 0) {
    marks.settled = line(s.settlingTime, s.settlingTime, 0, final)
    marks.settledLabel = label(
      `settled ${formatQuantity(s.settlingTime, 's')}`,
      s.settlingTime,
      final * 0.08,
      s.settlingTime > span.value / 2 ? 'end' : 'start',
      0,
    )
  }
  if (s.delay !== null && s.delay > 0) {
    marks.half = {
      type: 'point',
      xValue: s.delay,
      yValue: final / 2,
      radius: 4.5,
      backgroundColor: p.paper,
      borderColor: p.curves[0],
      borderWidth: 2,
    }
    marks.halfLabel = label(`50 % after ${formatQuantity(s.delay, 's')}`, s.delay, final / 2, 'start', 0)
  }
  if (s.overshootPercent && s.peak !== null && s.peakTime !== null) {
    marks.peak = {
      type: 'point',
      xValue: s.peakTime,
      yValue: s.peak * scale,
      radius: 4.5,
      backgroundColor: p.paper,
      borderColor: p.curves[0],
      borderWidth: 2,
    }
    marks.peakLabel = label(
      `overshoot ${formatQuantity(s.overshootPercent, '%')}`,
      s.peakTime,
      s.peak * scale,
      'start',
      -10,
    )
  }
  return marks
})

const yMax = computed(() => {
  const s = step.value
  if (!isStep.value || !s) return undefined
  const top = Math.max(s.peak ?? 1, s.final ?? 1) * (circuit.value ? 1 : level.value)
  return roundTop(top)
})

const cursor = computed(() => (view.cursor?.unit === 's' ? view.cursor.at : null))
const setCursor = (at: number) => (view.cursor = { unit: 's', at })

/** The simulated value at the cursor, by the straight line between the two nearest steps. */
const atCursor = computed(() => {
  const curve = driven.value ?? ideal.value?.time
  if (cursor.value === null || !curve) return null
  const t = Math.min(Math.max(cursor.value, 0), span.value)
  const k = Math.max(
    1,
    curve.time.findIndex((x) => x >= t),
  )
  const [t0, t1] = [curve.time[k - 1]!, curve.time[k]!]
  const [v0, v1] = [curve.value[k - 1]!, curve.value[k]!]
  const value = t1 > t0 ? v0 + ((v1 - v0) * (t - t0)) / (t1 - t0) : v1
  const part = step.value?.final ? `, ${formatQuantity((100 * value) / step.value.final, '%')} of the final value` : ''
  return `after ${formatQuantity(t, 's')}: ${formatQuantity(value, 'V')}${part}`
})

const figures = computed(() => {
  const s = step.value
  if (!s) return []
  const q = (value: number | null, unit: string) => (value === null ? '–' : formatQuantity(value, unit))
  return [
    ['rise 10–90 %', q(s.riseTime, 's')],
    ['delay to 50 %', q(s.delay, 's')],
    ['overshoot', q(s.overshootPercent, '%')],
    ['settled to 1 %', q(s.settlingTime, 's')],
    ['final', q(s.final === null ? null : s.final * (circuit.value ? 1 : level.value), 'V')],
  ]
})
const xAxis = computed(() => ({ title: 'Time, s', min: 0, max: span.value }))
/** The axis begins at zero unless the curve really goes below: the simulation's rounding is not worth a stripe. */
const yMin = computed(() => {
  const top = yMax.value
  if (top === undefined) return undefined
  const values = driven.value?.value ?? ideal.value?.time.value ?? Float64Array.of(0)
  const lowest = values.reduce((a, b) => Math.min(a, b))
  return lowest > -0.01 * top ? 0 : undefined
})
const yAxis = computed(() => ({ title: 'Voltage, V', min: yMin.value, max: yMax.value }))
const title = computed(() => {
  const d = driven.value
  return d ? `${d.waveform} at ${d.source}, voltage at out` : 'Step of 1 V, voltage at out'
})
const failure = computed(() => {
  return circuit.value?.failure ?? results.failures.time ?? null
})
const summary = computed(() => `${title.value}. ${figures.value.map(([name, value]) => `${name} ${value}`).join(', ')}`)
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" aria-label="Time">
    <header class="tools">
      <span class="what">{{ title }}</span>
    </header>
    <StageEmpty v-if="!circuit && !ideal" />
    <p v-else-if="failure && !ideal" class="failed" role="alert">{{ failure.message }} {{ failure.remedy }}</p>
    <template v-else>
      <StageNote :pieces="['time', 'roots']" />
      <XyDiagram
        class="upper"
        :series="series"
        :x="xAxis"
        :y="yAxis"
        :annotations="annotations"
        :cursor="cursor"
        :description="summary"
        @cursor="setCursor"
      />
      <dl class="figures">
        <div v-for="[name, value] in figures" :key="name">
          <dt>{{ name }}</dt>
          <dd>{{ value }}</dd>
        </div>
      </dl>
      <p class="read" aria-live="off">
        {{ atCursor ?? 'Point at the diagram, or focus it and use the arrow keys, to read a value.' }}
      </p>
    </template>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.upper {
  flex: 1;
}

.failed {
  margin: auto;
  max-width: 460px;
  color: var(--ink-soft);
  text-align: center;
}
</style>
