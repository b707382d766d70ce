<script setup lang="ts">
import {
  COURSE_SNAPS,
  coursePlaces,
  type CourseSnap,
  type Cursor,
  type CurvePoint,
  type Diagram,
  type Drive,
  formatExact,
  formatQuantity,
  freeCursorName,
  nextOf,
  parseQuantity,
  type Snap,
  SNAPS,
  timesWhere,
  type ValueReading,
  VoskelError,
} from '@voskel/core'
import { computed, ref } from 'vue'
import { readingTopic } from '../engine/jobs/expected'
import type { Sought } from '../engine/jobs/reading'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'
import type { Computed } from './instrument/Over'
import {
  answerToSine,
  type Cell,
  cellsAt,
  differences,
  edgesOf,
  extremesBetween,
  othersAt,
  reachOf,
  readingOf,
} from './instrument/reading'
import type { ReadValue } from './PromiseFields.vue'

/** The cursors of a side: where each stands, what stands there, how far they are apart, and the ways to move them. */
const { over, angular, known, exact, drawn, cursors, place, seek } = defineProps<{
  over: Diagram['over']
  /** Frequencies are read as ω, rad/s. */
  angular: boolean
  known: Computed
  /** Numbers that were solved at the cursors. */
  exact: ReadonlyMap<string, CurvePoint>
  /** Signals that are drawn. */
  drawn: readonly string[]
  cursors: readonly Cursor[]
  /** Where a new cursor stands: at the pointer, if it is on a diagram. */
  place: number | null
  /** Where a cursor's curve has what is sought; rejects with why it cannot be said. */
  seek: (cursor: Cursor, sought: Sought) => Promise<number | null>
}>()
const emit = defineEmits<{
  cursors: [label: string, cursors: readonly Cursor[]]
  move: [name: string, to: number]
  /** One of several small steps, which are one to be taken back. */
  step: [name: string, to: number]
  stepped: []
  /** Something is to be promised, or compared. */
  read: [value: ReadValue]
  /** The source is to be a wave of a cursor's frequency. */
  drive: [cursor: Cursor, shape: Drive['shape'], settled: boolean]
}>()

const design = useDesignStore()
const unit = computed(() => (over === 'time' ? 's' : angular ? 'rad/s' : 'Hz'))
/** A place as it is read, and back. */
const shownAs = (at: number) => (angular ? 2 * Math.PI * at : at)
const typedAs = (value: number) => (angular ? value / (2 * Math.PI) : value)
const said = (at: number) => formatQuantity(shownAs(at), unit.value)
const own = computed(() => cursors.filter((c) => c.over === over))
const cells = ({ at, on }: Cursor): readonly Cell[] => cellsAt(over, known, at, { signal: on, exact })
/** What stands in columns, and what is told below them. */
const COLUMNS: ReadonlySet<Cell['id']> = new Set(['db', 'value', 're', 'phase'])
const isColumn = (cell: Cell) => COLUMNS.has(cell.id)
const rows = computed(() =>
  own.value.map((cursor) => {
    const all = cells(cursor)
    const others = othersAt(
      over,
      known,
      cursor.at,
      curves.value.filter((s) => s !== (cursor.on ?? known.output)),
      exact,
    )
    return { cursor, cells: all.filter(isColumn), more: [...all.filter((c) => !isColumn(c)).map(tellOf), ...others] }
  }),
)
const heads = computed(() => (over === 'frequency' ? ['magnitude', 'phase'] : ['value']))
/** Curves that a cursor can stand on. */
const curves = computed(() => [...new Set([known.output, ...drawn])])

