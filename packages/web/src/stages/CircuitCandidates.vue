<script setup lang="ts">
import {
  approximation,
  askedSpec,
  formatQuantity,
  magnitudeDb,
  marginText,
  proposedRange,
  ranked,
  shapes,
  topologies,
  USUAL_WEIGHTS,
  WEIGHED,
  type Weights,
  withSpecification,
} from '@voskel/core'
import { ElButton, ElOption, ElSelect, ElSlider, ElSwitch, ElTable, ElTableColumn } from 'element-plus'
import { computed, onBeforeUnmount, reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import SmallCurve from '../diagram/SmallCurve.vue'
import type { ComparedCandidate } from '../engine/jobs/candidates'
import { circuitCandidatesTopic } from '../engine/jobs/circuitCandidates'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'

/** Ways to make what is asked, passive and active, in the order of what counts. */
const design = useDesignStore()
const router = useRouter()

const spec = computed(() => (design.document ? askedSpec(design.document) : null))
const found = shallowRef<readonly ComparedCandidate[]>([])
const state = ref<'idle' | 'running' | 'stopped' | 'done'>('idle')
const broken = ref('')
const kind = ref<'all' | 'active' | 'passive'>('all')
const onlyMet = ref(false)
const weights = reactive<Record<keyof Weights, number>>({ ...USUAL_WEIGHTS })

/** What the candidates depend on: how the present circuit is made does not count. */
const asked = computed(() => (spec.value ? JSON.stringify({ ...spec.value, realization: ends() }) : ''))
function ends() {
  const { source, load } = (spec.value?.realization ?? {}) as Record<string, unknown>
  return { source, load }
}
watch(asked, () => void look(), { immediate: true })

async function look() {
  found.value = []
  broken.value = ''
  const current = spec.value
  if (!current) return
  state.value = 'running'
  const outcome = await lanes.population.ask(circuitCandidatesTopic, current, (part) => {
    found.value = [...found.value, ...part.found!]
  })
  if (outcome.kind === 'superseded') return
  state.value = outcome.kind === 'stopped' ? 'stopped' : 'done'
  if (outcome.kind === 'done') found.value = outcome.answer.found
  if (outcome.kind === 'failed') broken.value = `${outcome.failure.message} ${outcome.failure.remedy}`
}
onBeforeUnmount(() => lanes.population.supersede(circuitCandidatesTopic.id))

const topologyOf = (c: ComparedCandidate) => topologies.find((t) => t.id === c.family)!
const isActive = (c: ComparedCandidate) => topologyOf(c).family === 'active'
const filterName = (c: ComparedCandidate) =>
  c.approximation
    ? `${approximation(c.approximation).name} ${c.order}`
    : (shapes.find((s) => s.id === c.specification.response)?.name ?? '')
const nameOf = (c: ComparedCandidate) => `${filterName(c)}, ${topologyOf(c).name}`
const key = (c: ComparedCandidate) => `${c.approximation} ${c.order} ${c.family}`
/** A row of the table, which does not know what its rows are. */
const of = (row: unknown) => row as ComparedCandidate

const count = (what: (c: ComparedCandidate) => boolean) => found.value.filter(what).length
const counted = computed(
  () =>
    `${count(isActive)} active, ${count((c) => !isActive(c))} passive · ${count((c) => c.met)} keep every promise${state.value === 'running' ? ' … still looking' : state.value === 'stopped' ? ', stopped' : ''}`,
)
const rows = computed(() =>
  ranked(
    found.value.filter(
      (c) => (kind.value === 'all' || (kind.value === 'active') === isActive(c)) && (c.met || !onlyMet.value),
    ),
    weights,
  ),
)

/** The margin that is smallest against its limit. */
function narrowest({ verdicts }: ComparedCandidate) {
  const judged = verdicts.filter((v) => v.margin !== null)
  if (judged.length === 0) return null
  const share = (v: (typeof judged)[number]) => v.margin! / Math.max(Math.abs(v.limit), 1e-300)
  return judged.reduce((a, b) => (share(b) < share(a) ? b : a))
}
function marginOf(c: ComparedCandidate): string {
  const v = narrowest(c)
  return v ? `${marginText(v)} ${v.name.toLowerCase()}` : '–'
}
const made = ({ figures: { parts, amplifiers, coils } }: ComparedCandidate) =>
  [
    `${parts} parts`,
    amplifiers && `${amplifiers} amplifier${amplifiers > 1 ? 's' : ''}`,
    coils && `${coils} coil${coils > 1 ? 's' : ''}`,
  ]
    .filter(Boolean)
    .join(', ')
const plain = (value: number | null) => (value === null ? '–' : value.toFixed(value < 10 ? 2 : 0))

const delay = ({ figures: { delayRipple } }: ComparedCandidate) =>
  delayRipple === null ? '–' : `±${formatQuantity(delayRipple / 2, 's', 3)}`

/** Small curves are drawn over one range, and down to a depth, so that they can be compared. */
const POINTS = 76
const DEPTH_DB = 80
const range = computed(() => {
  const [first] = found.value
  return first ? proposedRange(first.transfer, [...first.passbandEdges]) : null
})
const curves = new WeakMap<ComparedCandidate, { readonly over: unknown; readonly y: readonly number[] }>()
function curveOf(c: ComparedCandidate): readonly number[] {
  const known = curves.get(c)
  if (known?.over === range.value) return known!.y
  const { from, to } = range.value!
  const y = Array.from({ length: POINTS }, (_, k) =>
    magnitudeDb(c.transfer, 2 * Math.PI * from * (to / from) ** (k / (POINTS - 1))),
  )
  curves.set(c, { over: range.value, y })
  return y
}
const HEADROOM_DB = 4
const top = computed(() => Math.max(...found.value.slice(0, 1).flatMap(curveOf), -Infinity) + HEADROOM_DB)

/** The first against the first one of another kind, in words. */
const why = computed(() => {
  const [best] = rows.value
  if (!best) return ''
  const other = rows.value.find((c) => isActive(c) !== isActive(best)) ?? rows.value[1]
  const says = (c: ComparedCandidate) =>
    `has ${made(c)}, a highest Q of ${plain(c.figures.highestQ)}, a sensitivity of ${plain(c.figures.sensitivity)} %, and ${c.met ? 'keeps every promise' : 'misses a promise'} (${marginOf(c)})`
  const place = other ? rows.value.indexOf(other) + 1 : 0
  return `Number 1, ${nameOf(best)}, ${says(best)}.${other ? ` Number ${place}, ${nameOf(other)}, ${says(other)}.` : ''}`
})

function take(c: ComparedCandidate) {
  if (design.document) design.edit(nameOf(c), withSpecification(design.document, c.specification))
}

const besideFailed = ref('')
async function takeBeside(c: ComparedCandidate) {
  if (!design.document) return
  besideFailed.value = ''
  const copy = await design.copyOf(withSpecification(design.document, c.specification), nameOf(c))
  if (copy) await router.push({ name: 'design', params: { id: copy, stage: 'circuit' } })
  else besideFailed.value = 'The design could not be made: the server did not answer. Try again once it does.'
}
</script>

<template>
  <div class="circuits">
    <header class="tools">
      <span class="what" aria-live="polite">{{ counted }}</span>
      <ElSelect v-model="kind" class="kind" size="small" aria-label="Kind of circuit" :persistent="false">
        <ElOption value="all" label="all" />
        <ElOption value="active" label="active" />
        <ElOption value="passive" label="passive" />
      </ElSelect>
      <label class="switch"><ElSwitch v-model="onlyMet" size="small" /> only what keeps every promise</label>
      <ElButton v-if="state === 'running'" size="small" @click="lanes.population.stop()">Stop</ElButton>
      <ElButton v-else-if="state === 'stopped'" size="small" @click="look">Go on</ElButton>
    </header>
    <div class="weights" role="group" aria-label="What counts">
      <span class="soft">what counts</span>
      <label v-for="w in WEIGHED" :key="w.id" class="weight">
        {{ w.name }}
        <ElSlider
          v-model="weights[w.id]"
          :min="0"
          :max="5"
          :step="0.5"
          size="small"
          :show-tooltip="false"
          :aria-label="`How much ${w.name} counts`"
        />
      </label>
    </div>
    <p v-if="!spec" class="nothing">This design has no specification, so that there is nothing to compare for.</p>
    <p v-else-if="broken" class="nothing" role="alert">The comparison stopped: {{ broken }}</p>
    <template v-else>
      <ElTable class="table" :data="rows as ComparedCandidate[]" :row-key="key" size="small" height="100%">
        <template #empty>
          {{
            state === 'running'
              ? 'Looking for circuits …'
              : 'No circuit keeps every promise. Loosen what is asked most narrowly.'
          }}
        </template>
        <ElTableColumn label="" width="44" align="right">
          <template #default="{ $index }">
            <b>{{ $index + 1 }}</b>
          </template>
        </ElTableColumn>
        <ElTableColumn label="Filter, circuit" min-width="210">
          <template #default="{ row }">
            <b>{{ filterName(of(row)) }}</b>
            <span class="below">{{ topologyOf(of(row)).name }}</span>
          </template>
        </ElTableColumn>
        <ElTableColumn label="Response" width="96">
          <template #default="{ row }">
            <SmallCurve class="curve" :y="curveOf(of(row))" :from="top - DEPTH_DB" :to="top" />
          </template>
        </ElTableColumn>
        <ElTableColumn label="Smallest margin" min-width="170">
          <template #default="{ row }">
            <span :class="of(row).met ? 'met' : 'missed'">{{ of(row).met ? '✓' : '✕' }} {{ marginOf(of(row)) }}</span>
          </template>
        </ElTableColumn>
        <ElTableColumn label="Made of" min-width="170">
          <template #default="{ row }">{{ made(of(row)) }}</template>
        </ElTableColumn>
        <ElTableColumn label="Highest Q" width="86" align="right">
          <template #default="{ row }">{{ plain(of(row).figures.highestQ) }}</template>
        </ElTableColumn>
        <ElTableColumn label="Spread" width="76" align="right">
          <template #default="{ row }">{{ plain(of(row).figures.spread) }}</template>
        </ElTableColumn>
        <ElTableColumn label="Σ|S|" width="70" align="right">
          <template #default="{ row }">{{ plain(of(row).figures.sensitivity) }}</template>
        </ElTableColumn>
        <ElTableColumn label="Delay ripple" width="96" align="right">
          <template #default="{ row }">{{ delay(of(row)) }}</template>
        </ElTableColumn>
        <ElTableColumn label="" width="146" fixed="right">
          <template #default="{ row }">
            <ElButton size="small" :aria-label="`Take ${nameOf(of(row))} here`" @click="take(of(row))">Take</ElButton>
            <ElButton size="small" :aria-label="`Take ${nameOf(of(row))} beside`" @click="takeBeside(of(row))">
              Beside
            </ElButton>
          </template>
        </ElTableColumn>
      </ElTable>
      <section class="why" aria-label="Why this order">
        <h3>Why this order</h3>
        <p>{{ why }}</p>
        <p v-if="besideFailed" class="missed" role="alert">{{ besideFailed }}</p>
      </section>
    </template>
  </div>
</template>

<style scoped src="./stage.css"></style>
<style scoped src="./compare.css"></style>
<style scoped>
.circuits {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}

.kind {
  width: 100px;
}

.weights {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 12px;
  padding: 2px 8px 6px;
}

.weight {
  display: inline-flex;
  align-items: center;
  gap: 13px;
}

.weight .el-slider {
  width: 52px;
}

.table {
  flex: 1;
  min-height: 0;
}

.curve {
  color: var(--curve-1);
}

.below {
  display: block;
  color: var(--ink-soft);
}

.why {
  padding: 8px 8px 0;
}

.why h3 {
  margin: 0 0 2px;
  font-size: 14px;
}

.why p {
  margin: 0;
}
</style>
