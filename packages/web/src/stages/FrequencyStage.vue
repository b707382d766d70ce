<script setup lang="ts">
import { attenuations, formatQuantity, groupDelay, isShaped, phase } from '@voskel/core'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import { ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus'
import { computed, ref } from 'vue'
import StageEmpty from './StageEmpty.vue'
import { usePalette } from '../diagram/palette'
import { dbBounds, lagText, roundTop } from '../diagram/values'
import XyDiagram, { type Series } from '../diagram/XyDiagram.vue'
import StageNote from './StageNote.vue'
import { readCurve, readOut } from '../engine/curves'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'

/** Magnitude and phase (or group delay) of the circuit over the ideal response. */
const results = useResultsStore()
const view = useViewStore()
const palette = usePalette()

const lower = ref<'phase' | 'delay'>('phase')
const logarithmic = ref(true)
const wrapped = ref(false)

const circuit = computed(() => results.circuit)
const ideal = computed(() => results.ideal)
const curve = computed(() => results.curve)
const roots = computed(() => results.roots)
const level = computed(() => circuit.value?.referenceDb ?? 0)
const range = computed(() => results.range ?? { from: 1, to: 1e6 })
/** A linear axis shows the passband and a little beyond; far decades would squeeze it flat. */
const shown = computed(() => {
  if (logarithmic.value) return range.value
  const marks = [...(ideal.value?.ideal.marks ?? []), roots.value?.ac.cutoffs.at(-1)]
  const known = marks.filter((m): m is number => typeof m === 'number')
  return { from: 0, to: known.length ? 2 * Math.max(...known) : range.value.to }
})

const wrap = (degrees: ArrayLike<number>) =>
  wrapped.value ? Array.from(degrees, (d) => d - 360 * Math.round(d / 360)) : degrees

const magnitude = computed<Series[]>(() => {
  const list: Series[] = []
  if (ideal.value) {
    const { frequency, db } = ideal.value.frequency
    list.push({ label: 'ideal', x: frequency, y: db.map((v) => v + level.value), color: 1, dash: [7, 4] })
  }
  if (curve.value) list.push({ label: 'circuit', x: curve.value.frequency, y: curve.value.db, color: 0 })
  return list
})

const second = computed<Series[]>(() => {
  const of = (c: { frequency: Float64Array; phase: Float64Array; delay: Float64Array }) =>
    lower.value === 'phase' ? wrap(c.phase) : bounded(c.delay)
  const list: Series[] = []
  const plain = unequalized.value
  if (plain) list.push({ label: 'without equaliser', x: plain.frequency, y: of(plain), color: 2, dash: [2, 3] })
  if (ideal.value)
    list.push({
      label: 'ideal',
      x: ideal.value.frequency.frequency,
      y: of(ideal.value.frequency),
      color: 1,
      dash: [7, 4],
    })
  if (curve.value) list.push({ label: 'circuit', x: curve.value.frequency, y: of(curve.value), color: 0 })
  return list
})

/** What the delay equaliser starts from. */
const unequalized = computed(() => {
  if (!ideal.value?.ideal.equalizer) return null
  const { frequency } = ideal.value.frequency
  const h = ideal.value.ideal.unequalized
  return {
    frequency,
    phase: frequency.map((f) => (phase(h, 2 * Math.PI * f) * 180) / Math.PI),
    delay: frequency.map((f) => groupDelay(h, 2 * Math.PI * f)),
  }
})

const bounds = computed(() => {
  const highest = curve.value?.db.reduce((a, b) => Math.max(a, b))
  const top = roots.value?.ac.peakDb ?? highest ?? ideal.value?.ac.peakDb ?? 0
  const shownDb = curve.value?.db ?? ideal.value?.frequency.db ?? Float64Array.of(-60)
  const lowest = shownDb.reduce((a, b) => Math.min(a, b))
  // Deep enough for what is asked, so that the passband and the edge keep their share of the height.
  const asked = askedAttenuation.value
  return dbBounds(top, Number.isFinite(lowest) ? lowest : -200, Math.max(80, 1.4 * asked + 10))
})

const askedAttenuation = computed(() => {
  const spec = results.shown.question?.specification
  return spec && !isShaped(spec) && spec.stopband ? Math.max(...attenuations(spec.stopband)) : 0
})

const cutoff = computed(() => roots.value?.ac.cutoffs.at(-1) ?? ideal.value?.ac.cutoffs.at(-1) ?? null)

const annotations = computed<Record<string, AnnotationOptions>>(() => {
  const marks: Record<string, AnnotationOptions> = {}
  if (cutoff.value !== null) {
    const peak = roots.value?.ac.peakDb ?? (ideal.value?.ac.peakDb ?? 0) + level.value
    marks.cutoffLine = {
      type: 'line',
      xMin: cutoff.value,
      xMax: cutoff.value,
      borderColor: palette.value.soft,
      borderWidth: 1,
      borderDash: [5, 4],
    }
    marks.cutoffPoint = {
      type: 'point',
      xValue: cutoff.value,
      yValue: peak - 10 * Math.log10(2),
      radius: 4.5,
      backgroundColor: palette.value.paper,
      borderColor: palette.value.curves[0],
      borderWidth: 2,
    }
    marks.cutoffLabel = {
      type: 'label',
      xValue: cutoff.value,
      yValue: bounds.value.max,
      yAdjust: 12,
      xAdjust: 6,
      position: { x: 'start', y: 'center' },
      content: `cutoff ${formatQuantity(cutoff.value, 'Hz')}`,
      color: palette.value.ink,
      backgroundColor: palette.value.paper,
      padding: 3,
      font: { size: 13 },
    }
  }
  return marks
})
const cutoffLine = computed(() => {
  const { cutoffLine: line } = annotations.value
  const marks: Record<string, AnnotationOptions> = {}
  if (line) marks.line = line
  return marks
})

const cursor = computed(() => (view.cursor?.unit === 'Hz' ? view.cursor.at : null))
const setCursor = (at: number) => (view.cursor = { unit: 'Hz', at })

const figures = computed(() => {
  const ac = roots.value?.ac ?? ideal.value?.ac
  if (!ac) return []
  const q = formatQuantity
  return [
    ['cutoff', ac.cutoffs.length ? ac.cutoffs.map((f) => q(f, 'Hz')).join(' · ') : '–'],
    ['phase there', ac.phaseAtCutoffsDeg.length ? lagText(ac.phaseAtCutoffsDeg.at(-1)!) : '–'],
    ['ripple', ac.rippleDb === null ? '–' : q(ac.rippleDb, 'dB')],
    ['peak', ac.peakDb === null ? '–' : q(ac.peakDb, 'dB')],
    ['falls by', `${q(-ac.rolloffDbPerDecade.above, 'dB')} a decade`],
    ['delay at DC', ac.delayAtDc === null ? '–' : q(ac.delayAtDc, 's')],
  ]
})

const atCursor = computed(() => {
  if (cursor.value === null) return null
  const transfer = roots.value?.transfer ?? (curve.value ? null : ideal.value?.ideal.transfer)
  const value = transfer ? readOut(transfer, cursor.value) : curve.value && readCurve(curve.value, cursor.value)
  if (!value) return null
  return `at ${formatQuantity(cursor.value, 'Hz')}: ${formatQuantity(value.db, 'dB')} (× ${formatQuantity(value.gain)}), output ${lagText(value.phase)}, group delay ${formatQuantity(value.delay, 's')}`
})

const xAxis = computed(() => ({
  title: 'Frequency, Hz',
  log: logarithmic.value,
  min: shown.value.from,
  max: shown.value.to,
}))
const upperAxis = computed(() => ({
  title: 'Magnitude, dB',
  min: bounds.value.min,
  max: bounds.value.max,
  prefixes: false,
}))
/** Delay where something passes: beside a zero of the stop band it is without bound and says nothing. */
const delayBounds = computed(() => {
  const curves = [ideal.value?.frequency, curve.value].filter((c) => c !== undefined && c !== null)
  const heard = curves.flatMap((c) => {
    const peak = c.db.reduce((a, b) => Math.max(a, b), -Infinity)
    return Array.from(c.delay).filter((d, k) => Number.isFinite(d) && c.db[k]! > peak - HEARD_DB)
  })
  const without = unequalized.value ? Array.from(unequalized.value.delay) : []
  if (heard.length === 0) return {}
  const max = [...heard, ...without].reduce((a, b) => Math.max(a, b))
  const min = heard.reduce((a, b) => Math.min(a, b))
  return { max: roundTop(Math.max(max, 0) || 1e-9), min: min < 0 ? -roundTop(-min) : 0 }
})
const HEARD_DB = 40

/** A delay far beyond the diagram is that of a zero to rounding: the curve passes it by. */
const bounded = (delay: Float64Array) => {
  const most = BEYOND * (delayBounds.value.max ?? Infinity)
  return delay.map((d) => (Math.abs(d) > most ? NaN : d))
}
const BEYOND = 30

const lowerAxis = computed(() =>
  lower.value === 'phase'
    ? { title: 'Phase, °', prefixes: false, step: wrapped.value ? 90 : 180 }
    : { title: 'Group delay, s', ...delayBounds.value },
)
const summary = computed(
  () => `Magnitude over frequency. ${figures.value.map(([name, value]) => `${name} ${value}`).join(', ')}`,
)
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" aria-label="Frequency response">
    <header class="tools">
      <span class="what">out / V1</span>
      <ElRadioGroup v-model="lower" size="small" aria-label="Lower diagram">
        <ElRadioButton value="phase">phase</ElRadioButton>
        <ElRadioButton value="delay">group delay</ElRadioButton>
      </ElRadioGroup>
      <ElRadioGroup v-model="logarithmic" size="small" aria-label="Frequency axis">
        <ElRadioButton :value="true">log f</ElRadioButton>
        <ElRadioButton :value="false">linear f</ElRadioButton>
      </ElRadioGroup>
      <label v-if="lower === 'phase'" class="switch"
        ><ElSwitch v-model="wrapped" size="small" aria-label="Wrap the phase at ±180°" /> wrap at ±180°</label
      >
    </header>
    <StageEmpty v-if="!curve && !ideal" />
    <template v-else>
      <StageNote :pieces="['frequency', 'roots']" />
      <XyDiagram
        class="upper"
        :series="magnitude"
        :x="xAxis"
        :y="upperAxis"
        :annotations="annotations"
        :cursor="cursor"
        :description="summary"
        @cursor="setCursor"
      />
      <XyDiagram
        class="lower"
        :series="second"
        :x="xAxis"
        :y="lowerAxis"
        :annotations="cutoffLine"
        :cursor="cursor"
        :description="lower === 'phase' ? 'Phase over frequency' : 'Group delay over frequency'"
        @cursor="setCursor"
      />
      <dl class="figures">
        <div v-for="[name, value] in figures" :key="name">
          <dt>{{ name }}</dt>
          <dd>{{ value }}</dd>
        </div>
      </dl>
      <p class="read" aria-live="off">
        {{ atCursor ?? 'Point at a diagram, or focus it and use the arrow keys, to read a value.' }}
      </p>
    </template>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.upper {
  flex: 3;
}

.lower {
  flex: 2;
}
</style>
