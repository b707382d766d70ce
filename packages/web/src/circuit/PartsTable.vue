<script setup lang="ts">
import {
  type Circuit,
  type EditCall,
  formatExact,
  NetMap,
  partKind,
  partShape,
  typedValue,
  valueText,
  VoskelError,
} from '@voskel/core'
import { computed, nextTick, ref, watch } from 'vue'
import { valuesIn } from './scene'

/**
 * All parts beside the drawing. Sorted by a click, filtered by typing; the arrow keys walk over cells, Enter or a character
 * types into one, Ctrl+C copies the marked cells of a column, Ctrl+V puts a column in.
 */
const { circuit, chosen } = defineProps<{ circuit: Circuit; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{ edit: [call: EditCall]; choose: [parts: readonly string[]] }>()

const COLUMNS = [
  { id: 'name', name: 'part' },
  { id: 'kind', name: 'kind' },
  { id: 'value', name: 'value' },
  { id: 'tolerance', name: 'tolerance' },
  { id: 'nets', name: 'nets' },
] as const
type ColumnId = (typeof COLUMNS)[number]['id']

interface Row {
  readonly id: string
  readonly cells: Readonly<Record<ColumnId, string>>
  /** To be typed over: exact, with its formula. */
  readonly exact: string
  readonly size: number
}

const filter = ref('')
const order = ref<{ by: ColumnId; down: boolean }>({ by: 'name', down: false })
const problem = ref('')

const all = computed(() => {
  const nets = NetMap.of(circuit)
  const valuesOf = valuesIn(circuit)
  return circuit.parts.flatMap((part): Row[] => {
    if (part.kind === 'ground') return []
    const kind = partKind(part.kind)
    const values = valuesOf(part)
    const main = kind.values.find((f) => f.id === kind.mainValue)
    const formula = main && part.formulas?.[main.id]
    const number = main && values?.[main.id]?.value
    const shown = part.model ?? valueText(part, values) ?? ''
    return [
      {
        id: part.id,
        cells: {
          name: part.id,
          kind: kind.name.toLowerCase(),
          value: formula === undefined ? shown : `${shown} = ${formula}`,
          tolerance: part.tolerance === undefined ? '' : `±${Number((part.tolerance * 100).toPrecision(4))} %`,
          nets: partShape(part)
            .pins.map((pin) => nets.netOf(part.id, pin) ?? '–')
            .join(', '),
        },
        exact: formula !== undefined ? `= ${formula}` : number === undefined ? '' : formatExact(number, main!.unit),
        size: number ?? 0,
      },
    ]
  })
})

const rows = computed(() => {
  const wanted = filter.value.trim().toLowerCase()
  const found = all.value.filter((r) => Object.values(r.cells).some((c) => c.toLowerCase().includes(wanted)))
  const { by, down } = order.value
  const compare = new Intl.Collator('en', { numeric: true }).compare
  found.sort((a, b) =>
    by === 'value' ? compare(a.cells.kind, b.cells.kind) || a.size - b.size : compare(a.cells[by], b.cells[by]),
  )
  return down ? found.reverse() : found
})

function sort(by: ColumnId) {
  order.value = { by, down: order.value.by === by && !order.value.down }
}

// --- cells -----------------------------------------------------------------------------------------------------------

const at = ref({ row: 0, column: 0 })
/** The other end of the marked cells of a column. */
const anchor = ref(0)
const typing = ref<string | null>(null)
const table = ref<HTMLElement | null>(null)
const field = ref<HTMLInputElement[] | null>(null)
const marked = computed(() => {
  const [from, to] = [Math.min(anchor.value, at.value.row), Math.max(anchor.value, at.value.row)]
  return { from, to }
})
const column = computed(() => COLUMNS[at.value.column]!.id)
const canType = (id: ColumnId) => id === 'name' || id === 'value' || id === 'tolerance'

watch(rows, (list) => {
  at.value = { ...at.value, row: Math.min(at.value.row, Math.max(0, list.length - 1)) }
  anchor.value = Math.min(anchor.value, Math.max(0, list.length - 1))
})

function go(row: number, to: number, extends_ = false) {
  at.value = {
    row: Math.min(rows.value.length - 1, Math.max(0, row)),
    column: Math.min(COLUMNS.length - 1, Math.max(0, to)),
  }
  if (!extends_) anchor.value = at.value.row
  problem.value = ''
  emit(
    'choose',
    rows.value.slice(marked.value.from, marked.value.to + 1).map((r) => r.id),
  )
  void nextTick(() => table.value?.querySelector<HTMLElement>('td.at')?.scrollIntoView({ block: 'nearest' }))
}

async function begin(text: string | null) {
  const row = rows.value[at.value.row]
  if (!row || !canType(column.value)) return
  typing.value = text ?? (column.value === 'value' ? row.exact : row.cells[column.value].replace('±', ''))
  await nextTick()
  const [input] = field.value ?? []
  input?.focus()
  if (text === null) input?.select()
}

function key(event: KeyboardEvent) {
  if (typing.value !== null) return
  const { row, column: c } = at.value
  const steps: Readonly<Record<string, readonly [number, number]>> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    PageDown: [10, 0],
    PageUp: [-10, 0],
  }
  const step = steps[event.key]
  if (step && !event.ctrlKey && !event.altKey) go(row + step[0], c + step[1], event.shiftKey && step[1] === 0)
  else if (event.key === 'Home') go(0, c)
  else if (event.key === 'End') go(rows.value.length - 1, c)
  else if (event.key === 'Enter' || event.key === 'F2') void begin(null)
  else if (event.key === 'Delete' && column.value === 'tolerance') put([''])
  else if (event.key.length === 1 && event.key !== '?' && !event.ctrlKey && !event.metaKey && !event.altKey)
    void begin(event.key)
  else return
  event.preventDefault()
  event.stopPropagation()
}

