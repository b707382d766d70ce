<script setup lang="ts">
import {
  askedSpec,
  approximation,
  type CandidateFigures,
  formatQuantity,
  groupDelay,
  isShaped,
  magnitudeDb,
  proposedRange,
  proposedWindow,
  stepMeasures,
  StepResponse,
  withSpecification,
} from '@voskel/core'
import {
  ElButton,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSwitch,
  ElTable,
  ElTableColumn,
} from 'element-plus'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import ScatterDiagram, { type ScatterPoint } from '../diagram/ScatterDiagram.vue'
import { extentOf, type PlotCurve } from '../diagram/plot'
import XyDiagram from '../diagram/XyDiagram.vue'
import { roundTop } from '../diagram/values'
import { usePalette } from '../stores/palette'
import { candidatesTopic, type ComparedCandidate } from '../engine/jobs/candidates'
import { lanes } from '../engine/lanes'
import CircuitCandidates from './CircuitCandidates.vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'

/** Every approximation and order for the specification, side by side. */
const design = useDesignStore()
const results = useResultsStore()

type FigureId = keyof CandidateFigures
interface Figure {
  readonly id: FigureId | 'order'
  readonly name: string
  readonly unit: string
}

/** What candidates are weighed by, in the order of the table. */
const FIGURES: readonly Figure[] = [
  { id: 'attenuationMargin', name: 'Attenuation margin', unit: 'dB' },
  { id: 'delayRipple', name: 'Delay ripple', unit: 's' },
  { id: 'highestQ', name: 'Highest Q', unit: '' },
  { id: 'overshoot', name: 'Overshoot', unit: '%' },
  { id: 'settling', name: 'Settling', unit: 's' },
  { id: 'parts', name: 'Parts', unit: '' },
  { id: 'inductance', name: 'Coils', unit: 'H' },
  { id: 'spread', name: 'Spread', unit: '' },
  { id: 'sensitivity', name: 'Sensitivity', unit: '%' },
]
const AXES: readonly Figure[] = [{ id: 'order', name: 'Order', unit: '' }, ...FIGURES]

/** A response that follows from its own values has nothing to be compared with. */
const spec = computed(() => {
  const own = design.document && askedSpec(design.document)
  return own && !isShaped(own) ? own : null
})
const found = shallowRef<readonly ComparedCandidate[]>([])
const running = ref(false)
const broken = ref('')
const palette = usePalette()
const onlyMet = ref(false)
const view = useViewStore()
/** A response that follows from its own values has circuits alone. */
const what = computed({
  get: () => (design.document?.specification && !spec.value ? 'circuits' : view.compared),
  set: (chosen) => (view.compared = chosen),
})
const curve = ref<'magnitude' | 'delay' | 'step'>('magnitude')
const across = ref<Figure['id']>('order')
const upward = ref<Figure['id']>('delayRipple')
/** Keys of the candidates whose curves are shown. */
const chosen = ref<readonly string[]>([])

const MOST_CURVES = 3
/** A margin of rounding size is none. */
const NEGLIGIBLE_DB = 1e-6
const POINTS = 360
const key = (c: ComparedCandidate) => `${c.approximation} ${c.order}`
const nameOf = (c: ComparedCandidate) => `${approximation(c.approximation).name} ${c.order}`

/** What the candidates depend on: neither the approximation nor the order of the specification. */
const asked = computed(() => {
  if (!spec.value) return ''
  const { approximation: _a, order: _o, phaseRipple: _p, breakDb: _b, mix: _m, ...rest } = spec.value
  return JSON.stringify(rest)
})
/** What was asked last: looked for while it is looked at. */
let lookedFor = ''
watch(
  [asked, what],
  async () => {
    if (what.value !== 'responses') {
      // The circuits have the lane; what was not found to the end is looked for anew.
      if (running.value) lookedFor = ''
      lanes.population.supersede(candidatesTopic.id)
      return
    }
    if (asked.value === lookedFor) return
    lookedFor = asked.value
    found.value = []
    broken.value = ''
    const current = spec.value
    if (!current) return
    running.value = true
    const outcome = await lanes.population.ask(candidatesTopic, current, (part) => {
      found.value = [...found.value, ...part.found!]
    })
    if (outcome.kind === 'superseded') return
    running.value = false
    if (outcome.kind === 'done') found.value = outcome.answer.found
    if (outcome.kind === 'failed') broken.value = `${outcome.failure.message} ${outcome.failure.remedy}`
  },
  { immediate: true },
)
onBeforeUnmount(() => lanes.population.supersede(candidatesTopic.id))

