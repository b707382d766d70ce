<script setup lang="ts">
import {
  bareName,
  COLUMN_MEANINGS,
  type ColumnChoice,
  columnMeaning,
  type DecimalMark,
  DELIMITERS,
  type Delimiter,
  guessColumns,
  layoutOf,
  type MeaningId,
  parseSignal,
  type SignalNames,
  type TableLayout,
  VoskelError,
} from '@voskel/core'
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, onBeforeUnmount, ref, shallowRef, useId } from 'vue'
import { type MeasuredAnswer, measuredTopic, type Survey, surveyTopic } from '../engine/jobs/measured'
import { keptOfMeasured } from '../engine/kept'
import { lanes } from '../engine/lanes'
import { useComparedStore } from '../stores/compared'
import { portSignals } from './instrument/portSignals'
import { referredEntries } from './instrument/referredEntries'
import type { Computed } from './instrument/Over'
import LabelledSwitch from './LabelledSwitch.vue'

/** A file with measured points: what its columns hold is guessed, shown, and confirmed before anything is read. */
const { file, known, names } = defineProps<{
  file: File
  known: Computed
  /** What a signal can be made of. */
  names: SignalNames
}>()
const emit = defineEmits<{
  close: []
  /** Signals that are beside the curves now. */
  taken: [signals: readonly { signal: string; over: 'frequency' | 'time'; unit: string }[]]
}>()
const compared = useComparedStore()

/** Bytes beyond which a file is refused. */
const MOST_BYTES = 300e6
const MARKS: Readonly<Record<Delimiter, string>> = {
  ';': 'semicolons',
  '\t': 'tabs',
  ',': 'commas',
  '|': 'bars',
  ' ': 'blanks',
}

const survey = shallowRef<Survey | null>(null)
const layout = shallowRef<TableLayout | null>(null)
const columns = shallowRef<readonly ColumnChoice[]>([])
const leaveOut = ref(false)
const name = ref(file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'measured')
const note = ref('')
const problem = ref('')
const part = ref<number | null>(null)
let bytes: Uint8Array | null = null
let head = ''

void look()
async function look() {
  if (file.size > MOST_BYTES) {
    problem.value = `The file has ${Math.round(file.size / 1e6)} MB; at most ${MOST_BYTES / 1e6} MB are read. Take every tenth row.`
    return
  }
  try {
    bytes = new Uint8Array(await file.arrayBuffer())
  } catch {
    problem.value = 'The file cannot be read; it may have been moved or changed. Choose it again.'
    return
  }
  const outcome = await lanes.population.ask(surveyTopic, { name: file.name, bytes })
  if (outcome.kind === 'failed') problem.value = `${outcome.failure.message} ${outcome.failure.remedy}`
  if (outcome.kind !== 'done') return
  survey.value = outcome.answer
  layout.value = outcome.answer.table?.layout ?? null
  columns.value = outcome.answer.table?.columns ?? []
  if (outcome.answer.table) await restOf(outcome.answer.encoding)
  else await readEntries()
}

/** The beginning of the text, to be looked at again where somebody says that it is written otherwise. */
async function restOf(encoding: string) {
  const label = { 'UTF-8': 'utf-8', 'UTF-16': 'utf-16', 'Windows-1252': 'windows-1252' }[encoding] ?? 'utf-8'
  head = new TextDecoder(label).decode(bytes!.subarray(0, 200_000))
}

