<script setup lang="ts">
import {
  type Cursor,
  type CurvePoint,
  type Diagram,
  type Drive,
  type Expected,
  formatQuantity,
  readingText,
  type ValueRequirement,
} from '@voskel/core'
import { computed, shallowRef } from 'vue'
import type { Sought } from '../engine/jobs/reading'
import BesideList from './BesideList.vue'
import CourseTable from './CourseTable.vue'
import CursorTable from './CursorTable.vue'
import ExpectedList from './ExpectedList.vue'
import InfluenceTable from './InfluenceTable.vue'
import NoiseTable from './NoiseTable.vue'
import type { Computed } from './instrument/Over'
import MeasureTable from './MeasureTable.vue'
import { rootsOf } from './instrument/roots'
import PromiseFields, { type ReadValue } from './PromiseFields.vue'

/** What is read off the curves: cursors with their values, measures, and what is promised of them. */
const { over, angular, known, exact, drawn, cursors, promises, expected, place, seek } = defineProps<{
  over: Diagram['over']
  /** Frequencies are read as ω, rad/s. */
  angular: boolean
  known: Computed
  /** Numbers that were solved at the cursors. */
  exact: ReadonlyMap<string, CurvePoint>
  /** Signals that are drawn. */
  drawn: readonly string[]
  cursors: readonly Cursor[]
  promises: readonly ValueRequirement[]
  /** Numbers found by hand. */
  expected: readonly Expected[]
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
  promise: [promise: ValueRequirement]
  release: [id: string]
  expect: [expected: Expected]
  forget: [id: string]
  /** The source is to be a wave of a cursor's frequency. */
  drive: [cursor: Cursor, shape: Drive['shape'], settled: boolean]
}>()

const poles = computed(() => rootsOf(known))
const own = computed(() => cursors.filter((c) => c.over === over))

/** What is being promised. */
const promising = shallowRef<ReadValue | null>(null)
</script>

<template>
  <aside class="reading" aria-label="Read the curves">
    <CursorTable
      :over="over"
      :angular="angular"
      :known="known"
      :exact="exact"
      :drawn="drawn"
      :cursors="cursors"
      :place="place"
      :seek="seek"
      @cursors="(label, next) => emit('cursors', label, next)"
      @move="(name, to) => emit('move', name, to)"
      @step="(name, to) => emit('step', name, to)"
      @stepped="emit('stepped')"
      @read="(value) => (promising = value)"
      @drive="(cursor, shape, settled) => emit('drive', cursor, shape, settled)"
    />
    <BesideList :over="over" :known="known" />
    <CourseTable v-if="over === 'time' && known.time" :known="known" :drawn="drawn" @promise="(p) => (promising = p)" />
    <MeasureTable :over="over" :known="known" :expected="expected" @promise="(p) => (promising = p)" />
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
    <NoiseTable v-if="over === 'frequency' && known.noise?.length" :known="known" @promise="(p) => (promising = p)" />
    <InfluenceTable v-if="over === 'frequency' && known.circuit" :known="known" :cursors="own" />
    <PromiseFields
      v-if="promising"
      :key="promising.id"
      v-bind="promising"
      @promise="(p) => (emit('promise', p), (promising = null))"
      @expect="(e) => (emit('expect', e), (promising = null))"
      @close="promising = null"
    />
    <ExpectedList @forget="(id) => emit('forget', id)" />
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

<style scoped src="./reading.css"></style>
<style scoped>
.reading {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 4px 12px 8px;
  overflow: auto;
  border-left: 1px solid var(--line-strong);
}

li {
  display: flex;
  justify-content: space-between;
}
</style>