const good = computed(() => found.value.filter((c) => c.met).length)
/** What meets everything first, low orders before high ones. */
const rows = computed(() =>
  (onlyMet.value ? found.value.filter((c) => c.met) : [...found.value]).sort(
    (a, b) => Number(b.met) - Number(a.met) || a.order - b.order,
  ),
)
const shown = computed(() => {
  const picked = chosen.value.flatMap((k) => found.value.find((c) => key(c) === k) ?? [])
  if (picked.length > 0) return picked
  const own = found.value.find((c) => c.approximation === spec.value?.approximation && c.order === order.value)
  return own ? [own] : rows.value.slice(0, 1)
})
/** Of the specification, or what followed from its stop band. */
const order = computed(() => spec.value?.order ?? results.ideal?.ideal.order)

function toggle(c: ComparedCandidate) {
  const k = key(c)
  chosen.value = chosen.value.includes(k)
    ? chosen.value.filter((other) => other !== k)
    : [...chosen.value, k].slice(-MOST_CURVES)
}

function take(c: ComparedCandidate) {
  if (!design.document) return
  design.edit(nameOf(c), withSpecification(design.document, c.specification))
}

const figure = (c: ComparedCandidate, id: Figure['id']) => (id === 'order' ? c.order : c.figures[id])
function text(value: number | null, { id, unit }: Figure): string {
  if (value === null) return '–'
  if (id === 'parts') return String(value)
  if (id === 'attenuationMargin' && Math.abs(value) < NEGLIGIBLE_DB) return '±0 dB'
  // Plain numbers take no prefix.
  return unit === '' ? value.toFixed(2) : formatQuantity(value, unit, 3)
}
/** A row of the table, which does not know what its rows are. */
const of = (row: unknown) => row as ComparedCandidate
/** Missing values come last, whichever way the column is sorted first. */
const sorted = (id: FigureId) => (a: ComparedCandidate, b: ComparedCandidate) =>
  (a.figures[id] ?? Infinity) - (b.figures[id] ?? Infinity)

const range = computed(() => {
  const ranges = shown.value.map((c) => proposedRange(c.transfer, [...c.passbandEdges]))
  if (ranges.length === 0) return { from: 1, to: 1e6 }
  return { from: Math.max(...ranges.map((r) => r.from)), to: Math.min(...ranges.map((r) => r.to)) }
})
const window = computed(() =>
  Math.max(...shown.value.map((c) => proposedWindow(c.transfer, stepMeasures(c.transfer))), 1e-12),
)
const curves = computed<PlotCurve[]>(() =>
  shown.value.map((c, color) => {
    const label = nameOf(c)
    const dash = [[], [7, 4], [2, 3]][color]
    if (curve.value === 'step') {
      const x = Float64Array.from({ length: POINTS }, (_, k) => (window.value * k) / (POINTS - 1))
      return { label, x, y: new StepResponse(c.transfer).sampled(window.value, POINTS), color, dash }
    }
    const { from, to } = range.value
    const x = Float64Array.from({ length: POINTS }, (_, k) => from * (to / from) ** (k / (POINTS - 1)))
    const at = curve.value === 'delay' ? groupDelay : magnitudeDb
    return { label, x, y: x.map((f) => at(c.transfer, 2 * Math.PI * f)), color, dash }
  }),
)
const xAxis = computed(() =>
  curve.value === 'step'
    ? { title: 'Time, s', min: 0, max: window.value }
    : { title: 'Frequency, Hz', log: true, min: range.value.from, max: range.value.to },
)
const yAxis = computed(() => {
  const gain = spec.value?.gain ?? 0
  if (curve.value === 'magnitude') return { title: 'Magnitude, dB', prefixes: false, max: gain + 10, min: gain - 90 }
  const [lowest, highest] = extentOf(...curves.value.map((c) => c.y)) ?? [0, 1]
  const title = curve.value === 'delay' ? 'Group delay, s' : 'Voltage, V'
  const min = curve.value === 'delay' || lowest > -0.01 * highest ? 0 : -roundTop(-lowest)
  return { title, min, max: roundTop(Math.max(highest, 1e-12)) }
})
const plot = computed(() => ({ x: xAxis.value, y: yAxis.value, curves: curves.value, marks: [] }))

const axisOf = (id: Figure['id']) => AXES.find((f) => f.id === id)!
const title = (f: Figure) => (f.unit ? `${f.name}, ${f.unit}` : f.name)
const plotted = computed(() =>
  rows.value
    .filter((c) => figure(c, across.value) !== null && figure(c, upward.value) !== null)
    // The diagram takes its axis from the first and the last point.
    .sort((a, b) => figure(a, across.value)! - figure(b, across.value)!),
)
const points = computed<ScatterPoint[]>(() =>
  plotted.value.map((c) => ({
    x: figure(c, across.value)!,
    y: figure(c, upward.value)!,
    good: c.met,
    chosen: shown.value.includes(c),
    label: nameOf(c),
  })),
)
</script>

