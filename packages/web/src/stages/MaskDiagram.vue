<script setup lang="ts">
import {
  type AskedRequirement,
  attenuations,
  type Band,
  formatQuantity,
  isShaped,
  outputOf,
  passbands,
  shapeOf,
  stopbands,
} from '@voskel/core'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'
import { useSpecForm } from './specForm'
import { useResultsStore } from '../stores/results'
import { askedMarks } from './askedMarks'
import { maskMarks } from './maskMarks'
import { IDEAL } from './instrument/Over'
import { extentOf, type Lens, type Mark, type PlotCurve } from '../diagram/plot'
import { usePalette } from '../stores/palette'
import { dbBounds, rounded } from '../diagram/values'
import XyDiagram, { type Handle } from '../diagram/XyDiagram.vue'
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

const ideal = computed(() => results.ideal)
/** Where there are bands; a shape may have limits of a standard instead. */
const banded = computed(() => (spec.value && !isShaped(spec.value) ? spec.value : null))
const limits = computed(() => {
  if (!spec.value || !isShaped(spec.value) || design.specDraft) return null
  return shapeOf(spec.value).limits?.(spec.value.shape) ?? null
})
const edges = computed(() =>
  ideal.value && banded.value?.delay ? ideal.value.ideal.passbandEdges : (banded.value?.passband.edges ?? []),
)
const gain = computed(() => spec.value?.gain ?? 0)
const ripple = computed(() => banded.value?.passband.ripple ?? ideal.value?.ideal.rippleDb ?? 3.0103)
const stop = computed(() => banded.value?.stopband ?? null)
/** Of each stop band, lower one first. */
const asked = computed(() => (stop.value ? attenuations(stop.value) : []))
const askedOf = (k: number) => asked.value[k] ?? asked.value[0] ?? 0
const stopEdges = computed(() => (stop.value ? (stop.value.edges ?? ideal.value?.ideal.stopbandEdges ?? []) : []))
const passes = computed(() => (banded.value ? passbands(banded.value.response, edges.value) : []))
const stops = computed(() => (banded.value ? stopbands(banded.value.response, stopEdges.value) : []))

const range = computed(() => {
  if (results.range) return results.range
  const drawn = limits.value?.points.map(([f]) => f).filter((f) => f > 0) ?? []
  if (drawn.length > 0) return { from: Math.min(...drawn), to: Math.max(...drawn) }
  return { from: (edges.value[0] ?? 1) / 30, to: (edges.value.at(-1) ?? 1) * 30 }
})
const bounds = computed(() => {
  if (!banded.value && ideal.value) {
    // A shape shows what it does, a notch to a depth that can be seen.
    const [bottom, top] = extentOf(ideal.value.frequency.db) ?? [0, 0]
    return dbBounds(top + SHAPE_ROOM, Math.max(bottom, top - SHAPE_DEPTH) - SHAPE_ROOM, 320)
  }
  const deepest = Math.max(0, ...asked.value) || 40
  return dbBounds(gain.value, gain.value - Math.max(deepest * 1.5, deepest + 20), 320)
})

const SHAPE_ROOM = 3
const SHAPE_DEPTH = 90

/** Where every frequency passes alike, the phase says what is done. */
const turning = computed(() =>
  banded.value
    ? banded.value.response === 'allpass'
    : spec.value && isShaped(spec.value) && shapeOf(spec.value).turnsPhase,
)

/** Quarter turns around the phase that is shown. */
const phaseBounds = computed(() => {
  const [least, most] = extentOf(ideal.value?.frequency.phase ?? new Float64Array(1)) ?? [0, 0]
  return { min: 90 * Math.floor(least / 90), max: 90 * Math.ceil((most + 1) / 90) }
})

/** What a drawn circuit does, where its output is drawn. */
const does = computed(() => {
  const { document } = design
  if (document?.circuit.origin !== 'drawn') return null
  return results.frequency?.curves.find((c) => c.signal === outputOf(document)) ?? null
})

