<script setup lang="ts">
import { formatQuantity } from '@voskel/core'
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
const edge = computed(() => spec.value?.passband.edges[0] ?? 1)
const gain = computed(() => spec.value?.gain ?? 0)
const ripple = computed(() => spec.value?.passband.ripple ?? ideal.value?.ideal.rippleDb ?? 3.0103)
const stop = computed(() => spec.value?.stopband ?? null)
const stopEdge = computed(
  () => stop.value?.edges?.[0] ?? (stop.value ? (ideal.value?.ideal.stopbandEdge ?? null) : null),
)

const range = computed(() => results.result?.range ?? { from: edge.value / 30, to: edge.value * 30 })
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
  const boxes: Record<string, AnnotationOptions> = {
    above: { ...box, xMin: from, xMax: edge.value, yMin: gain.value, yMax: max },
    below: { ...box, xMin: from, xMax: edge.value, yMin: min, yMax: gain.value - ripple.value },
  }
  if (stop.value && stopEdge.value)
    boxes.stop = { ...box, xMin: stopEdge.value, xMax: to, yMin: gain.value - stop.value.attenuation, yMax: max }
  return boxes
})

const handles = computed<Handle[]>(() => {
  const { from, to } = range.value
  const list: Handle[] = [
    { id: 'edge', axis: 'x', at: edge.value, to: gain.value - ripple.value },
    { id: 'ripple', axis: 'y', at: gain.value - ripple.value, from, to: edge.value },
  ]
  if (stop.value && stopEdge.value) {
    if (stop.value.edges)
      list.push({ id: 'stop', axis: 'x', at: stopEdge.value, from: gain.value - stop.value.attenuation })
    list.push({ id: 'attenuation', axis: 'y', at: gain.value - stop.value.attenuation, from: stopEdge.value, to })
  }
  return list
})

/** A dragged edge stops short of what cannot be: it never crosses its neighbour. */
function drag(id: string, value: number) {
  if (id === 'edge')
    form.changeEdge(rounded(Math.min(value, stop.value?.edges?.[0] !== undefined ? stop.value.edges[0] * 0.99 : value)))
  else if (id === 'stop') form.changeStopband({ edge: rounded(Math.max(value, edge.value * 1.01)) })
  else if (id === 'ripple') form.changeRipple(rounded(Math.min(20, Math.max(0.01, gain.value - value)), 2))
  else form.changeStopband({ attenuation: rounded(Math.min(300, Math.max(ripple.value + 1, gain.value - value))) })
}

const xAxis = computed(() => ({ title: 'Frequency, Hz', log: true, min: range.value.from, max: range.value.to }))
const yAxis = computed(() => ({
  title: 'Magnitude, dB',
  min: bounds.value.min,
  max: bounds.value.max,
  prefixes: false,
}))
const summary = computed(() => {
  const parts = [
    `Ideal response over the mask: passband to ${formatQuantity(edge.value, 'Hz')} within ${formatQuantity(ripple.value, 'dB')}`,
  ]
  if (stop.value && stopEdge.value)
    parts.push(`at least ${formatQuantity(stop.value.attenuation, 'dB')} from ${formatQuantity(stopEdge.value, 'Hz')}`)
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
