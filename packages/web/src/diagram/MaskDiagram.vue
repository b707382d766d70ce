<script setup lang="ts">
import { type Band, formatQuantity, passbands, type ResponseId, stopbands } from '@voskel/core'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'
import { useSpecForm } from '../stages/specForm'
import { useResultsStore } from '../stores/results'
import { usePalette } from './palette'
import { dbBounds, rounded } from './values'
import XyDiagram, { type Handle, type Series } from './XyDiagram.vue'
import { useDesignStore } from '../stores/design'

/** The ideal response inside the tolerance mask; the mask's edges can be dragged. */
const design = useDesignStore()
const results = useResultsStore()
const palette = usePalette()
const form = useSpecForm()

/** Mask and curve move together: while the curve is being computed the mask waits for it, but not for long. */
const PATIENCE_MS = 120
const spec = shallowRef(form.spec.value)
let waiting: ReturnType<typeof setTimeout> | undefined
watch([form.spec, () => results.running], ([next, running]) => {
  clearTimeout(waiting)
  if (running) waiting = setTimeout(() => (spec.value = next), PATIENCE_MS)
  else spec.value = next
})
onBeforeUnmount(() => clearTimeout(waiting))

const ideal = computed(() => results.result?.ideal ?? null)
const response = computed(() => (spec.value?.response ?? 'lowpass') as ResponseId)
const edges = computed(() =>
  ideal.value && spec.value?.delay ? ideal.value.ideal.passbandEdges : (spec.value?.passband.edges ?? []),
)
const gain = computed(() => spec.value?.gain ?? 0)
const ripple = computed(() => spec.value?.passband.ripple ?? ideal.value?.ideal.rippleDb ?? 3.0103)
const stop = computed(() => spec.value?.stopband ?? null)
const stopEdges = computed(() => (stop.value ? (stop.value.edges ?? ideal.value?.ideal.stopbandEdges ?? []) : []))
const passes = computed(() => passbands(response.value, edges.value))
const stops = computed(() => (stopEdges.value.length ? stopbands(response.value, stopEdges.value) : []))

const range = computed(
  () => results.result?.range ?? { from: (edges.value[0] ?? 1) / 30, to: (edges.value.at(-1) ?? 1) * 30 },
)
const bounds = computed(() => {
  const asked = stop.value?.attenuation ?? 40
  return dbBounds(gain.value, gain.value - Math.max(asked * 1.5, asked + 20), 320)
})

const series = computed<Series[]>(() =>
  ideal.value ? [{ label: 'ideal', x: ideal.value.frequency.frequency, y: ideal.value.frequency.db, color: 0 }] : [],
)

const annotations = computed<Record<string, AnnotationOptions>>(() => {
  const p = palette.value
  const { from, to } = range.value
  const { min, max } = bounds.value
  const box = {
    type: 'box' as const,
    backgroundColor: p.mask,
    borderColor: p.maskEdge,
    borderWidth: 1,
    drawTime: 'beforeDatasetsDraw' as const,
  }
  const within = ([a, b]: Band) => ({ xMin: Math.max(from, a), xMax: Math.min(to, b) })
  const boxes: Record<string, AnnotationOptions> = {}
  passes.value.forEach((band, k) => {
    boxes[`above${k}`] = { ...box, ...within(band), yMin: gain.value, yMax: max }
    boxes[`below${k}`] = { ...box, ...within(band), yMin: min, yMax: gain.value - ripple.value }
  })
  stops.value.forEach((band, k) => {
    boxes[`stop${k}`] = { ...box, ...within(band), yMin: gain.value - stop.value!.attenuation, yMax: max }
  })
  return boxes
})

const handles = computed<Handle[]>(() => {
  const { from, to } = range.value
  const list: Handle[] = edges.value.map((at, k) => ({ id: `edge${k}`, axis: 'x', at, to: gain.value - ripple.value }))
  const floor = gain.value - (stop.value?.attenuation ?? 0)
  const stretch = ([a, b]: Band) => ({ from: Math.max(from, a), to: Math.min(to, b) })
  for (const band of passes.value)
    list.push({ id: 'ripple', axis: 'y', at: gain.value - ripple.value, ...stretch(band) })
  if (stop.value?.edges) stopEdges.value.forEach((at, k) => list.push({ id: `stop${k}`, axis: 'x', at, from: floor }))
  for (const band of stops.value) list.push({ id: 'attenuation', axis: 'y', at: floor, ...stretch(band) })
  return list
})

/** A dragged edge stops short of what cannot be: it never crosses its neighbours. */
function drag(id: string, value: number) {
  if (id === 'ripple') return form.changeRipple(rounded(Math.min(20, Math.max(0.01, gain.value - value)), 2))
  if (id === 'attenuation')
    return form.changeStopband({ attenuation: rounded(Math.min(300, Math.max(ripple.value + 1, gain.value - value))) })
  const own = id.startsWith('edge') ? edges.value[Number(id.slice(4))]! : stopEdges.value[Number(id.slice(4))]!
  const others = [...edges.value, ...(stop.value?.edges ?? [])].filter((f) => f !== own)
  const below = Math.max(0, ...others.filter((f) => f < own))
  const above = Math.min(Infinity, ...others.filter((f) => f > own))
  const at = rounded(Math.min(above * 0.99, Math.max(below * 1.01, value)))
  if (id.startsWith('edge')) form.changeEdge(at, Number(id.slice(4)))
  else form.changeStopband({ edge: at, index: Number(id.slice(4)) })
}

const xAxis = computed(() => ({ title: 'Frequency, Hz', log: true, min: range.value.from, max: range.value.to }))
const yAxis = computed(() => ({
  title: 'Magnitude, dB',
  min: bounds.value.min,
  max: bounds.value.max,
  prefixes: false,
}))
const summary = computed(() => {
  const list = (frequencies: readonly number[]) => frequencies.map((f) => formatQuantity(f, 'Hz')).join(' and ')
  const parts = [
    `Ideal response over the mask: passband edges ${list(edges.value)}, within ${formatQuantity(ripple.value, 'dB')}`,
  ]
  if (stops.value.length)
    parts.push(`at least ${formatQuantity(stop.value!.attenuation, 'dB')} beyond ${list(stopEdges.value)}`)
  return parts.join(', ')
})
</script>

<template>
  <section class="mask-diagram" :class="{ stale: results.stale }" aria-label="Tolerance mask">
    <p class="caption">
      Ideal response and mask <span class="soft">· drag an edge of the mask, or type</span>
      <span v-if="design.specDraft" class="bad">The curve still shows the last specification that could be used.</span>
    </p>
    <XyDiagram
      class="plot"
      :series="series"
      :x="xAxis"
      :y="yAxis"
      :annotations="annotations"
      :handles="handles"
      :description="summary"
      @drag="drag"
      @dropped="design.endGroup()"
    />
  </section>
</template>

<style scoped>
.mask-diagram {
  display: flex;
  flex-direction: column;
  padding: 12px 14px;
}

.caption {
  min-height: 22px;
  padding-left: 8px;
  font-weight: 600;
}

.caption .soft {
  font-weight: 400;
}

.bad {
  margin-left: 10px;
  color: var(--waiting);
  font-weight: 400;
}

.plot {
  flex: 1;
}

.stale .plot {
  opacity: 0.75;
}
</style>