const curves = computed<PlotCurve[]>(() => {
  const list: PlotCurve[] = []
  // A drawn circuit beside what is asked of it; a computed one is what is asked.
  const look = does.value ? IDEAL : { label: 'ideal', color: 0 }
  if (ideal.value && turning.value) {
    const { frequency, phase } = ideal.value.frequency
    list.push({ ...look, x: frequency, y: phase })
    if (does.value) list.push({ label: 'circuit', x: does.value.frequency, y: does.value.phase, color: 0 })
    return list
  }
  if (ideal.value) list.push({ ...look, x: ideal.value.frequency.frequency, y: ideal.value.frequency.db })
  if (does.value) {
    const level = results.circuit?.referenceDb ?? 0
    list.push({ label: 'circuit', x: does.value.frequency, y: does.value.db.map((v) => v - level), color: 0 })
  }
  if (limits.value) {
    const x = Float64Array.from(limits.value.points, ([f]) => f)
    for (const [label, k] of [
      ['highest', 2],
      ['lowest', 1],
    ] as const) {
      const y = Float64Array.from(limits.value.points, (point) => gain.value + point[k])
      list.push({ label, x, y, color: 1, dash: [3, 4] })
    }
  }
  return list
})

const marks = computed<Mark[]>(() => {
  const asked = askedMarks((spec.value?.requirements ?? []) as AskedRequirement[], {
    gain: gain.value,
    bounds: turning.value ? phaseBounds.value : bounds.value,
    phase: turning.value === true,
  })
  if (turning.value) return asked
  return [...(spec.value ? maskMarks(spec.value, ideal.value?.ideal ?? null, range.value) : []), ...asked]
})

/** Ripple that takes less than this part of the height cannot be seen. */
const TOO_SMALL = 0.03
/** The passband, with as much above and below it as its ripple is high; beyond its edge by a part of it. */
const lens = computed<Lens | null>(() => {
  const { min, max } = bounds.value
  if (turning.value || passes.value.length === 0 || ripple.value > TOO_SMALL * (max - min)) return null
  const [from, to] = [passes.value[0]![0], passes.value.at(-1)![1]]
  const beyond = edges.value.length === 2 ? (edges.value[1]! / edges.value[0]!) ** 0.12 : 1.12
  const x = [Math.max(range.value.from, from / beyond), Math.min(range.value.to, to * beyond)] as const
  return { x, y: [gain.value - 2 * ripple.value, gain.value + ripple.value] }
})

/** Points of a drawn mask, whose limits can be dragged. */
const drawn = computed(() => {
  const levels = form.shaped.value?.response === 'masked' ? form.shaped.value.shape.levels : null
  return Array.isArray(levels) ? (levels as (readonly (number | null)[])[]) : []
})
/** How far to both sides of its point a limit can be grasped, as a factor of the frequency. */
const GRASP = 1.12

const handles = computed<Handle[]>(() => {
  if (turning.value) return []
  if (drawn.value.length > 0)
    return drawn.value.flatMap((point, k) =>
      [1, 2].flatMap((side): Handle[] => {
        const [at, f] = [point[side], point[0]!]
        return typeof at === 'number'
          ? [{ id: `point ${k} ${side}`, axis: 'y', at: gain.value + at, from: f / GRASP, to: f * GRASP }]
          : []
      }),
    )
  const { from, to } = range.value
  const list: Handle[] = edges.value.map((at, k) => ({ id: `edge${k}`, axis: 'x', at, to: gain.value - ripple.value }))
  const floor = (k: number) => gain.value - askedOf(stopEdges.value.length > 1 && asked.value.length > 1 ? k : 0)
  const stretch = ([a, b]: Band) => ({ from: Math.max(from, a), to: Math.min(to, b) })
  for (const band of passes.value)
    list.push({ id: 'ripple', axis: 'y', at: gain.value - ripple.value, ...stretch(band) })
  if (stop.value?.edges)
    stopEdges.value.forEach((at, k) => list.push({ id: `stop${k}`, axis: 'x', at, from: floor(k) }))
  stops.value.forEach((band, k) => list.push({ id: `attenuation${k}`, axis: 'y', at: floor(k), ...stretch(band) }))
  return list
})