<template>
  <section class="stage" aria-label="Compare">
    <ElRadioGroup v-model="what" class="compared" size="small" aria-label="What is compared">
      <ElRadioButton value="responses" :disabled="design.document?.specification && !spec">responses</ElRadioButton>
      <ElRadioButton value="circuits">circuits</ElRadioButton>
    </ElRadioGroup>
    <CircuitCandidates v-if="what === 'circuits'" />
    <header v-if="what === 'responses'" class="tools">
      <span class="what" aria-live="polite">
        {{ found.length }} candidates, {{ good }} meet everything{{ running ? ' … still looking' : '' }}
      </span>
      <label class="switch"><ElSwitch v-model="onlyMet" size="small" /> only those</label>
      <span class="soft">Tick up to {{ MOST_CURVES }} to lay their curves over each other.</span>
    </header>
    <p v-if="what === 'responses' && !spec" class="nothing">
      This design has no specification, so that there is nothing to compare for.
    </p>
    <p v-else-if="what === 'responses' && broken" class="nothing" role="alert">The comparison stopped: {{ broken }}</p>
    <template v-else-if="what === 'responses'">
      <ElTable class="table" :data="rows as ComparedCandidate[]" :row-key="key" size="small" height="100%">
        <template #empty>
          {{
            running ? 'Looking for candidates …' : 'No candidate meets everything. Loosen what is asked most narrowly.'
          }}
        </template>
        <ElTableColumn
          label="Candidate"
          min-width="178"
          fixed
          :sort-method="(a: ComparedCandidate, b: ComparedCandidate) => a.order - b.order"
          sortable
        >
          <template #default="{ row }">
            <label class="tick">
              <input type="checkbox" :checked="shown.includes(of(row))" @change="toggle(of(row))" />
              {{ nameOf(of(row)) }}
            </label>
          </template>
        </ElTableColumn>
        <ElTableColumn
          label="All met"
          width="84"
          :sort-method="(a: ComparedCandidate, b: ComparedCandidate) => Number(b.met) - Number(a.met)"
          sortable
        >
          <template #default="{ row }">
            <span v-if="of(row).without" class="missed" :title="of(row).without ?? undefined">no circuit</span>
            <span v-else :class="of(row).met ? 'met' : 'missed'">{{ of(row).met ? '✓ yes' : '✕ no' }}</span>
          </template>
        </ElTableColumn>
        <ElTableColumn
          v-for="f in FIGURES"
          :key="f.id"
          :label="f.name"
          :sort-method="sorted(f.id as FigureId)"
          min-width="92"
          align="right"
          sortable
        >
          <template #default="{ row }">{{ text(figure(of(row), f.id), f) }}</template>
        </ElTableColumn>
        <ElTableColumn label="" width="74" fixed="right">
          <template #default="{ row }">
            <ElButton size="small" :aria-label="`Take ${nameOf(of(row))}`" @click="take(of(row))">Take</ElButton>
          </template>
        </ElTableColumn>
      </ElTable>
      <div class="below">
        <div class="panel">
          <ElRadioGroup v-model="curve" size="small" aria-label="Curves">
            <ElRadioButton value="magnitude">magnitude</ElRadioButton>
            <ElRadioButton value="delay">group delay</ElRadioButton>
            <ElRadioButton value="step">step</ElRadioButton>
          </ElRadioGroup>
          <XyDiagram
            class="plot"
            :plot="plot"
            :palette="palette"
            :description="`${curve} of ${shown.map(nameOf).join(', ')}`"
          />
        </div>
        <div class="panel">
          <div class="axes">
            <ElSelect v-model="upward" size="small" aria-label="Figure upward" :persistent="false">
              <ElOption v-for="f in AXES" :key="f.id" :value="f.id" :label="f.name" />
            </ElSelect>
            <span class="soft">over</span>
            <ElSelect v-model="across" size="small" aria-label="Figure across" :persistent="false">
              <ElOption v-for="f in AXES" :key="f.id" :value="f.id" :label="f.name" />
            </ElSelect>
            <span class="soft">● meets everything □ does not</span>
          </div>
          <ScatterDiagram
            class="plot"
            :points="points"
            :palette="palette"
            :x-title="title(axisOf(across))"
            :y-title="title(axisOf(upward))"
            :description="`${axisOf(upward).name} over ${axisOf(across).name} of ${points.length} candidates`"
            @pick="(k) => toggle(plotted[k]!)"
          />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped src="./compare.css"></style>
<style scoped>
.compared {
  align-self: flex-start;
  margin: 0 8px 4px;
}

.table {
  flex: 1 1 52%;
  min-height: 0;
}

.below {
  display: flex;
  flex: 1 1 48%;
  gap: 12px;
  min-height: 0;
  padding-top: 8px;
}

.panel {
  display: flex;
  flex: 1;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
}

.plot {
  flex: 1;
  min-height: 0;
}

.axes {
  display: flex;
  align-items: center;
  gap: 8px;
}

.axes .el-select {
  width: 150px;
}

.tick {
  display: flex;
  gap: 6px;
  cursor: pointer;
}
</style>
