<script setup lang="ts">
import { type Diagram, type Expected, formatQuantity, measureSays } from '@voskel/core'
import { computed } from 'vue'
import type { ComparedCurves } from '../engine/kept'
import type { Computed } from './instrument/Over'
import { measuresOf, type MeasureRow } from './instrument/reading'
import type { ReadValue } from './PromiseFields.vue'

/** Measures of the circuit, and of what stands beside it: by formula, by hand, pinned and at the bench, with their differences. */
const { over, known, expected } = defineProps<{
  over: Diagram['over']
  known: Computed
  /** Numbers found by hand. */
  expected: readonly Expected[]
}>()
const emit = defineEmits<{ promise: [asked: ReadValue] }>()

const measures = computed(() => measuresOf(over, known))
const beside = computed(() => (known.compared ?? []).filter((c) => measures.value.some((m) => m.path in c.measures)))
const byHand = computed(
  () => new Map(expected.flatMap((e): [string, number][] => ('measure' in e.of ? [[e.of.measure, e.value]] : []))),
)
const hasHand = computed(() => measures.value.some((m) => byHand.value.has(m.path)))
const hasColumns = computed(() => beside.value.length > 0 || hasHand.value)
const hasFormula = computed(() => measures.value.some((m) => m.textbook))

/** Units of what differs by so many; everything else differs by a part. */
const LEVELS: ReadonlyMap<string, string> = new Map([
  ['dB', 'dB'],
  ['°', '°'],
  ['%', 'points'],
])
const SAME = 1e-9

/** How a number is off the circuit's; empty where it is the same. */
function difference(m: MeasureRow, value: number): string {
  const by = value - m.value
  if (Math.abs(by) <= SAME * Math.max(Math.abs(m.value), Math.abs(value))) return ''
  const level = LEVELS.get(m.unit)
  const isPart = level === undefined && m.value !== 0
  const [size, unit] = isPart ? [(100 * by) / Math.abs(m.value), '%'] : [by, level ?? m.unit]
  return `${size > 0 ? '+' : ''}${formatQuantity(size, unit, 2)}`
}

/** How a measure differs from its formula. */
function differenceOf(value: number, formula: number): string {
  const part = value === formula ? 0 : (value - formula) / (Math.abs(formula) || 1)
  return Math.abs(part) < SAME ? 'the same' : `${formatQuantity(100 * part, '%', 3)} off`
}

const shownOf = (c: ComparedCurves, m: MeasureRow): number | undefined => c.measures[m.path]
</script>

<template>
  <section aria-label="Measures">
    <h3>{{ over === 'time' ? 'Measures of a step' : 'Measures' }}</h3>
    <div class="wide">
      <table :class="{ many: hasColumns }">
        <thead v-if="hasColumns">
          <tr>
            <th scope="col"><span class="visually-hidden">measure</span></th>
            <th scope="col" class="number">circuit</th>
            <th v-if="hasFormula" scope="col" class="number">formula</th>
            <th v-if="hasHand" scope="col" class="number">by hand</th>
            <th v-for="c in beside" :key="c.entry.id" scope="col" class="number name" :title="c.entry.name">
              {{ c.entry.name }}
            </th>
            <th scope="col"><span class="visually-hidden">promise</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="m in measures" :key="m.path">
            <tr>
              <th scope="row" :title="measureSays(m.path)">{{ m.name }}</th>
              <td class="number">{{ formatQuantity(m.value, m.unit) }}</td>
              <template v-if="hasColumns">
                <td v-if="hasFormula" class="number" :title="m.textbook?.formula">
                  <template v-if="m.textbook">
                    {{ formatQuantity(m.textbook.value, m.unit) }}
                    <small v-if="difference(m, m.textbook.value)">{{ difference(m, m.textbook.value) }}</small>
                  </template>
                  <template v-else>–</template>
                </td>
                <td v-if="hasHand" class="number">
                  <template v-if="byHand.has(m.path)">
                    {{ formatQuantity(byHand.get(m.path)!, m.unit) }}
                    <small v-if="difference(m, byHand.get(m.path)!)">{{ difference(m, byHand.get(m.path)!) }}</small>
                  </template>
                  <template v-else>–</template>
                </td>
                <td v-for="c in beside" :key="c.entry.id" class="number">
                  <template v-if="shownOf(c, m) !== undefined">
                    {{ formatQuantity(shownOf(c, m)!, m.unit) }}
                    <small v-if="difference(m, shownOf(c, m)!)">{{ difference(m, shownOf(c, m)!) }}</small>
                  </template>
                  <template v-else>–</template>
                </td>
              </template>
              <td>
                <button
                  type="button"
                  class="plain-button small"
                  :aria-label="`Promise ${m.name}`"
                  @click="emit('promise', { id: m.name, of: { measure: m.path }, value: m.value, unit: m.unit })"
                >
                  promise
                </button>
              </td>
            </tr>
            <tr v-if="m.textbook && !hasColumns" class="formula">
              <td colspan="3">
                by formula {{ formatQuantity(m.textbook.value, m.unit) }},
                {{ differenceOf(m.value, m.textbook.value) }}:
                {{ m.textbook.formula }}
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
.wide {
  overflow-x: auto;
}

.formula td {
  padding-bottom: 3px;
  color: var(--ink-soft);
  font-size: 13px;
  white-space: normal;
}

/* Several columns want their room: names may take two lines. */
.many th,
.many td {
  padding-right: 6px;
  font-size: 14px;
}

.many th[scope='row'] {
  max-width: 128px;
  white-space: normal;
}

.name {
  max-width: 92px;
  overflow: hidden;
  text-overflow: ellipsis;
}

small {
  display: block;
  color: var(--ink-soft);
  font-size: 12px;
}
</style>