/** A dragged edge stops short of what cannot be: it never crosses its neighbours. */
function drag(id: string, value: number) {
  if (id.startsWith('point')) {
    const [, k, side] = id.split(' ').map(Number)
    const point = drawn.value[k!]!.with(side!, rounded(value - gain.value))
    const [, lowest, highest] = point
    if (typeof lowest === 'number' && typeof highest === 'number' && lowest > highest) return
    return form.changeShape('levels', drawn.value.with(k!, point))
  }
  if (id === 'ripple') return form.changeRipple(rounded(Math.min(20, Math.max(0.01, gain.value - value)), 2))
  if (id.startsWith('attenuation')) {
    const next = rounded(Math.min(300, Math.max(ripple.value + 1, gain.value - value)))
    const [below, above] = asked.value.with(asked.value.length > 1 ? Number(id.slice(11)) : 0, next)
    return form.changeStopband({ attenuation: above === undefined ? below! : [below!, above] })
  }
  const own = id.startsWith('edge') ? edges.value[Number(id.slice(4))]! : stopEdges.value[Number(id.slice(4))]!
  const others = [...edges.value, ...(stop.value?.edges ?? [])].filter((f) => f !== own)
  const below = Math.max(0, ...others.filter((f) => f < own))
  const above = Math.min(Infinity, ...others.filter((f) => f > own))
  const at = rounded(Math.min(above * 0.99, Math.max(below * 1.01, value)))
  if (id.startsWith('edge')) form.changeEdge(at, Number(id.slice(4)))
  else form.changeStopband({ edge: at, index: Number(id.slice(4)) })
}

const xAxis = computed(() => ({ title: 'Frequency, Hz', log: true, min: range.value.from, max: range.value.to }))
const yAxis = computed(() =>
  turning.value
    ? { title: 'Phase, °', prefixes: false, step: 90, ...phaseBounds.value }
    : {
        title: 'Magnitude, dB',
        min: bounds.value.min,
        max: bounds.value.max,
        prefixes: false,
      },
)
const plot = computed(() => ({
  x: xAxis.value,
  y: yAxis.value,
  curves: curves.value,
  marks: marks.value,
  lens: lens.value,
}))
const summary = computed(() => {
  const list = (frequencies: readonly number[]) => frequencies.map((f) => formatQuantity(f, 'Hz')).join(' and ')
  if (!banded.value) return `Ideal response${limits.value ? ` between the limits: ${limits.value.name}` : ''}`
  const parts = [
    `Ideal response over the mask: passband edges ${list(edges.value)}, within ${formatQuantity(ripple.value, 'dB')}`,
  ]
  if (stops.value.length)
    parts.push(
      `at least ${asked.value.map((db) => formatQuantity(db, 'dB')).join(' and ')} beyond ${list(stopEdges.value)}`,
    )
  return parts.join(', ')
})
</script>

<template>
  <section class="mask-diagram" :class="{ stale: results.stale }" aria-label="Tolerance mask">
    <p class="caption">
      <template v-if="banded && !turning">
        {{ does ? 'What is asked, and what the circuit does' : 'Ideal response and mask' }}
        <span class="soft">· drag an edge of the mask, or type</span>
      </template>
      <template v-else>
        Ideal response{{ limits ? ` · dotted: ${limits.name}` : '' }}
        <span v-if="drawn.length" class="soft">· drag a point of the mask, or type</span>
      </template>
      <span v-if="design.specDraft" class="bad">The curve still shows the last specification that could be used.</span>
    </p>
    <XyDiagram
      class="plot"
      :plot="plot"
      :palette="palette"
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
