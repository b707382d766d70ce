<script setup lang="ts">
import {
  askedSpec,
  type Cursor,
  type Diagram,
  diagramsOf,
  formatQuantity,
  NetMap,
  outputOf,
  partKind,
  type ValueRequirement,
  VoskelError,
  withCircuitEdit,
  withCursors,
  withoutPromise,
  withPromise,
} from '@voskel/core'
import { ElMessage, ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus'
import { computed, defineAsyncComponent } from 'vue'
import { useRouter } from 'vue-router'
import XyDiagram, { type Handle } from '../diagram/XyDiagram.vue'
import { useDesignStore } from '../stores/design'
import { usePalette } from '../stores/palette'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'
import type { Computed, Over } from './instrument/Over'
import { overFrequency } from './instrument/overFrequency'
import { overTime } from './instrument/overTime'
import { type Cell, cellsAt, cursorMarks, reachOf } from './instrument/reading'
import { scaledMarks } from './instrument/scales'
import StageEmpty from './StageEmpty.vue'
import StageNote from './StageNote.vue'

/** The design's diagrams over frequency, or those over time, one below the other, with one cursor and what was measured. */
const props = defineProps<{ over: Diagram['over'] }>()
const design = useDesignStore()
const results = useResultsStore()
const view = useViewStore()
const palette = usePalette()
const router = useRouter()

/** Fetched when it is first opened. */
const ReadPanel = defineAsyncComponent(() => import('./ReadPanel.vue'))

const sides: Record<Diagram['over'], Over> = { frequency: overFrequency, time: overTime }
const side = computed(() => sides[props.over])
const diagrams = computed(() => (design.document ? diagramsOf(design.document) : []))
/** Those of this side, with their places in the document's list. */
const own = computed(() =>
  diagrams.value.flatMap((diagram, index) => (diagram.over === props.over ? [{ diagram, index }] : [])),
)

const known = computed<Computed>(() => ({
  spec: results.shown.question && askedSpec(results.shown.question),
  output: outputOf(results.shown.question ?? {}),
  ideal: results.ideal,
  circuit: results.circuit,
  roots: results.roots,
  frequency: results.frequency,
  time: results.time,
  range: results.range ?? { from: 1, to: 1e6 },
  window: results.window ?? 1,
}))

const plots = computed(() =>
  own.value.map(({ diagram, index }) => ({ index, diagram, plot: side.value.plot(diagram, known.value) })),
)
const cursor = computed(() => (view.cursor?.unit === side.value.unit ? view.cursor.at : null))
const cursors = computed(() => design.document?.cursors ?? [])
const ownCursors = computed(() => cursors.value.filter((c) => c.over === props.over))
const VIEWS: Record<Diagram['view'], Cell['id']> = { db: 'db', phase: 'phase', delay: 'delay', value: 'value' }
/** The cursors alone move without the curves being worked out anew. */
const shown = computed(() =>
  plots.value.map((p) => {
    const cells = (at: number) => cellsAt(props.over, known.value, at)
    const scales = side.value.scales(p.diagram, known.value)
    const marks = scaledMarks(cursorMarks(ownCursors.value, cells, VIEWS[p.diagram.view]), scales)
    const at = cursor.value === null ? null : scales.x(cursor.value)
    const handles = ownCursors.value.map(({ name, at }): Handle => ({ id: name, axis: 'x', at: scales.x(at) }))
    return { ...p, scales, handles, plot: { ...p.plot, cursor: at, marks: [...p.plot.marks, ...marks] } }
  }),
)

function setCursors(label: string, next: readonly Cursor[], group?: string) {
  if (design.document) design.edit(label, withCursors(design.document, next), group)
}

function dragCursor(name: string, to: number) {
  const [from, until] = reachOf(props.over, known.value)
  const at = Math.min(until, Math.max(from, to))
  const next = cursors.value.map((c) => (c.name === name ? { ...c, at } : c))
  setCursors(`cursor ${name} moved`, next, `cursor ${name} ${drags}`)
}
/** Each drag is one step. */
let drags = 0

const promises = computed(() =>
  (design.document?.requirements ?? []).filter((r): r is ValueRequirement => r.kind === 'value'),
)
function promise(asked: ValueRequirement) {
  if (design.document) design.edit(`${asked.id} promised`, withPromise(design.document, asked))
}
/** The source as a sine of a frequency, over time beside the output; all of it is one step. */
function asSine(frequency: number) {
  const { document, id } = design
  const { circuit } = results.circuit ?? {}
  if (!document || !circuit || !known.value.time) return
  const { source } = known.value.time
  const part = circuit.parts.find((p) => p.id.toUpperCase() === source.toUpperCase())
  if (!part) return
  const { waveform } = part
  const amplitude = waveform?.kind === 'sine' ? waveform.amplitude : (part.values.acMagnitude ?? 0) || 1
  const sine = {
    kind: 'sine' as const,
    offset: part.values.bias ?? 0,
    amplitude,
    frequency,
    delay: 0,
    damping: 0,
    phase: 0,
  }
  const net = NetMap.of(circuit).netOf(part.id, 'plus')
  try {
    const next = withCircuitEdit(document, {
      edit: 'set-properties',
      args: { parts: [part.id], say: { waveform: sine } },
    })
    const input = net === null || partKind(part.kind).id !== 'voltage-source' ? [] : [`v(${net})`]
    const shown = diagramsOf(next).map((d) =>
      d.over === 'time' ? { ...d, signals: [...new Set([...d.signals, ...input])] } : d,
    )
    design.edit(`${part.id} a sine of ${formatQuantity(frequency, 'Hz')}`, { ...next, diagrams: shown })
    view.reads = { ...view.reads, time: true }
    void router.push({ name: 'design', params: { id, stage: 'time' } })
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    ElMessage.error(`${error.message} ${error.remedy}`)
  }
}

function release(id: string) {
  if (design.document) design.edit(`${id} no longer promised`, withoutPromise(design.document, id))
}
const setCursor = (at: number) => (view.cursor = { unit: side.value.unit, at })

const figures = computed(() => side.value.figures(known.value))
const atCursor = computed(() => (cursor.value === null ? null : side.value.readOut(known.value, cursor.value)))
/** Why a signal has no curve. */
const missing = computed(() => {
  const { failures = {} } = (props.over === 'frequency' ? results.frequency : results.time) ?? {}
  return Object.entries(failures)
})

/** The diagram whose phase can be seen as delay. */
const turned = computed(() => own.value.find(({ diagram }) => diagram.view === 'phase' || diagram.view === 'delay'))
const level = computed(() => own.value.find(({ diagram }) => diagram.view === 'db'))
const linear = computed(() => own.value.some(({ diagram }) => diagram.linear))
/** The lens is a choice where it can be had. */
const hasLens = computed(() => {
  if (!level.value) return false
  return side.value.plot({ ...level.value.diagram, lens: true }, known.value).lens !== null
})
const lensShown = computed(() => plots.value.some(({ plot }) => plot.lens))

function change(label: string, which: (d: Diagram, k: number) => boolean, next: Partial<Diagram>) {
  if (!design.document) return
  const list = diagrams.value.map((d, k) => (which(d, k) ? { ...d, ...next } : d))
  design.edit(label, { ...design.document, diagrams: list })
}
const isOwn = (d: Diagram) => d.over === props.over
const turn = (to: 'phase' | 'delay') =>
  change(to === 'phase' ? 'phase shown' : 'group delay shown', (_, k) => k === turned.value?.index, { view: to })
/** What the magnitude, the phase and the frequency are read in. */
const SCALES = [
  { id: '', name: 'dB' },
  { id: 'db-relative', name: 'dB over the highest' },
  { id: 'factor', name: 'factor' },
  { id: 'percent', name: '%' },
] as const
const setScale = (to: string) =>
  change('scale of the magnitude', (d) => isOwn(d) && d.view === 'db', {
    scale: SCALES.find((s) => s.id === to && s.id !== '')?.id as Diagram['scale'],
  })
const isAngular = computed(() => own.value.some(({ diagram }) => diagram.angular))
const setAngular = (to: boolean) => change(to ? 'frequency in rad/s' : 'frequency in Hz', isOwn, { angular: to })
const setRadians = (to: boolean) =>
  change(to ? 'phase in radians' : 'phase in degrees', (d) => isOwn(d) && d.view === 'phase', { radians: to })
const setLinear = (to: boolean) => change(to ? 'linear frequency' : 'logarithmic frequency', isOwn, { linear: to })
const wrap = (to: boolean) => change('phase wrapped', (_, k) => k === turned.value?.index, { wrapped: to })
const setLens = (to: boolean) => change('lens', (_, k) => k === level.value?.index, { lens: to })
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" :aria-label="side.name">
    <header class="tools">
      <span class="what">{{ side.title(known) }}</span>
      <ElRadioGroup
        v-if="turned"
        :model-value="turned.diagram.view"
        size="small"
        aria-label="Lower diagram"
        @change="(to) => turn(to as 'phase' | 'delay')"
      >
        <ElRadioButton value="phase">phase</ElRadioButton>
        <ElRadioButton value="delay">group delay</ElRadioButton>
      </ElRadioGroup>
      <ElRadioGroup
        v-if="over === 'frequency'"
        :model-value="linear"
        size="small"
        aria-label="Frequency axis"
        @change="(to) => setLinear(to as boolean)"
      >
        <ElRadioButton :value="false">log f</ElRadioButton>
        <ElRadioButton :value="true">linear f</ElRadioButton>
      </ElRadioGroup>
      <select
        v-if="level"
        class="text-field"
        aria-label="Magnitude in"
        :value="level.diagram.scale ?? ''"
        @change="setScale(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="s in SCALES" :key="s.id" :value="s.id">{{ s.name }}</option>
      </select>
      <select
        v-if="over === 'frequency'"
        class="text-field"
        aria-label="Frequency in"
        :value="isAngular ? 'rad/s' : 'Hz'"
        @change="setAngular(($event.target as HTMLSelectElement).value === 'rad/s')"
      >
        <option>Hz</option>
        <option>rad/s</option>
      </select>
      <select
        v-if="turned?.diagram.view === 'phase'"
        class="text-field"
        aria-label="Phase in"
        :value="turned.diagram.radians ? 'rad' : '°'"
        @change="setRadians(($event.target as HTMLSelectElement).value === 'rad')"
      >
        <option>°</option>
        <option>rad</option>
      </select>
      <label v-if="turned?.diagram.view === 'phase'" class="switch"
        ><ElSwitch
          :model-value="turned.diagram.wrapped ?? false"
          size="small"
          aria-label="Wrap the phase at ±180°"
          @change="(to) => wrap(to as boolean)"
        />
        wrap at ±180°</label
      >
      <label v-if="hasLens" class="switch"
        ><ElSwitch
          :model-value="lensShown"
          size="small"
          aria-label="Lens on the passband"
          @change="(to) => setLens(to as boolean)"
        />
        lens</label
      >
      <button
        type="button"
        class="plain-button read-button"
        :aria-expanded="view.reads[over]"
        :disabled="!side.has(known)"
        @click="view.reads = { ...view.reads, [over]: !view.reads[over] }"
      >
        Read
      </button>
    </header>
    <StageEmpty v-if="!side.has(known)" />
    <template v-else>
      <StageNote :pieces="over === 'frequency' ? ['frequency', 'roots'] : ['time']" />
      <p v-for="[signal, failure] in missing" :key="signal" class="missing" role="status">
        {{ signal }}: {{ failure.message }} {{ failure.remedy }}
      </p>
      <div class="body">
        <div class="diagrams">
          <XyDiagram
            v-for="(d, k) in shown"
            :key="d.index"
            :style="{ flex: k === 0 ? 3 : 2 }"
            :plot="d.plot"
            :palette="palette"
            :handles="d.handles"
            :description="side.describe(d.diagram, known)"
            @cursor="(x) => setCursor(d.scales.backX(x))"
            @drag="(name, x) => dragCursor(name, d.scales.backX(x))"
            @dropped="drags++"
          />
        </div>
        <ReadPanel
          v-if="view.reads[over]"
          class="panel"
          :over="over"
          :known="known"
          :cursors="cursors"
          :promises="promises"
          :place="cursor"
          @cursors="setCursors"
          @promise="promise"
          @release="release"
          @sine="asSine"
        />
      </div>
      <dl v-if="figures.length && !view.reads[over]" class="figures">
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
/* The diagrams, and what is read of them beside; below where there is no room beside. */
.stage {
  container-type: inline-size;
}

.body {
  display: flex;
  flex: 1;
  min-height: 0;
}

.diagrams {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}

.panel {
  flex: 0 0 clamp(380px, 38%, 520px);
}

.tools select {
  width: auto;
  max-width: 88px;
  padding: 2px 6px;
}

.read-button {
  margin-left: auto;
}

[aria-expanded='true'].read-button {
  color: var(--accent);
  font-weight: 650;
}

@container (max-width: 860px) {
  .body {
    flex-direction: column;
  }

  .panel {
    flex: 0 1 46%;
    min-height: 0;
    border-top: 1px solid var(--line-strong);
    border-left: 0;
  }
}

.missing {
  margin: 4px 14px;
  color: var(--waiting);
}
</style>
