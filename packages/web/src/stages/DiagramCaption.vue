<script setup lang="ts">
import { type Diagram, type DiagramAxis, MOST_SIGNALS, type SignalNames, withDiagramSignals } from '@voskel/core'
import { computed, ref } from 'vue'
import CurveChips from './CurveChips.vue'
import CurveEntry from './CurveEntry.vue'
import LabelledSwitch from './LabelledSwitch.vue'
import RangeFields from './RangeFields.vue'
import { axisUnit, MAGNITUDE_SCALES, viewsOver } from './instrument/axes'

/** What a diagram draws, and how: each of its curves, what is shown of them, and in what it is read. */
const { diagram, names, hasLens, hasBeside, lensShown, reflections } = defineProps<{
  diagram: Diagram
  names: SignalNames
  hasLens: boolean
  /** Something stands beside the circuit's curves. */
  hasBeside: boolean
  lensShown: boolean
  /** Reflections at the circuit's ports, as signals. */
  reflections: readonly string[]
  /** It is the only one. */
  isLast: boolean
}>()
const emit = defineEmits<{
  change: [label: string, next: Diagram]
  remove: []
  /** Free words, to be put somewhere in view. */
  note: [text: string]
}>()

const views = computed(() => viewsOver(diagram.over))
const isPlane = computed(() => !views.value.some((v) => v.id === diagram.view && v.isAxis))

/** Which curve is being typed: a new one, or one that is there. */
const typing = ref<{ was: string | null } | null>(null)
const problem = ref('')

const withAxis = (axis: Partial<DiagramAxis>): Diagram => ({ ...diagram, ...axis })
const said = (id: Diagram['view']) => views.value.find((v) => v.id === id)?.name ?? id

