<script setup lang="ts">
import { type Compared, type Diagram, formatQuantity } from '@voskel/core'
import { computed, defineAsyncComponent, ref, shallowRef } from 'vue'
import type { KeptSummary } from '../api/client'
import { samplesOf } from '../engine/kept'
import { partTexts, useComparedStore } from '../stores/compared'
import { useDeviationsStore } from '../stores/deviations'
import type { Computed } from './instrument/Over'
import LabelledSwitch from './LabelledSwitch.vue'

/** Pinned runs and measured data beside the curves: shown or not, named, compared in a number, fitted, let go. */
const { over, known } = defineProps<{ over: Diagram['over']; known: Computed }>()
const FitFields = defineAsyncComponent(() => import('./FitFields.vue'))
const compared = useComparedStore()
const deviations = useDeviationsStore()
deviations.follow()

const rows = computed(() =>
  compared.items.map((item) => ({
    ...item,
    curves: compared.curves.find((c) => c.entry.id === item.entry.id) ?? null,
    off: deviations.answer.filter((d) => d.id === item.entry.id),
  })),
)

function said({ deviation, failure }: (typeof rows.value)[number]['off'][number], unit: string): string {
  if (!deviation) return failure ?? ''
  const { rms, worst } = deviation
  const q = formatQuantity
  const parts = [
    ...(rms.db === undefined ? [] : [q(rms.db, 'dB', 3)]),
    ...(rms.phase === undefined ? [] : [q(rms.phase, '°', 3)]),
    ...(rms.value === undefined ? [] : [q(rms.value, unit, 3)]),
  ]
  const at = q(worst.at, over === 'time' ? 's' : 'Hz')
  const by = q(worst.by, worst.unit === 'value' ? unit : worst.unit, 3)
  return `rms error ${parts.join(', ')}; at most ${by} at ${at}`
}
const unitOf = (row: (typeof rows.value)[number], signal: string) =>
  row.curves?.kept.curves.find((c) => c.signal === signal)?.unit ?? ''

/** Values that parts had in a pinned run and no longer have, a few of them. */
const MOST_NAMED = 4
function changedSince(row: (typeof rows.value)[number]): string {
  const now = partTexts(known.circuit?.circuit)
  const changed = Object.entries(row.curves?.kept.parts ?? {}).filter(([id, text]) => (now[id] ?? text) !== text)
  const named = changed.slice(0, MOST_NAMED).map(([id, text]) => `${id} ${text}`)
  const more = changed.length > MOST_NAMED ? ` and ${changed.length - MOST_NAMED} more` : ''
  return named.length > 0 ? `then ${named.join(', ')}${more}` : ''
}

/** Which is being named. */
const naming = ref<string | null>(null)
function rename(entry: Compared, event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  naming.value = null
  if (name !== '' && name !== entry.name) compared.change({ ...entry, name }, `${entry.name} named ${name}`)
}
const show = (entry: Compared, on: boolean) =>
  compared.change({ ...entry, hidden: !on }, `${entry.name} ${on ? 'shown' : 'hidden'}`)

/** Which is being fitted. */
const fitting = ref<string | null>(null)
const canFit = (row: (typeof rows.value)[number]) =>
  row.curves?.kept.curves.some((c) => samplesOf(c) !== null) === true && known.circuit?.circuit != null

/** What else the project keeps; a sentence where that cannot be said. */
const others = shallowRef<readonly KeptSummary[] | string | null>(null)
async function look() {
  others.value = others.value === null ? await compared.others() : null
}
function dropFromOthers({ id }: KeptSummary) {
  if (Array.isArray(others.value)) others.value = others.value.filter((o: KeptSummary) => o.id !== id)
}
function take(one: KeptSummary) {
  compared.take(one)
  dropFromOthers(one)
}

/** Which is asked about before it is thrown away, and why one could not be. */
const throwing = ref<string | null>(null)
const notThrown = ref('')
async function throwAway(one: KeptSummary) {
  throwing.value = null
  notThrown.value = (await compared.throwAway(one)) ?? ''
  if (notThrown.value === '') dropFromOthers(one)
}
</script>

