<script setup lang="ts">
import {
  type Cursor,
  type Diagram,
  formatExact,
  formatQuantity,
  freeCursorName,
  parseQuantity,
  readingText,
  type Snap,
  SNAPS,
  type ValueReading,
  type ValueRequirement,
  type View,
  VoskelError,
} from '@voskel/core'
import { computed, ref, shallowRef } from 'vue'
import type { Computed } from './instrument/Over'
import {
  answerToSine,
  canSolve,
  type Cell,
  cellsAt,
  differences,
  measuresOf,
  placeOfSnap,
  placeWhere,
  reachOf,
  readingOf,
  rootsOf,
} from './instrument/reading'
import PromiseFields from './PromiseFields.vue'

/** What is read off the curves: cursors with their values, measures, and what is promised of them. */
const { over, known, cursors, promises, place } = defineProps<{
  over: Diagram['over']
  known: Computed
  cursors: readonly Cursor[]
  promises: readonly ValueRequirement[]
  /** Where a new cursor stands: at the pointer, if it is on a diagram. */
  place: number | null
}>()
const emit = defineEmits<{
  cursors: [label: string, cursors: readonly Cursor[], group?: string]
  promise: [promise: ValueRequirement]
  release: [id: string]
  /** The source is to be a sine of a frequency, Hz. */
  sine: [frequency: number]
}>()

const unit = computed(() => (over === 'frequency' ? 'Hz' : 's'))
const own = computed(() => cursors.filter((c) => c.over === over))
const cells = (at: number): readonly Cell[] => cellsAt(over, known, at)
/** What stands in columns, and what is told below them. */
const isColumn = (cell: Cell) => cell.id === 'db' || cell.id === 'phase' || cell.id === 'value'
const rows = computed(() =>
  own.value.map((cursor) => {
    const all = cells(cursor.at)
    return { cursor, cells: all.filter(isColumn), more: all.filter((c) => !isColumn(c)).map(tellOf) }
  }),
)
const heads = computed(() => cells(middle()).filter(isColumn))

function tellOf({ id, name, value, unit: of }: Cell): string {
  if (id === 'lag') return `${value < 0 ? 'leads' : 'lags'} by ${formatQuantity(Math.abs(value), of)}`
  return `${name} ${formatQuantity(value, of)}${id === 'slope' ? ' a decade' : ''}`
}
const between = computed(() => {
  const [a, b] = own.value
  return a && b ? { names: `${b.name} − ${a.name}`, parts: differences(over, [a, b], cells) } : null
})
const measures = computed(() => measuresOf(over, known))
const poles = computed(() => rootsOf(known))
const settled = computed(() => (over === 'time' ? answerToSine(known) : null))

function middle(): number {
  const [from, to] = reachOf(over, known)
  return over === 'frequency' ? Math.sqrt(from * to) : to / 2
}

function add() {
  const name = freeCursorName(cursors)
  emit('cursors', `cursor ${name}`, [...cursors, { name, over, at: place ?? middle() }])
}

const moved = (cursor: Cursor, at: number) =>
  emit(
    'cursors',
    `cursor ${cursor.name} moved`,
    cursors.map((c) => (c === cursor ? { ...c, at } : c)),
  )
const remove = (cursor: Cursor) =>
  emit(
    'cursors',
    `cursor ${cursor.name} removed`,
    cursors.filter((c) => c !== cursor),
  )

const UNKNOWN = 'The poles of this output are not known, so that no place on it can be solved: type a frequency.'

/** What is wrong with what was typed, beside the cursor that it was typed for. */
const wrong = ref<{ name: string; text: string } | null>(null)
const say = (cursor: Cursor, text: string) => (wrong.value = { name: cursor.name, text })

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
    if (value >= from && value <= to) return moved(cursor, value)
    return say(cursor, `The curve goes from ${formatQuantity(from, unit.value)} to ${formatQuantity(to, unit.value)}.`)
  }
  if (!canSolve(known)) return say(cursor, UNKNOWN)
  const at = placeWhere(known, field as View, value, cursor.at)
  if (at !== null) return moved(cursor, at)
  say(
    cursor,
    `The curve is nowhere at ${formatQuantity(value, fieldUnit)} between ${formatQuantity(from, unit.value)} and ${formatQuantity(to, unit.value)}.`,
  )
}

function snap(cursor: Cursor, to: Snap) {
  wrong.value = null
  if (!canSolve(known)) return say(cursor, UNKNOWN)
  const at = placeOfSnap(known, to, cursor.at)
  if (at !== null) return moved(cursor, at)
  say(cursor, `There is no ${SNAPS.find((s) => s.id === to)!.name} in view.`)
}

/** A value that the curve can be asked for the place of. */
const isSought = (cell: Cell) => cell.id === 'db' || cell.id === 'phase'

/** What is being promised. */
const promising = shallowRef<{ id: string; of: ValueReading; value: number; unit: string } | null>(null)

function promiseCell(cursor: Cursor, cell: Cell) {
  const of = readingOf(cell.id, known, cursor.at)
  if (of) promising.value = { id: `${cell.name} at ${cursor.name}`, of, value: cell.value, unit: cell.unit }
}
const isPromised = (cell: Cell) => over === 'frequency' && readingOf(cell.id, known, 1) !== null
</script>

