<script setup lang="ts">
import {
  askedSpec,
  type Cursor,
  type Diagram,
  diagramsOf,
  drawnRange,
  drawnSignals,
  type Drive,
  type Expected,
  drivenLabel,
  MOST_NOTES,
  nearestOf,
  nextOf,
  signalNames,
  type ValueRequirement,
  VoskelError,
  withCursorAt,
  withCursors,
  withDriven,
  withExpected,
  withoutExpected,
  withoutPromise,
  withPromise,
  withSpecification,
} from '@voskel/core'
import { ElMessage, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, defineAsyncComponent, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { chooseFile } from '../components/files'
import XyDiagram, { type Handle } from '../diagram/XyDiagram.vue'
import { lanes } from '../engine/lanes'
import { placesTopic, type Sought } from '../engine/jobs/reading'
import { useComparedStore } from '../stores/compared'
import { useDesignStore } from '../stores/design'
import { usePalette } from '../stores/palette'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'
import type { Axis } from '../diagram/frame'
import DiagramCaption from './DiagramCaption.vue'
import DiagramOut from './DiagramOut.vue'
import { captioned, noteHandles, noteOf } from './instrument/captioned'
import type { Over } from './instrument/Over'
import { canHaveLens, overFrequency } from './instrument/overFrequency'
import { freeRoots, withRootAt } from './instrument/freeRoots'
import { overTime } from './instrument/overTime'
import { cellsAt, cursorMarks, idealPlaces, othersAt, reachOf, rulerMarks, shownAt } from './instrument/reading'
import { isPlane } from './instrument/planeIds'
import { portSignals } from './instrument/portSignals'
import { scaledMarks, unscaled } from './instrument/scales'
import { useBeside } from './instrument/useBeside'
import { useKnown } from './instrument/useKnown'
import { useReadings } from './instrument/useReadings'
import RangeFields from './RangeFields.vue'
import StageEmpty from './StageEmpty.vue'
import StageNote from './StageNote.vue'

/** The design's diagrams over frequency, or those over time, one below the other, with one cursor and what was measured. */
const props = defineProps<{ over: Diagram['over'] }>()
const design = useDesignStore()
const results = useResultsStore()
const view = useViewStore()
const compared = useComparedStore()
const palette = usePalette()
const router = useRouter()

/** Fetched when it is first opened. */
const ReadPanel = defineAsyncComponent(() => import('./ReadPanel.vue'))
const SourceFields = defineAsyncComponent(() => import('./SourceFields.vue'))
const PinFields = defineAsyncComponent(() => import('./PinFields.vue'))
const LargeSignalFields = defineAsyncComponent(() => import('./LargeSignalFields.vue'))
const DataDialog = defineAsyncComponent(() => import('./DataDialog.vue'))

const sides: Record<Diagram['over'], Over> = { frequency: overFrequency, time: overTime }
const side = computed(() => sides[props.over])
const diagrams = computed(() => (design.document ? diagramsOf(design.document) : []))
/** Those of this side, with their places in the document's list. */
const own = computed(() =>
  diagrams.value.flatMap((diagram, index) => (diagram.over === props.over ? [{ diagram, index }] : [])),
)
/** What is to be seen, where the diagrams say it: Hz or s. */
const wanted = computed(() => drawnRange(diagrams.value, props.over))

const known = useKnown()

const plots = computed(() =>
  own.value.map(({ diagram, index }) => ({ index, diagram, plot: side.value.plot(diagram, known.value) })),
)
const isWide = computed(() => plots.value.some(({ plot }) => plot.right))
const cursor = computed(() => (view.cursor?.unit === side.value.unit ? view.cursor.at : null))
const cursors = computed(() => design.document?.cursors ?? [])
const ownCursors = computed(() => cursors.value.filter((c) => c.over === props.over))
const drawn = computed(() => drawnSignals(diagrams.value, props.over))

/** Cursors over frequency are read to the last digit, on every curve. */
const exact = useReadings(
  computed(() =>
    props.over === 'frequency' && results.circuit
      ? { signals: drawn.value, cursors: ownCursors.value, range: drawnRange(diagrams.value, 'frequency') }
      : null,
  ),
)

/** The cursors alone move without the curves being worked out anew. */
const shown = computed(() =>
  marked.value.map((p) => {
    const words = isDrawnAlong(p.diagram) ? p.scales : { x: unscaled }
    return {
      ...p,
      plot: captioned(p.plot, p.diagram, words),
      handles: [...p.handles, ...noteHandles(p.diagram, words)],
    }
  }),
)
/** Hz or s are along x. */
const isDrawnAlong = ({ view }: Diagram) => !isPlane(view) && view !== 'spectrum' && view !== 'against'

const marked = computed(() =>
  plots.value.map((p) => {
    const { diagram } = p
    if (!isDrawnAlong(diagram)) {
      const handles = diagram.view === 'roots' ? rootHandles(diagram) : []
      return { ...p, scales: side.value.scales(diagram, known.value), handles, plot: { ...p.plot, wide: isWide.value } }
    }
    const scales = side.value.scales(diagram, known.value)
    const { right } = diagram
    const onAxis = (axis: typeof right & object) => (c: Cursor) =>
      props.over === 'time'
        ? axis.signals.includes(c.on ?? known.value.output)
          ? cellsAt('time', known.value, c.at, { signal: c.on })[0]?.value
          : undefined
        : shownAt(axis, known.value, c, exact.value)
    const marks = [
      ...cursorMarks(ownCursors.value, onAxis(diagram)),
      ...(right ? cursorMarks(ownCursors.value, onAxis(right), true) : []),
    ]
    if (diagram.ruler !== undefined && diagram.view === 'db')
      marks.push(...rulerMarks(diagram.ruler, known.value, ownCursors.value[0] ?? null, exact.value))
    const at = cursor.value === null ? null : scales.x(cursor.value)
    const handles = ownCursors.value.map(({ name, at }): Handle => ({ id: name, axis: 'x', at: scales.x(at) }))
    const plot = { ...p.plot, cursor: at, wide: isWide.value, marks: [...p.plot.marks, ...scaledMarks(marks, scales)] }
    return { ...p, scales, handles, plot }
  }),
)

/** The typed roots of a free response can be drawn to other places: those of the upper half, their twins go along. */
function rootHandles({ angular }: Diagram): Handle[] {
  const free = freeRoots(known.value.spec)
  if (!free) return []
  const unit = angular ? 1 : 1 / (2 * Math.PI)
  return (['poles', 'zeros'] as const).flatMap((kind) =>
    free[kind].flatMap(([re, im], k): Handle[] =>
      im < 0 ? [] : [{ id: `${kind} ${k}`, axis: 'both', at: re * unit, y: im * unit }],
    ),
  )
}

function dragRoot({ angular }: Diagram, id: string, x: number, y: number) {
  const { document } = design
  const spec = document && askedSpec(document)
  if (!document || !spec || !freeRoots(spec)) return
  const unit = angular ? 1 : 2 * Math.PI
  const [kind, index] = id.split(' ') as ['poles' | 'zeros', string]
  const next = withRootAt(spec, kind, Number(index), [x * unit, y * unit])
  design.edit(`a ${kind.slice(0, -1)} moved`, withSpecification(document, next), `root ${drags}`)
}

/** What is drawn with the pointer: a note, a root, a cursor. */
function dragged({ diagram, index, scales }: (typeof shown.value)[number], id: string, x: number, y: number) {
  const note = noteOf(id)
  if (note !== null) {
    const place = isDrawnAlong(diagram) ? scales.backX(x) : x
    const notes = (diagram.notes ?? []).map((n, k): typeof n => (k === note ? { ...n, at: [place, y] } : n))
    change(
      'note moved',
      (_, j) => j === index,
      (d) => ({ ...d, notes }),
      `note ${drags}`,
    )
  } else if (diagram.view === 'roots') dragRoot(diagram, id, x, y)
  else dragCursor(id, scales.backX(x))
}
/** A note in the middle of what is seen. */
function addNote({ diagram, index, plot, scales }: (typeof shown.value)[number], text: string) {
  const middle = ({ min, max, log }: Axis) => (log ? Math.sqrt(min * max) : (min + max) / 2)
  const x = middle(plot.x)
  const at: [number, number] = [isDrawnAlong(diagram) ? scales.backX(x) : x, middle(plot.y)]
  const notes = [...(diagram.notes ?? []), { text, at }].slice(-MOST_NOTES)
  change(
    'note put',
    (_, j) => j === index,
    (d) => ({ ...d, notes }),
  )
}

function setCursors(label: string, next: readonly Cursor[]) {
  if (design.document) design.edit(label, withCursors(design.document, next))
}

/** A cursor at another place, and what it drives with it. */
function moveCursor(name: string, to: number, group?: string) {
  if (!design.document) return
  const [from, until] = reachOf(props.over, known.value)
  const at = Math.min(until, Math.max(from, to))
  design.edit(`cursor ${name} moved`, withCursorAt(design.document, name, at), group)
}
/** Each drag is one step, and each row of arrow keys. */
let drags = 0
const dragCursor = (name: string, to: number) => moveCursor(name, to, `cursor ${name} ${drags}`)

/** A cursor's place by what is sought on its curve; null where there is none in view. */
async function seek(target: Cursor, sought: Sought): Promise<number | null> {
  const document = design.document
  if (!document) return null
  let places: readonly number[] | null = null
  if (results.circuit) {
    const signal = target.on ?? known.value.output
    const outcome = await lanes.trace.ask(placesTopic, { ...document, signal, sought, wanted: wanted.value })
    if (outcome.kind === 'failed') throw new Error(`${outcome.failure.message} ${outcome.failure.remedy}`)
    // A newer question has taken its place: it stays where it is.
    if (outcome.kind !== 'done') return target.at
    places = outcome.answer
  }
  places ??= idealPlaces(known.value, sought)
  return 'snap' in sought ? nextOf(places, target.at) : nearestOf(places, target.at)
}

const promises = computed(() =>
  (design.document?.requirements ?? []).filter((r): r is ValueRequirement => r.kind === 'value'),
)
function promise(asked: ValueRequirement) {
  if (design.document) design.edit(`${asked.id} promised`, withPromise(design.document, asked))
}
/** The source as a sine or square of a cursor's frequency, over time beside the output; all of it is one step. */
function drive({ name, at }: Cursor, shape: Drive['shape'], settled: boolean) {
  const { document, id } = design
  if (!document || !known.value.time) return
  const after = settled ? (results.roots?.step?.settlingTime ?? 0) : undefined
  const drives: Drive = { source: known.value.time.source, shape, ...(after !== undefined && { after }) }
  try {
    design.edit(drivenLabel(at, drives), withDriven(document, name, drives))
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
function expectByHand(expected: Expected) {
  if (design.document) design.edit(`${expected.id} by hand`, withExpected(design.document, expected))
}
function forget(id: string) {
  if (design.document) design.edit(`${id} by hand forgotten`, withoutExpected(design.document, id))
}
const setCursor = (at: number) => (view.cursor = { unit: side.value.unit, at })

const figures = computed(() => side.value.figures(known.value))
const atCursor = computed(() => {
  if (cursor.value === null) return null
  const output = side.value.readOut(known.value, cursor.value)
  const rest = drawn.value.filter((signal) => signal !== known.value.output)
  const others = othersAt(props.over, known.value, cursor.value, rest)
  return output === null && others.length === 0 ? null : [output, ...others].filter(Boolean).join('; ')
})
/** Why a signal has no curve. */
const missing = computed(() => {
  const { failures = {} } = (props.over === 'frequency' ? results.frequency : results.time) ?? {}
  return Object.entries(failures)
})
/** Why the run over time is one from rest though a settled one was asked for. */
const unsettled = computed(() => (props.over === 'time' ? (results.time?.unsettled ?? null) : null))
const reflections = computed(() => {
  const { s11, s22 } = portSignals(results.circuit?.circuit ?? null, results.time?.source ?? 'V1')
  return [s11, s22].filter((s): s is string => s !== undefined)
})
const names = computed(() => signalNames(results.circuit?.circuit ?? null))

function change(
  label: string,
  which: (d: Diagram, k: number) => boolean,
  next: (d: Diagram) => Diagram,
  group?: string,
) {
  if (!design.document) return
  const list = diagrams.value.map((d, k) => (which(d, k) ? next(d) : d))
  design.edit(label, { ...design.document, diagrams: list }, group)
}
const isOwn = (d: Diagram) => d.over === props.over
const linear = computed(() => own.value.some(({ diagram }) => diagram.linear))
const isAngular = computed(() => own.value.some(({ diagram }) => diagram.angular))
const setAngular = (to: boolean) =>
  change(to ? 'frequency in rad/s' : 'frequency in Hz', isOwn, (d) => ({ ...d, angular: to }))
const setLinear = (to: boolean) =>
  change(to ? 'linear frequency' : 'logarithmic frequency', isOwn, (d) => ({ ...d, linear: to }))

/** Everything over the same stretch, or as the circuit wants it. */
function setRange(range: readonly [number, number] | null) {
  change(range ? 'range' : 'everything in view', isOwn, (d) => {
    const { x: _before, ...rest } = d
    return range ? { ...rest, x: [range[0], range[1]] } : rest
  })
}
const seen = computed(() => reachOf(props.over, known.value))
/** A range as it is typed: ω where the axis is ω. */
const toTyped = (v: number) => (isAngular.value ? 2 * Math.PI * v : v)
const fromTyped = (v: number) => (isAngular.value ? v / (2 * Math.PI) : v)
const typedRange = computed(() =>
  wanted.value ? ([toTyped(wanted.value.from), toTyped(wanted.value.to)] as const) : null,
)

function addDiagram() {
  const document = design.document
  if (!document) return
  const { x, angular, linear: isLinear } = own.value[0]?.diagram ?? {}
  const common = { ...(x && { x }), ...(angular && { angular }), ...(isLinear && { linear: isLinear }) }
  const next: Diagram = { over: props.over, view: 'value', signals: [known.value.output], ...common }
  design.edit('diagram added', { ...document, diagrams: [...diagrams.value, next] })
}
function removeDiagram(index: number) {
  if (design.document)
    design.edit('diagram removed', { ...design.document, diagrams: diagrams.value.filter((_, k) => k !== index) })
}
const { pin, showTaken, placeOnDrawing } = useBeside(known, () => (view.reads = { ...view.reads, [props.over]: true }))
const isPinning = ref(false)
const isLarge = ref(false)

/** A file with measured points that is being looked at. */
const dataFile = shallowRef<File | null>(null)
const isOverDrop = ref(false)
async function chooseData() {
  dataFile.value = await chooseFile('.csv,.txt,.tsv,.dat,.s1p,.s2p')
}
function dropped(event: DragEvent) {
  isOverDrop.value = false
  dataFile.value = event.dataTransfer?.files[0] ?? null
}
/** Most diagrams below each other. */
const MOST_DIAGRAMS = 8
const isSourceOpen = ref(false)
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" :aria-label="side.name">
    <header class="tools">
      <span class="what">{{ side.title(known) }}</span>
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
        v-if="over === 'frequency'"
        class="text-field"
        aria-label="Frequency in"
        :value="isAngular ? 'rad/s' : 'Hz'"
        @change="setAngular(($event.target as HTMLSelectElement).value === 'rad/s')"
      >
        <option>Hz</option>
        <option>rad/s</option>
      </select>
      <RangeFields
        v-if="side.has(known)"
        :label="over === 'frequency' ? 'Range' : 'Window'"
        :unit="over === 'time' ? 's' : isAngular ? 'rad/s' : 'Hz'"
        :least="0"
        :range="typedRange"
        :shown="[toTyped(seen[0]), toTyped(seen[1])]"
        @range="(r) => setRange(r && [fromTyped(r[0]), fromTyped(r[1])])"
      />
      <button
        v-if="over === 'time' && known.time"
        type="button"
        class="plain-button"
        :aria-expanded="isSourceOpen"
        @click="isSourceOpen = !isSourceOpen"
      >
        test signal
      </button>
      <span class="buttons">
        <button
          v-if="side.has(known)"
          type="button"
          class="plain-button"
          :aria-expanded="isPinning"
          @click="isPinning = !isPinning"
        >
          pin this run
        </button>
        <button
          v-if="over === 'frequency' && known.frequency"
          type="button"
          class="plain-button"
          :aria-expanded="isLarge"
          @click="isLarge = !isLarge"
        >
          large signal
        </button>
        <button v-if="side.has(known)" type="button" class="plain-button" @click="chooseData">data …</button>
        <button
          v-if="side.has(known) && own.length < MOST_DIAGRAMS"
          type="button"
          class="plain-button"
          @click="addDiagram"
        >
          + diagram
        </button>
        <button
          type="button"
          class="plain-button read-button"
          :aria-expanded="view.reads[over]"
          :disabled="!side.has(known)"
          @click="view.reads = { ...view.reads, [over]: !view.reads[over] }"
        >
          Read
        </button>
      </span>
    </header>
    <LargeSignalFields v-if="isLarge && over === 'frequency'" :known="known" @close="isLarge = false" />
    <PinFields v-if="isPinning" :keep="pin" @close="isPinning = false" />
    <DataDialog
      v-if="dataFile"
      :key="dataFile.name + dataFile.lastModified"
      :file="dataFile"
      :known="known"
      :names="names"
      @taken="showTaken"
      @close="dataFile = null"
    />
    <SourceFields v-if="isSourceOpen && over === 'time'" :known="known" @close="isSourceOpen = false" />
    <StageEmpty v-if="!side.has(known)" />
    <template v-else>
      <p v-if="unsettled" class="unsettled" role="status">{{ unsettled.message }} The run from rest is shown.</p>
      <StageNote :pieces="over === 'frequency' ? ['frequency', 'roots'] : ['time']" />
      <p v-for="[signal, failure] in missing" :key="signal" class="missing" role="status">
        {{ signal }}: {{ failure.message }} {{ failure.remedy }}
      </p>
      <div class="body">
        <div
          class="diagrams"
          :class="{ dropping: isOverDrop }"
          @dragover.prevent="isOverDrop = true"
          @dragleave="isOverDrop = false"
          @drop.prevent="dropped"
        >
          <template v-for="(d, k) in shown" :key="d.index">
            <DiagramCaption
              :diagram="d.diagram"
              :names="names"
              :has-lens="canHaveLens(d.diagram, known)"
              :has-beside="compared.shown.length > 0"
              :lens-shown="Boolean(d.plot.lens)"
              :reflections="reflections"
              :is-last="shown.length === 1"
              @change="
                (label, next) =>
                  change(
                    label,
                    (_, j) => j === d.index,
                    () => next,
                  )
              "
              @remove="removeDiagram(d.index)"
              @note="(text) => addNote(d, text)"
            >
              <DiagramOut
                :diagram="d.diagram"
                :plot="d.plot"
                :known="known"
                :palette="palette"
                @place="placeOnDrawing(d.diagram)"
              />
            </DiagramCaption>
            <XyDiagram
              :class="{ plane: isPlane(d.diagram.view), smith: d.diagram.view === 'smith' }"
              :style="{ flex: k === 0 ? 3 : 2 }"
              :plot="d.plot"
              :palette="palette"
              :handles="d.handles"
              ranged
              :description="side.describe(d.diagram, known)"
              @cursor="(x) => setCursor(d.scales.backX(x))"
              @drag="(id, x, y) => dragged(d, id, x, y)"
              @dropped="drags++"
              @range="(from, to) => setRange([d.scales.backX(from), d.scales.backX(to)])"
              @all="wanted && setRange(null)"
            />
          </template>
        </div>
        <ReadPanel
          v-if="view.reads[over]"
          class="panel"
          :over="over"
          :angular="isAngular"
          :known="known"
          :exact="exact"
          :drawn="drawn"
          :cursors="cursors"
          :promises="promises"
          :expected="design.document?.expected ?? []"
          :place="cursor"
          :seek="seek"
          @cursors="setCursors"
          @move="moveCursor"
          @step="(name, to) => dragCursor(name, to)"
          @stepped="drags++"
          @promise="promise"
          @release="release"
          @expect="expectByHand"
          @forget="forget"
          @drive="drive"
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
.unsettled {
  margin: 4px 14px;
  padding: 6px 10px;
  border-left: 3px solid var(--waiting);
  border-radius: 4px;
  background: var(--panel);
}

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
  overflow: hidden auto;
}

.dropping {
  outline: 2px dashed var(--accent);
  outline-offset: -4px;
}

.diagrams :deep(.diagram) {
  min-height: 120px;
}

.diagrams :deep(.plane.diagram) {
  min-height: 260px;
}

.diagrams :deep(.smith.diagram) {
  min-height: 430px;
}

.panel {
  flex: 0 0 clamp(380px, 38%, 520px);
}

.tools select {
  width: auto;
  max-width: 88px;
  padding: 2px 6px;
}

.buttons {
  display: flex;
  gap: 10px;
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