function tellOf({ id, name, value, unit: of }: Cell): string {
  if (id === 'lag' && value === 0) return 'in phase'
  if (id === 'lag') return `${value < 0 ? 'leads' : 'lags'} by ${formatQuantity(Math.abs(value), of)}`
  if (id === 'margin')
    return value < 0
      ? `misses the limit by ${formatQuantity(-value, of)}`
      : `${formatQuantity(value, of)} inside the limit`
  return `${name} ${formatQuantity(value, of)}${id === 'slope' || id === 'asymptote' ? ' a decade' : ''}`
}
/** How far each other cursor is from the first. */
const between = computed(() => {
  const [a, ...others] = own.value
  return others.map((b) => ({
    names: `${b.name} − ${a!.name}`,
    parts: differences(over, [a!, b], cells),
    within: `${a!.name} to ${b.name}`,
    extremes: over === 'frequency' ? extremesBetween([a!, b], known) : [],
  }))
})
const settled = computed(() => (over === 'time' ? answerToSine(known) : null))

function middle(): number {
  const [from, to] = reachOf(over, known)
  return over === 'frequency' ? Math.sqrt(from * to) : (from + to) / 2
}

function add() {
  const name = freeCursorName(cursors)
  // Where the output is not drawn, on what is.
  const on = drawn.includes(known.output) ? undefined : drawn[0]
  emit('cursors', `cursor ${name}`, [
    ...cursors,
    { name, over, at: place ?? middle(), ...(on !== undefined && { on }) },
  ])
}

const moved = (cursor: Cursor, at: number) => emit('move', cursor.name, at)
const remove = (cursor: Cursor) =>
  emit(
    'cursors',
    `cursor ${cursor.name} removed`,
    cursors.filter((c) => c !== cursor),
  )
function stand(cursor: Cursor, on: string) {
  const { on: _before, ...rest } = cursor
  const next: Cursor = on === known.output ? rest : { ...rest, on }
  emit(
    'cursors',
    `cursor ${cursor.name} on ${on}`,
    cursors.map((c) => (c === cursor ? next : c)),
  )
}

/** What is wrong with what was typed, beside the cursor that it was typed for. */
const wrong = ref<{ name: string; text: string } | null>(null)
const say = (cursor: Cursor, text: string) => (wrong.value = { name: cursor.name, text })

async function goWhere(cursor: Cursor, sought: Sought, none: string) {
  try {
    const at = await seek(cursor, sought)
    if (at === null) say(cursor, none)
    else moved(cursor, at)
  } catch (error) {
    say(cursor, error instanceof Error ? error.message : String(error))
  }
}

/** A typed place, or a typed value: the cursor goes to where the curve has it. */
function typed(cursor: Cursor, field: 'at' | Cell['id'], input: HTMLInputElement, fieldUnit: string) {
  wrong.value = null
  let value: number
  try {
    value = parseQuantity(input.value, fieldUnit)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    return say(cursor, `${error.message} ${error.remedy}`)
  }
  const [from, to] = reachOf(over, known)
  if (field === 'at') {
    const at = typedAs(value)
    if (at >= from && at <= to) return moved(cursor, at)
    return say(cursor, `The curve goes from ${said(from)} to ${said(to)}.`)
  }
  if (over === 'time') {
    const places = courseOf(cursor) ? timesWhere(courseOf(cursor)!, value, from, to) : []
    const near = places.reduce<number | null>(
      (best, t) => (best === null || Math.abs(t - cursor.at) < Math.abs(best - cursor.at) ? t : best),
      null,
    )
    if (near !== null) return moved(cursor, near)
    return say(cursor, `The curve is nowhere at ${formatQuantity(value, fieldUnit)} in view.`)
  }
  const none = `The curve is nowhere at ${formatQuantity(value, fieldUnit)} between ${said(from)} and ${said(to)}.`
  void goWhere(cursor, { view: field as CurveViewId, value }, none)
}
type CurveViewId = Sought['view']

function snap(cursor: Cursor, to: Snap) {
  wrong.value = null
  const [first] = cells(cursor)
  const view = first?.id === 'value' || first?.id === 're' ? first.id : 'db'
  void goWhere(cursor, { snap: to, view }, `There is no ${SNAPS.find((s) => s.id === to)!.name} in view.`)
}

/** The course that a cursor over time stands on. */
const courseOf = ({ on }: Cursor) =>
  known.time?.curves.find((c) => c.signal === (on ?? known.output)) ??
  (on === undefined ? known.ideal?.time : undefined)