function typedKey(event: KeyboardEvent) {
  event.stopPropagation()
  if (event.key === 'Escape') typing.value = null
  else if (event.key === 'Enter' || event.key === 'Tab') {
    if (!keep()) return event.preventDefault()
    if (event.key === 'Enter') go(at.value.row + (event.shiftKey ? -1 : 1), at.value.column)
    else go(at.value.row, at.value.column + (event.shiftKey ? -1 : 1))
  } else return
  event.preventDefault()
  table.value?.focus()
}

/** Takes what is typed; false where it cannot be used. */
function keep(): boolean {
  const text = typing.value
  if (text === null) return true
  if (!put([text])) return false
  typing.value = null
  return true
}

/** Puts texts into the column from the cursor on, as one step; says what cannot be read and then changes nothing. */
function put(texts: readonly string[]): boolean {
  problem.value = ''
  const from = texts.length > 1 ? marked.value.from : at.value.row
  const targets = rows.value.slice(from, from + texts.length)
  if (column.value === 'name') {
    const [row] = targets
    const to = texts[0]!.trim()
    if (row && to !== '' && to !== row.id) emit('edit', { edit: 'rename-part', args: { part: row.id, to } })
    return true
  }
  type SetRows = Extract<EditCall, { edit: 'set-values' }>['args']['rows']
  const set: SetRows = []
  for (const [k, row] of targets.entries()) {
    const part = circuit.parts.find((p) => p.id === row.id)!
    const main = partKind(part.kind).values.find((f) => f.id === partKind(part.kind).mainValue)
    const text = texts[k]!.trim().replace(/^±/, '')
    try {
      if (column.value === 'tolerance') {
        set.push({ part: row.id, tolerance: text === '' ? null : typedValue(text, '%', circuit).value / 100 })
      } else if (!main) {
        throw new VoskelError('CIRCUIT_INVALID', {
          problem: `${row.id} has no single value.`,
          fix: 'Open its details.',
        })
      } else if (text !== row.exact) {
        const typed = typedValue(text, main.unit, circuit)
        set.push({
          part: row.id,
          field: main.id,
          ...(typed.formula === undefined ? { value: typed.value } : { formula: typed.formula }),
        })
      }
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      problem.value = `${row.id}: ${error.message} ${error.remedy}`
      return false
    }
  }
  if (set.length > 0) emit('edit', { edit: 'set-values', args: { rows: set } })
  return true
}