/** Another view; what belonged to the one before goes. */
function setView(view: string) {
  const { scale: _scale, y: _y, radians: _radians, wrapped: _wrapped, ...rest } = diagram
  const next = { ...rest, view: view as Diagram['view'] }
  // A Smith chart shows reflections.
  if (view === 'smith' && reflections.length > 0 && !next.signals.some((s) => /^s(11|22)\(/i.test(s)))
    next.signals = [...reflections]
  emit('change', `${said(next.view).toLowerCase()} shown`, next)
}

function setRightView(view: string) {
  if (!diagram.right) return
  const { signals } = diagram.right
  emit('change', `${said(view as Diagram['view']).toLowerCase()} at the right`, {
    ...diagram,
    right: { signals, view: view as Diagram['view'] },
  })
}

function setScale(to: string) {
  const { scale: _before, ...rest } = diagram
  emit('change', 'scale of the magnitude', to === '' ? rest : { ...rest, scale: to as NonNullable<Diagram['scale']> })
}

function setUnit(to: string) {
  emit('change', to === 'rad' ? 'phase in radians' : 'phase in degrees', withAxis({ radians: to === 'rad' }))
}

/** Words on the diagram: its title, what stands along its axes. */
function setWords(change: Pick<Diagram, 'title' | 'labels'>, label: string) {
  const { title, labels, ...rest } = { ...diagram, ...change }
  const said = labels && Object.fromEntries(Object.entries(labels).filter(([, text]) => text))
  emit('change', label, {
    ...rest,
    ...(title && { title }),
    ...(said && Object.keys(said).length > 0 && { labels: said }),
  })
}
const LABELS = [
  { id: 'x', name: 'along x' },
  { id: 'y', name: 'at the left' },
  { id: 'right', name: 'at the right' },
] as const
const noteText = ref('')
function putNote() {
  if (noteText.value.trim() === '') return
  emit('note', noteText.value.trim())
  noteText.value = ''
}
function dropNote(k: number) {
  const { notes = [], ...rest } = diagram
  const others = notes.filter((_, j) => j !== k)
  emit('change', 'note removed', others.length > 0 ? { ...rest, notes: others } : rest)
}
const textOf = (event: Event) => (event.target as HTMLInputElement).value.trim()

/** Views whose curves are none of the signals themselves. */
const ownCurves = computed(() => ['noise', 'influence'].includes(diagram.view))
/** The curves or their differences, along an axis as these want it. */
function setDifference(on: boolean) {
  const { difference: _before, y: _y, ...rest } = diagram
  emit('change', on ? 'differences drawn' : 'curves drawn', on ? { ...rest, difference: true } : rest)
}

/** A curve goes where its unit stands already, or has an axis of its own. */
function take(signal: string, unit: string, atRight: boolean) {
  const was = typing.value?.was ?? null
  problem.value = ''
  if (was !== null) {
    typing.value = null
    emit(
      'change',
      `${signal} for ${was}`,
      withDiagramSignals(diagram, (all) => all.map((s) => (s === was ? signal : s))),
    )
    return
  }
  const { right } = diagram
  const count = atRight ? (right?.signals.length ?? 0) : diagram.signals.length
  if (count >= MOST_SIGNALS) {
    problem.value = `An axis has at most ${MOST_SIGNALS} curves: take one out, or add a diagram.`
    return
  }
  typing.value = null
  const own = axisUnit(diagram)
  const goesRight = atRight || (own !== null && !own.includes(unit) && diagram.over === 'frequency')
  if (!goesRight) {
    emit('change', `${signal} drawn`, { ...diagram, signals: [...new Set([...diagram.signals, signal])] })
    return
  }
  const signals = [...new Set([...(right?.signals ?? []), signal])]
  emit('change', `${signal} drawn at the right`, { ...diagram, right: { ...(right ?? { view: 'value' }), signals } })
}

/** A curve goes; the last one at the right takes its axis along. */
function drop(signal: string, atRight: boolean) {
  const { right, ...rest } = diagram
  if (!atRight) {
    const signals = diagram.signals.filter((s) => s !== signal)
    emit('change', `${signal} no longer drawn`, { ...diagram, signals })
    return
  }
  const signals = right!.signals.filter((s) => s !== signal)
  const next = signals.length > 0 ? { ...rest, right: { ...right!, signals } } : rest
  emit('change', `${signal} no longer drawn`, next)
}

function toggle(field: 'asymptotes' | 'points' | 'mask', to: boolean, label: string) {
  emit('change', label, { ...diagram, [field]: to })
}

/** Slopes that a ruler can have. */
const RULERS = [-80, -60, -40, -20, 20, 40, 60, 80]
/** A straight line through the first cursor, or the cutoff. */
function setRuler(to: string) {
  const { ruler: _before, ...rest } = diagram
  emit(
    'change',
    to === '' ? 'no ruler' : `ruler of ${to} dB a decade`,
    to === '' ? rest : { ...rest, ruler: Number(to) },
  )
}

function setEnds(ends: readonly [number, number] | null) {
  const { y: _before, ...rest } = diagram
  emit('change', ends ? 'ends of the axis' : 'the axis as the curves want it', ends ? { ...rest, y: [...ends] } : rest)
}
</script>

<template>
  <div class="caption">
    <select
      class="text-field"
      aria-label="What is drawn"
      :value="diagram.view"
      @change="setView(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="v in views" :key="v.id" :value="v.id">{{ v.name }}</option>
    </select>
    <CurveChips
      :signals="diagram.signals"
      keeps-one
      @change="(signal) => (typing = { was: signal })"
      @drop="(signal) => drop(signal, false)"
    />
    <button type="button" class="plain-button" @click="typing = { was: null }">+ curve</button>
    <select
      v-if="diagram.view === 'db'"
      class="text-field"
      aria-label="Magnitude in"
      :value="diagram.scale ?? ''"
      @change="setScale(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="s in MAGNITUDE_SCALES" :key="s.id" :value="s.id">{{ s.name }}</option>
    </select>
    <select
      v-if="diagram.view === 'value' && diagram.over === 'frequency'"
      class="text-field"
      aria-label="Values along"
      :value="diagram.scale ?? ''"
      @change="setScale(($event.target as HTMLSelectElement).value)"
    >
      <option value="">even steps</option>
      <option value="log">even decades</option>
    </select>
    <select
      v-if="diagram.view === 'phase'"
      class="text-field"
      aria-label="Phase in"
      :value="diagram.radians ? 'rad' : '°'"
      @change="setUnit(($event.target as HTMLSelectElement).value)"
    >
      <option>°</option>
      <option>rad</option>
    </select>
    <LabelledSwitch
      v-if="diagram.view === 'phase'"
      :on="diagram.wrapped ?? false"
      name="Wrap the phase at ±180°"
      @turn="(on) => emit('change', 'phase wrapped', withAxis({ wrapped: on }))"
      >wrap at ±180°</LabelledSwitch
    >
    <LabelledSwitch
      v-if="hasLens"
      :on="lensShown"
      name="Lens on the passband"
      @turn="(on) => emit('change', 'lens', { ...diagram, lens: on })"
      >lens</LabelledSwitch
    >
    <LabelledSwitch
      v-if="(hasBeside || diagram.difference) && !isPlane && !ownCurves"
      :on="diagram.difference ?? false"
      name="Difference to what is beside"
      @turn="setDifference"
      >difference</LabelledSwitch
    >
    <span v-if="diagram.right" class="right">
      <span class="soft">right:</span>
      <select
        class="text-field"
        aria-label="What is drawn at the right"
        :value="diagram.right.view"
        @change="setRightView(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="v in views.filter((v) => v.isAxis)" :key="v.id" :value="v.id">{{ v.name }}</option>
      </select>
      <CurveChips
        :signals="diagram.right.signals"
        :drawn="diagram.signals.length"
        where=" at the right"
        @change="(signal) => (typing = { was: signal })"
        @drop="(signal) => drop(signal, true)"
      />
    </span>
    <span class="ends">
      <slot />
      <details class="more">
        <summary aria-label="More of this diagram">more</summary>
        <div class="sheet">
          <template v-if="diagram.over === 'frequency'">
            <LabelledSwitch
              v-if="diagram.view === 'db' || diagram.view === 'phase'"
              :on="diagram.asymptotes ?? false"
              name="Asymptotes"
              @turn="(on) => toggle('asymptotes', on, 'asymptotes')"
              >asymptotes of the output</LabelledSwitch
            >
            <LabelledSwitch
              v-if="diagram.view === 'db'"
              :on="diagram.mask ?? true"
              name="What is promised"
              @turn="(on) => toggle('mask', on, 'mask')"
              >what is promised</LabelledSwitch
            >
            <label v-if="diagram.view === 'db'"
              >ruler
              <select
                class="text-field"
                aria-label="Ruler"
                :value="diagram.ruler ?? ''"
                @change="setRuler(($event.target as HTMLSelectElement).value)"
              >
                <option value="">none</option>
                <option v-for="slope in RULERS" :key="slope" :value="slope">{{ slope }} dB a decade</option>
              </select></label
            >
          </template>
          <LabelledSwitch
            v-if="!isPlane"
            :on="diagram.points ?? false"
            name="Computed points"
            @turn="(on) => toggle('points', on, 'computed points')"
            >computed points</LabelledSwitch
          >
          <span class="soft">vertical axis, from – to</span>
          <RangeFields label="Vertical axis" unit="" :range="diagram.y ?? null" @range="setEnds" />
          <label
            >title
            <input
              class="text-field"
              :value="diagram.title ?? ''"
              maxlength="120"
              aria-label="Title"
              @change="setWords({ title: textOf($event) }, 'title')"
          /></label>
          <template v-for="l in LABELS" :key="l.id">
            <label v-if="l.id !== 'right' || diagram.right"
              >{{ l.name }}
              <input
                class="text-field"
                :value="diagram.labels?.[l.id] ?? ''"
                maxlength="80"
                :aria-label="`Words ${l.name}`"
                placeholder="as usual"
                @change="setWords({ labels: { ...diagram.labels, [l.id]: textOf($event) } }, 'words along an axis')"
            /></label>
          </template>
          <LabelledSwitch
            :on="diagram.legend ?? false"
            name="Names of the curves in a frame"
            @turn="(on) => emit('change', 'legend', { ...diagram, legend: on })"
            >names of the curves in a frame</LabelledSwitch
          >
          <form class="note" @submit.prevent="putNote">
            <input
              v-model="noteText"
              class="text-field"
              maxlength="200"
              aria-label="Note"
              placeholder="a note, to be drawn to its place"
            />
            <button type="submit" class="plain-button">put</button>
          </form>
          <span v-for="(n, k) in diagram.notes ?? []" :key="k" class="note"
            >{{ n.text }}
            <button type="button" class="plain-button" :aria-label="`Remove the note ${n.text}`" @click="dropNote(k)">
              ×
            </button></span
          >
          <button v-if="!isLast" type="button" class="plain-button" @click="emit('remove')">Remove this diagram</button>
        </div>
      </details>
    </span>
  </div>
  <CurveEntry
    v-if="typing"
    :key="typing.was ?? ''"
    :over="diagram.over"
    :names="names"
    :value="typing.was ?? ''"
    @take="take"
    @close="((typing = null), (problem = ''))"
  />
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.caption {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
  min-height: 28px;
  padding: 0 8px;
}

select {
  width: auto;
  max-width: 132px;
  padding: 1px 6px;
}

/* What is drawn has long names. */
.caption > select:first-child {
  max-width: 172px;
}

.right {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
}

.soft {
  color: var(--ink-soft);
}

.ends {
  display: inline-flex;
  align-items: center;
  gap: 10px;
  margin-left: auto;
}

.more {
  position: relative;
}

.more summary {
  color: var(--ink-soft);
  cursor: pointer;
}

.sheet label input {
  flex: 1;
  min-width: 0;
}

.note {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}

.problem {
  margin: 0 8px;
  color: var(--missed);
}
</style>