function snapInTime(cursor: Cursor, to: CourseSnap) {
  wrong.value = null
  const course = courseOf(cursor)
  const at = course ? nextOf(coursePlaces(course, to, ...reachOf(over, known)), cursor.at) : null
  if (at !== null) moved(cursor, at)
  else say(cursor, `There is no ${COURSE_SNAPS.find((s) => s.id === to)!.name} in view.`)
}

/** The next edge of a band that something is promised of. */
function toEdge(cursor: Cursor) {
  const edges = edgesOf(known)
  const next = edges.find((f) => f > cursor.at * (1 + 1e-9)) ?? edges[0]
  if (next !== undefined) moved(cursor, next)
}

/** Arrow keys on a cursor's name: a hundredth of the axis, with Shift a tenth. */
function arrow(cursor: Cursor, event: KeyboardEvent) {
  const sign = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (sign === 0) return
  const [from, to] = reachOf(over, known)
  const part = (sign * (event.shiftKey ? 10 : 1)) / 100
  emit('step', cursor.name, over === 'frequency' ? cursor.at * (to / from) ** part : cursor.at + (to - from) * part)
  event.preventDefault()
}

/** Whether a wave over time is seen after it has settled. */
const isSettled = ref(false)

function promiseCell(cursor: Cursor, cell: Cell) {
  // A real quantity has a sign, which its size has not.
  const id = cell.id === 'value' && cell.value < 0 ? 're' : cell.id
  const of = readingOf(id, cursor.on ?? known.output, cursor.at)
  if (of) emit('read', { id: `${cell.name} at ${cursor.name}`, of, value: cell.value, unit: cell.unit })
}
/** The least or greatest between two cursors, read before it is promised. */
async function promiseExtreme(id: string, of: ValueReading) {
  const document = design.document
  if (!document) return
  const outcome = await lanes.trace.ask(readingTopic, { ...document, reading: of })
  if (outcome.kind === 'done' && outcome.answer.value !== null)
    emit('read', { id, of, value: outcome.answer.value, unit: outcome.answer.unit })
}
const isPromised = (cell: Cell) => over === 'frequency' && readingOf(cell.id, known.output, 1) !== null
</script>