function copy(event: ClipboardEvent) {
  if (typing.value !== null) return
  const { from, to } = marked.value
  const cells = rows.value
    .slice(from, to + 1)
    .map((r) => (column.value === 'value' ? r.exact || r.cells.value : r.cells[column.value]))
  event.clipboardData?.setData('text/plain', cells.join('\n'))
  event.preventDefault()
}

function paste(event: ClipboardEvent) {
  if (typing.value !== null) return
  event.preventDefault()
  event.stopPropagation()
  const lines = (event.clipboardData?.getData('text/plain') ?? '').replace(/\r/g, '').replace(/\n$/, '').split('\n')
  if (!canType(column.value) || (column.value === 'name' && lines.length > 1)) {
    problem.value = 'Values and tolerances can be put in as a column; go to one of these columns first.'
    return
  }
  put(lines.map((line) => line.split('\t')[0]!))
}
</script>

<template>
  <div class="parts">
    <div class="bar">
      <input v-model="filter" type="search" placeholder="filter" aria-label="Filter the parts" @keydown.stop />
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    </div>
    <div class="scroll">
      <table ref="table" tabindex="0" aria-label="Parts" role="grid" @keydown="key" @copy="copy" @paste="paste">
        <thead>
          <tr>
            <th
              v-for="c in COLUMNS"
              :key="c.id"
              scope="col"
              :aria-sort="order.by === c.id ? (order.down ? 'descending' : 'ascending') : 'none'"
            >
              <button type="button" tabindex="-1" @click="sort(c.id)">
                {{ c.name }}<span aria-hidden="true">{{ order.by === c.id ? (order.down ? ' ↓' : ' ↑') : '' }}</span>
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, r) in rows" :key="row.id" :class="{ chosen: chosen.has(row.id) }">
            <td
              v-for="(c, k) in COLUMNS"
              :key="c.id"
              role="gridcell"
              :class="{
                at: at.row === r && at.column === k,
                marked: k === at.column && r >= marked.from && r <= marked.to,
                strong: c.id === 'name',
              }"
              @mousedown="go(r, k, $event.shiftKey)"
              @dblclick="begin(null)"
            >
              <input
                v-if="typing !== null && at.row === r && at.column === k"
                ref="field"
                v-model="typing"
                :aria-label="`${c.name} of ${row.id}`"
                spellcheck="false"
                @keydown="typedKey"
                @blur="keep"
                @mousedown.stop
              />
              <template v-else>{{ row.cells[c.id] }}</template>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="soft none">
        {{ all.length === 0 ? 'No part yet.' : 'No part fits the filter.' }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 4px 14px;
}

.bar input {
  width: 130px;
  padding: 1px 8px;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}

.problem {
  margin: 0;
  color: var(--missed);
}

.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
}

table {
  width: 100%;
  border-collapse: collapse;
  outline: none;
}

th {
  position: sticky;
  top: 0;
  padding: 0;
  background: var(--panel);
  text-align: left;
}

th button {
  width: 100%;
  padding: 2px 14px;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

td {
  height: 26px;
  padding: 1px 14px;
  border-bottom: 1px solid var(--line);
  cursor: default;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}

td.strong {
  font-weight: 650;
}

tr.chosen td {
  background: var(--accent-soft);
}

table:focus td.marked {
  box-shadow: inset 0 -2px 0 var(--accent);
}

table:focus td.at {
  box-shadow: inset 0 0 0 2px var(--accent);
}

td input {
  width: 100%;
  min-width: 90px;
  padding: 0 4px;
  border: 1px solid var(--accent);
  border-radius: 3px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
}

.none {
  padding: 8px 14px;
}
</style>