<template>
  <section aria-label="Beside the curves">
    <h3>
      Beside the curves
      <button type="button" class="plain-button small" :aria-expanded="others !== null" @click="look">
        kept in this project …
      </button>
    </h3>
    <p v-if="rows.length === 0 && others === null" class="soft">
      Pin this run before a change, or drop measured data on a diagram, to see them beside the curves.
    </p>
    <p v-if="typeof others === 'string'" class="wrong" role="alert">{{ others }}</p>
    <p v-else-if="others?.length === 0" class="soft">Nothing else is kept in this project.</p>
    <ul v-else-if="others" class="others">
      <li v-for="o in others" :key="o.id">
        <span v-if="o.facts" class="choice">
          <b>{{ o.facts.name }}</b>
          <span class="soft"
            >{{ o.facts.kind === 'run' ? 'pinned' : 'measured' }}{{ o.facts.from ? `, ${o.facts.from}` : '' }}</span
          >
        </span>
        <span v-else class="wrong">what is kept here can no longer be read</span>
        <span v-if="throwing === o.id" class="choice">
          <span class="soft">for good?</span>
          <button type="button" class="plain-button small wrong" @click="throwAway(o)">throw away</button>
          <button type="button" class="plain-button small" @click="throwing = null">keep</button>
        </span>
        <span v-else class="choice">
          <button
            v-if="o.facts"
            type="button"
            class="plain-button small"
            :aria-label="`Show ${o.facts.name}`"
            @click="take(o)"
          >
            show
          </button>
          <button
            type="button"
            class="plain-button small"
            :aria-label="`Throw ${o.facts?.name ?? 'what cannot be read'} away`"
            @click="throwing = o.id"
          >
            throw away …
          </button>
        </span>
      </li>
    </ul>
    <p v-if="notThrown" class="wrong" role="alert">{{ notThrown }}</p>
    <ul v-if="rows.length">
      <li v-for="row in rows" :key="row.entry.id">
        <div class="row">
          <LabelledSwitch
            :on="!row.entry.hidden"
            :name="`Show ${row.entry.name}`"
            @turn="(on) => show(row.entry, on)"
          />
          <input
            v-if="naming === row.entry.id"
            class="text-field"
            :value="row.entry.name"
            maxlength="80"
            :aria-label="`Name of ${row.entry.name}`"
            autofocus
            @keydown.enter.prevent="rename(row.entry, $event)"
            @keydown.escape.stop="naming = null"
            @blur="rename(row.entry, $event)"
          />
          <button
            v-else
            type="button"
            class="plain-button name"
            :aria-label="`Name ${row.entry.name} anew`"
            @click="naming = row.entry.id"
          >
            {{ row.entry.name }}
          </button>
          <span class="soft">{{ row.entry.kind === 'run' ? 'pinned' : 'measured' }}</span>
          <button
            v-if="canFit(row)"
            type="button"
            class="plain-button small"
            :aria-expanded="fitting === row.entry.id"
            :aria-label="`Fit values to ${row.entry.name}`"
            @click="fitting = fitting === row.entry.id ? null : row.entry.id"
          >
            fit values …
          </button>
          <button
            type="button"
            class="plain-button small away"
            :aria-label="`Let ${row.entry.name} go`"
            @click="compared.letGo(row.entry)"
          >
            ×
          </button>
        </div>
        <p v-if="row.entry.note" class="soft">{{ row.entry.note }}</p>
        <p v-if="changedSince(row)" class="soft">{{ changedSince(row) }}</p>
        <p v-if="row.isLoading" class="soft" role="status">being fetched …</p>
        <p v-else-if="row.failure" class="wrong" role="alert">
          {{ row.failure }}
          <button type="button" class="plain-button small" @click="compared.again(row.entry.id)">try again</button>
        </p>
        <template v-if="!row.entry.hidden">
          <p v-for="d in row.off" :key="d.signal" :class="d.deviation ? 'soft' : 'wrong'">
            <template v-if="row.off.length > 1">{{ d.signal }}: </template>{{ said(d, unitOf(row, d.signal)) }}
          </p>
        </template>
        <p v-for="n in row.curves?.kept.notes ?? []" :key="n" class="soft">{{ n }}</p>
        <FitFields
          v-if="fitting === row.entry.id && row.curves"
          :beside="row.curves"
          :known="known"
          @close="fitting = null"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
.others {
  max-height: 150px;
  margin-bottom: 6px;
  padding: 2px 8px;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 6px;
}

.others li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  justify-content: space-between;
}

.choice {
  display: flex;
  align-items: baseline;
  gap: 0 10px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
}

.name {
  color: var(--ink);
  font-weight: 600;
}

.away {
  margin-left: auto;
}

input {
  width: 150px;
  padding: 1px 6px;
}

.soft,
.wrong {
  font-size: 13px;
  white-space: normal;
}
</style>