<template>
  <section aria-label="Cursors">
    <h3>Cursors <button type="button" class="plain-button" @click="add">+ cursor</button></h3>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">name</span></th>
          <th scope="col">{{ over === 'frequency' ? 'frequency' : 'time' }}</th>
          <th v-for="h in heads" :key="h" scope="col">{{ h }}</th>
          <th scope="col"><span class="visually-hidden">remove</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in rows" :key="row.cursor.name">
          <tr>
            <th scope="row">
              <button
                type="button"
                class="plain-button name"
                :aria-label="`Cursor ${row.cursor.name}: arrow keys move it`"
                @keydown="arrow(row.cursor, $event)"
                @keyup="emit('stepped')"
              >
                {{ row.cursor.name }}
              </button>
            </th>
            <td>
              <input
                class="text-field"
                :value="formatExact(Number(shownAs(row.cursor.at).toPrecision(6)), unit)"
                :aria-label="`Place of cursor ${row.cursor.name}`"
                spellcheck="false"
                @change="typed(row.cursor, 'at', $event.target as HTMLInputElement, unit)"
              />
            </td>
            <td v-for="cell in row.cells" :key="cell.id">
              <input
                class="text-field"
                :value="formatQuantity(cell.value, cell.unit)"
                :aria-label="`${cell.name} at cursor ${row.cursor.name}`"
                title="Type a value: the cursor goes to where the curve has it"
                spellcheck="false"
                @change="typed(row.cursor, cell.id, $event.target as HTMLInputElement, cell.unit)"
              />
              <button
                v-if="isPromised(cell)"
                type="button"
                class="plain-button small"
                :aria-label="`Promise the ${cell.name} at ${row.cursor.name}`"
                @click="promiseCell(row.cursor, cell)"
              >
                promise
              </button>
            </td>
            <td class="end">
              <button
                type="button"
                class="plain-button"
                :aria-label="`Remove cursor ${row.cursor.name}`"
                @click="remove(row.cursor)"
              >
                ×
              </button>
            </td>
          </tr>
          <tr class="snaps">
            <td />
            <td :colspan="heads.length + 2">
              <label v-if="curves.length > 1" class="on"
                >on
                <select
                  class="text-field"
                  :aria-label="`Curve of cursor ${row.cursor.name}`"
                  :value="row.cursor.on ?? known.output"
                  @change="stand(row.cursor, ($event.target as HTMLSelectElement).value)"
                >
                  <option v-for="c in curves" :key="c" :value="c">{{ c }}</option>
                </select>
              </label>
              <p>{{ row.more.join(' · ') }}</p>
              <template v-if="over === 'time'">
                to
                <button
                  v-for="s in COURSE_SNAPS"
                  :key="s.id"
                  type="button"
                  class="plain-button small"
                  :title="s.says"
                  :aria-label="`Cursor ${row.cursor.name} to ${s.name}`"
                  @click="snapInTime(row.cursor, s.id)"
                >
                  {{ s.name }}
                </button>
              </template>
              <template v-else>
                to
                <button
                  v-for="s in SNAPS"
                  :key="s.id"
                  type="button"
                  class="plain-button small"
                  :title="s.says"
                  :aria-label="`Cursor ${row.cursor.name} to ${s.name}`"
                  @click="snap(row.cursor, s.id)"
                >
                  {{ s.name }}
                </button>
                <button
                  v-if="edgesOf(known).length"
                  type="button"
                  class="plain-button small"
                  title="the next edge of a band that something is promised of"
                  :aria-label="`Cursor ${row.cursor.name} to the next edge`"
                  @click="toEdge(row.cursor)"
                >
                  edge
                </button>
                <p v-if="known.time" class="drives">
                  in Time, as a
                  <button
                    type="button"
                    class="plain-button small"
                    :aria-label="`A sine of the frequency of cursor ${row.cursor.name} over time`"
                    @click="emit('drive', row.cursor, 'sine', isSettled)"
                  >
                    sine</button
                  >,
                  <button
                    type="button"
                    class="plain-button small"
                    :aria-label="`A square wave of the frequency of cursor ${row.cursor.name} over time`"
                    @click="emit('drive', row.cursor, 'square', isSettled)"
                  >
                    square wave</button
                  >,
                  <label><input v-model="isSettled" type="checkbox" /> settled</label>
                  <span v-if="row.cursor.drives"> · {{ row.cursor.drives.source }} follows it</span>
                </p>
              </template>
            </td>
          </tr>
          <tr v-if="wrong?.name === row.cursor.name">
            <td />
            <td :colspan="heads.length + 2" class="wrong" role="alert">{{ wrong.text }}</td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-else class="soft">None yet. A cursor keeps its place, shows what stands there, and stays with the design.</p>
    <p v-if="settled">{{ settled }}</p>
    <p v-for="b in between" :key="b.names" class="between">
      <b>{{ b.names }}</b> <span v-for="p in b.parts" :key="p">{{ p }}</span>
      <button
        v-for="e in b.extremes"
        :key="e.take"
        type="button"
        class="plain-button small"
        :aria-label="`Promise the ${e.take} from ${b.within}`"
        @click="promiseExtreme(`${e.take} from ${b.within}`, e.of)"
      >
        {{ e.take }} between
      </button>
    </p>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
.name {
  min-width: 22px;
  font-weight: 650;
}

.on {
  float: right;
}

.on select {
  width: auto;
  max-width: 140px;
  padding: 0 4px;
}

.end {
  text-align: right;
}

td input:not([type='checkbox']) {
  width: 88px;
  padding: 1px 5px;
}

.snaps td {
  padding-bottom: 6px;
  border-bottom: 1px solid var(--line);
  color: var(--ink-soft);
  white-space: normal;
}

.between {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  margin: 4px 0 0;
  font-variant-numeric: tabular-nums;
}
</style>