<template>
  <aside class="reading" aria-label="Read the curves">
    <section aria-label="Cursors">
      <h3>Cursors <button type="button" class="plain-button" @click="add">+ cursor</button></h3>
      <table v-if="rows.length">
        <thead>
          <tr>
            <th scope="col"><span class="visually-hidden">name</span></th>
            <th scope="col">{{ over === 'frequency' ? 'frequency' : 'time' }}</th>
            <th v-for="c in heads" :key="c.id" scope="col">{{ c.name }}</th>
            <th scope="col"><span class="visually-hidden">remove</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="row in rows" :key="row.cursor.name">
            <tr>
              <th scope="row">{{ row.cursor.name }}</th>
              <td>
                <input
                  class="text-field"
                  :value="formatExact(Number(row.cursor.at.toPrecision(6)), unit)"
                  :aria-label="`Place of cursor ${row.cursor.name}`"
                  spellcheck="false"
                  @change="typed(row.cursor, 'at', $event.target as HTMLInputElement, unit)"
                />
              </td>
              <td v-for="cell in row.cells" :key="cell.id">
                <input
                  v-if="isSought(cell)"
                  class="text-field"
                  :value="formatQuantity(cell.value, cell.unit)"
                  :aria-label="`${cell.name} at cursor ${row.cursor.name}`"
                  title="Type a value: the cursor goes to where the curve has it"
                  spellcheck="false"
                  @change="typed(row.cursor, cell.id, $event.target as HTMLInputElement, cell.unit)"
                />
                <template v-else>{{ formatQuantity(cell.value, cell.unit) }}</template>
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
              <td>
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
            <tr v-if="over === 'frequency'" class="snaps">
              <td />
              <td :colspan="heads.length + 2">
                <p>{{ row.more.join(' · ') }}</p>
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
                  type="button"
                  class="plain-button small sine"
                  :aria-label="`A sine of the frequency of cursor ${row.cursor.name} over time`"
                  @click="emit('sine', row.cursor.at)"
                >
                  in Time, as a sine
                </button>
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
      <p v-if="between" class="between">
        <b>{{ between.names }}</b> <span v-for="p in between.parts" :key="p">{{ p }}</span>
      </p>
    </section>
    <section aria-label="Measures">
      <h3>Measures</h3>
      <table>
        <tbody>
          <tr v-for="m in measures" :key="m.path">
            <th scope="row">{{ m.name }}</th>
            <td class="number">{{ formatQuantity(m.value, m.unit) }}</td>
            <td>
              <button
                type="button"
                class="plain-button small"
                :aria-label="`Promise ${m.name}`"
                @click="promising = { id: m.name, of: { measure: m.path }, value: m.value, unit: m.unit }"
              >
                promise
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-if="over === 'frequency' && poles.length" aria-label="Poles and zeros">
      <h3>Poles and zeros</h3>
      <table>
        <thead>
          <tr>
            <th scope="col"><span class="visually-hidden">kind</span></th>
            <th scope="col" class="number">frequency</th>
            <th scope="col" class="number">Q</th>
            <th scope="col" class="number">real part, 1/s</th>
            <th scope="col" class="number">± imaginary, 1/s</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, k) in poles" :key="k">
            <th scope="row">{{ r.kind }}</th>
            <td class="number">{{ formatQuantity(r.frequency, 'Hz') }}</td>
            <td class="number">{{ r.q === null ? '–' : formatQuantity(r.q) }}</td>
            <td class="number">{{ formatQuantity(r.re) }}</td>
            <td class="number">{{ r.im === 0 ? '–' : formatQuantity(r.im) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <PromiseFields
      v-if="promising"
      :key="promising.id"
      v-bind="promising"
      @promise="(p) => (emit('promise', p), (promising = null))"
      @close="promising = null"
    />
    <section v-if="promises.length" aria-label="Promised">
      <h3>Promised</h3>
      <ul>
        <li v-for="p in promises" :key="p.id">
          <span
            ><b>{{ p.id }}</b> <span class="soft">{{ readingText(p.of) }}</span></span
          >
          <button
            type="button"
            class="plain-button"
            :aria-label="`No longer promise ${p.id}`"
            @click="emit('release', p.id)"
          >
            ×
          </button>
        </li>
      </ul>
    </section>
  </aside>
</template>

<style scoped>
.reading {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 4px 12px 8px;
  overflow: auto;
  border-left: 1px solid var(--line-strong);
}

h3 {
  display: flex;
  align-items: baseline;
  gap: 8px;
  margin: 0 0 2px;
  font-size: 15px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

td,
th {
  padding: 1px 8px 1px 0;
  font-variant-numeric: tabular-nums;
  text-align: left;
  vertical-align: baseline;
  white-space: nowrap;
}

thead th,
tbody th,
.soft {
  color: var(--ink-soft);
  font-weight: 400;
}

tbody th:first-child {
  color: var(--ink);
}

.number {
  text-align: right;
}

td input {
  width: 88px;
  padding: 1px 5px;
}

.small {
  padding: 0 4px;
  font-size: 13px;
}

.snaps td {
  padding-bottom: 6px;
  border-bottom: 1px solid var(--line);
  color: var(--ink-soft);
}

.sine {
  float: right;
}

.wrong {
  color: var(--missed);
  white-space: normal;
}

.between {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  margin: 4px 0 0;
  font-variant-numeric: tabular-nums;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  justify-content: space-between;
}

p {
  margin: 0;
}
</style>