/** As it would be with another mark between the columns, or in the numbers. */
function rewritten(change: Partial<Pick<TableLayout, 'delimiter' | 'decimal'>>) {
  problem.value = ''
  try {
    layout.value = layoutOf(head, { ...layout.value!, ...change })
    columns.value = guessColumns(layout.value)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}

/** Entries of a Touchstone file, read at once since it says itself what they are. */
const entries = shallowRef<MeasuredAnswer | null>(null)
async function readEntries() {
  const outcome = await ask()
  if (!outcome) return
  entries.value = outcome
  chosen.value = outcome.curves.map((c) => usualOf(c.name, c.unit))
  isWanted.value = outcome.curves.map((c) => outcome.curves.length === 1 || /21$/.test(c.name))
}
const chosen = ref<string[]>([])
const isWanted = ref<boolean[]>([])
/** The entries as the circuit's own signals have them. */
const referred = computed(() => {
  const network = entries.value?.network
  return network && referredEntries(network, known.circuit?.circuit ?? null, chosen.value, isWanted.value)
})

async function ask(): Promise<MeasuredAnswer | null> {
  part.value = 0
  const question = {
    name: file.name,
    bytes: bytes!,
    layout: layout.value,
    columns: columns.value,
    leaveOut: leaveOut.value,
  }
  const outcome = await lanes.population.ask(measuredTopic, question, (now) => (part.value = now.part ?? part.value))
  part.value = null
  if (outcome.kind === 'failed') problem.value = `${outcome.failure.message} ${outcome.failure.remedy}`
  return outcome.kind === 'done' ? outcome.answer : null
}

/** What a column or an entry is usually of. */
function usualOf(called: string, unit: string): string {
  const entry = /^([SZYGH])(\d\d)$/.exec(called)
  const source = known.time?.source ?? 'V1'
  const ports = portSignals(known.circuit?.circuit ?? null, source)
  if (entry?.[1] === 'S') return ports[`s${entry[2]}` as keyof typeof ports] ?? known.output
  if (entry?.[1] === 'Z' || unit === 'Ω') return `z(${source})`
  const net = names.nets.find((n) => n.toLowerCase() === called.toLowerCase().replace(/^v\((.*)\)$/, '$1'))
  return net === undefined ? known.output : `v(${net})`
}

const over = computed<'frequency' | 'time'>(() =>
  columns.value.some((c) => c.meaning === 'time') ? 'time' : 'frequency',
)
const MAIN: ReadonlySet<MeaningId> = new Set(['magnitude', 're', 'value'])
/** By column, where somebody has said something else. */
const said = ref<Record<number, string>>({})
const signalOf = (k: number) => {
  const { name: called, unit } = columns.value[k]!
  return said.value[k] ?? usualOf(bareName(called), columnUnit(columns.value[k]!)?.si ?? unit)
}
const columnUnit = ({ meaning, unit }: ColumnChoice) => columnMeaning(meaning).units.find((u) => u.name === unit)

function setMeaning(k: number, meaning: MeaningId) {
  columns.value = columns.value.with(k, { ...columns.value[k]!, meaning, unit: columnMeaning(meaning).units[0]!.name })
}
function setUnit(k: number, unit: string) {
  columns.value = columns.value.with(k, { ...columns.value[k]!, unit })
}

/** Everything that can be drawn, offered while a signal is typed. */
const listId = useId()
const offered = computed(() => [
  ...new Set([
    known.output,
    ...names.nets.slice(0, 40).map((n) => `v(${n})`),
    ...names.sources.map((s) => `z(${s})`),
    ...names.parts.slice(0, 40).map((p) => `i(${p})`),
    ...Object.values(portSignals(known.circuit?.circuit ?? null, known.time?.source ?? 'V1')),
  ]),
])

/** What is wrong with a signal; empty where nothing is. */
function wrong(signal: string): string {
  try {
    parseSignal(signal)
    return ''
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    return `${error.message} ${error.remedy}`
  }
}

async function take() {
  problem.value = name.value.trim() === '' ? 'It needs a name.' : ''
  if (problem.value) return
  const read = entries.value ?? (await ask())
  if (!read) return
  const signals = entries.value
    ? chosen.value
    : columns.value.flatMap((c, k) => (MAIN.has(c.meaning) ? [signalOf(k)] : []))
  problem.value = referred.value?.problem ?? ''
  if (problem.value) return
  const pairs = (referred.value?.curves ?? read.curves).flatMap((curve, k) =>
    entries.value && !isWanted.value[k] ? [] : [{ curve, signal: signals[k] ?? known.output }],
  )
  problem.value = pairs.length === 0 ? 'Nothing is chosen.' : (pairs.map((p) => wrong(p.signal)).find(Boolean) ?? '')
  if (problem.value) return
  const notes = [...read.notes, ...(referred.value?.notes ?? [])]
  const curves = pairs.map(({ curve, signal }) => keptOfMeasured(curve, signal.trim()))
  const failure = await compared.keep(
    {
      kind: 'data',
      name: name.value.trim(),
      ...(note.value.trim() !== '' && { note: note.value.trim() }),
      curves,
      ...(notes.length > 0 && { notes }),
    },
    `${name.value.trim()} beside the curves`,
  )
  if (failure !== null) {
    problem.value = `It is not kept: ${failure}`
    return
  }
  emit(
    'taken',
    curves.map(({ signal, over, unit }) => ({ signal, over, unit })),
  )
  emit('close')
}

onBeforeUnmount(() => {
  lanes.population.supersede(surveyTopic.id)
  lanes.population.supersede(measuredTopic.id)
})
</script>

<template>
  <ElDialog :model-value="true" title="Measured data" width="min(860px, 94vw)" append-to-body @close="emit('close')">
    <p class="soft">
      {{ file.name }}<template v-if="survey">, {{ survey.encoding }}</template
      ><template v-if="layout">, numbers from line {{ layout.begin }} on</template>.
    </p>
    <template v-if="layout">
      <div class="line">
        <label
          >columns divided by
          <select
            class="text-field"
            :value="layout.delimiter"
            aria-label="Columns divided by"
            @change="rewritten({ delimiter: ($event.target as HTMLSelectElement).value as Delimiter })"
          >
            <option v-for="d in DELIMITERS" :key="d" :value="d">{{ MARKS[d] }}</option>
          </select></label
        >
        <label
          >decimal mark
          <select
            class="text-field"
            :value="layout.decimal"
            aria-label="Decimal mark"
            @change="rewritten({ decimal: ($event.target as HTMLSelectElement).value as DecimalMark })"
          >
            <option value=".">point</option>
            <option value=",">comma</option>
          </select></label
        >
        <LabelledSwitch :on="leaveOut" name="Leave out rows that cannot be read" @turn="(on) => (leaveOut = on)"
          >leave out rows that cannot be read</LabelledSwitch
        >
      </div>
      <div class="preview">
        <table aria-label="What the columns hold">
          <thead>
            <tr>
              <th v-for="(c, k) in columns" :key="k" scope="col">
                <span class="head" :title="c.name">{{ c.name || `column ${k + 1}` }}</span>
                <select
                  class="text-field"
                  :value="c.meaning"
                  :aria-label="`Column ${k + 1} is`"
                  @change="setMeaning(k, ($event.target as HTMLSelectElement).value as MeaningId)"
                >
                  <option v-for="m in COLUMN_MEANINGS" :key="m.id" :value="m.id">{{ m.name }}</option>
                </select>
                <select
                  v-if="c.meaning !== 'none'"
                  class="text-field"
                  :value="c.unit"
                  :aria-label="`Unit of column ${k + 1}`"
                  @change="setUnit(k, ($event.target as HTMLSelectElement).value)"
                >
                  <option v-for="u in columnMeaning(c.meaning).units" :key="u.name" :value="u.name">
                    {{ u.name === '1' ? 'a factor' : u.name }}
                  </option>
                </select>
                <label v-if="MAIN.has(c.meaning)" class="of"
                  >of
                  <input
                    class="text-field"
                    :list="listId"
                    :value="signalOf(k)"
                    :aria-label="`Column ${k + 1} was measured of`"
                    spellcheck="false"
                    @input="said = { ...said, [k]: ($event.target as HTMLInputElement).value }"
                /></label>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, k) in layout.rows" :key="k">
              <td v-for="(c, j) in columns" :key="j" :class="{ out: c.meaning === 'none' }">{{ row[j] }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <ul v-if="entries" class="entries">
      <li v-for="(curve, k) in entries.curves" :key="curve.name">
        <LabelledSwitch :on="isWanted[k] ?? false" :name="`Take ${curve.name}`" @turn="(on) => (isWanted[k] = on)">{{
          curve.name
        }}</LabelledSwitch>
        <label class="of"
          >of
          <input
            v-model="chosen[k]"
            class="text-field"
            :list="listId"
            :aria-label="`${curve.name} was measured of`"
            spellcheck="false"
        /></label>
        <span class="soft">{{ curve.samples.x.length }} frequencies</span>
      </li>
      <li v-for="n in [...entries.notes, ...(referred?.notes ?? [])]" :key="n" class="soft">{{ n }}</li>
      <li v-if="referred?.problem" class="wrong" role="alert">{{ referred.problem }}</li>
    </ul>
    <datalist :id="listId"><option v-for="s in offered" :key="s" :value="s" /></datalist>
    <div v-if="layout || entries" class="line">
      <label>name <ElInput v-model="name" size="small" maxlength="80" aria-label="Name of the data" /></label>
      <label class="note"
        >note <ElInput v-model="note" size="small" maxlength="2000" aria-label="Note on the data"
      /></label>
    </div>
    <p v-if="part !== null" class="soft" role="status">
      <progress :value="part" max="1" aria-label="Reading" /> {{ Math.round(100 * part) }} % read
    </p>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <template #footer>
      <ElButton v-if="part !== null" size="small" @click="lanes.population.stop()">Stop</ElButton>
      <ElButton size="small" @click="emit('close')">Close</ElButton>
      <ElButton size="small" type="primary" :disabled="(!layout && !entries) || part !== null" @click="take">
        Lay over the {{ over === 'time' ? 'courses' : 'curves' }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
p {
  margin: 4px 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
  margin: 6px 0;
}

label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}

select,
input {
  width: auto;
  padding: 1px 6px;
}

.preview {
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 6px;
}

table {
  border-collapse: collapse;
}

th {
  padding: 4px 8px;
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}

th > * {
  display: block;
  width: 128px;
  margin-bottom: 3px;
}

th .of,
.of {
  display: flex;
}

th .of input {
  min-width: 0;
  width: 100px;
}

.head {
  overflow: hidden;
  font-weight: 650;
  text-overflow: ellipsis;
  white-space: nowrap;
}

td {
  padding: 0 20px 0 8px;
  text-align: right;
  border-top: 1px solid var(--line);
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}

.out {
  color: var(--ink-soft);
  text-decoration: line-through;
}

.entries {
  margin: 0;
  padding: 0;
  list-style: none;
}

.entries li {
  display: flex;
  align-items: center;
  gap: 14px;
}

.note {
  flex: 1;
}

.soft {
  color: var(--ink-soft);
}

.wrong {
  color: var(--missed);
}
</style>
