<script setup lang="ts">
import { formatQuantity, limitUsed, type Verdict, verdictWords } from '@voskel/core'
import { CaretTop, CircleCheckFilled, CircleCloseFilled } from '@element-plus/icons-vue'
import { ElButton, ElIcon } from 'element-plus'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useInfluenceStore } from '../stores/followed'
import { useResultsStore } from '../stores/results'
import { useDesignStore } from '../stores/design'

/** The requirements, always in view, worst margin first; opens upward into a table. */
const results = useResultsStore()
const design = useDesignStore()
const emit = defineEmits<{ go: [verdict: Verdict] }>()

const open = ref(false)
/** What each part does to each margin, asked while the table is open. */
const influences = useInfluenceStore()
let lookAway = () => {}
watch(open, (isOpen) => {
  lookAway()
  lookAway = isOpen ? influences.look() : () => {}
})
onScopeDispose(() => lookAway())
/** The part of which more endangers a requirement most. */
function endangers({ id, unit }: Verdict): string {
  const worst = influences.answer?.[id]?.find((i) => i.perPercent < 0)
  return worst ? `${worst.part}, ${formatQuantity(worst.perPercent, unit, 3)} for 1 %` : '–'
}
const verdicts = computed(() =>
  results.verdicts.map((verdict) => ({ verdict, words: verdictWords(verdict), used: limitUsed(verdict) })),
)
const missed = computed(() => results.verdicts.filter((v) => !v.met).length)

/** Devices whose models do not hold, and with them no verdict. */
const doubted = computed(() => results.circuit?.doubts.map((d) => d.slice(0, d.indexOf(':'))).join(', ') ?? '')

const empty = computed(() => {
  if (!design.document) return ''
  const { failures, circuit } = results
  if (failures.ideal || failures.circuit) return 'No verdicts: see Specify for what is in the way.'
  const { specification, requirements } = design.document
  if (!specification && !requirements) return 'Nothing is required of this circuit.'
  if (results.stopped) return ''
  if (results.isEmpty || (results.running && results.stale)) return 'Computing …'
  const failure = circuit?.failure ?? failures.verdicts
  if (failure) return `No verdicts: ${failure.message}`
  return !specification || specification.realization
    ? 'Nothing is required of this circuit: add requirements under Specify.'
    : 'No verdicts: choose under Specify how the circuit is made.'
})
</script>

<template>
  <footer class="ledger" :class="{ stale: results.stale }" aria-label="Ledger of requirements">
    <table v-if="open && verdicts.length" id="ledger-table" class="table">
      <thead>
        <tr>
          <th scope="col">Requirement</th>
          <th scope="col" class="number">Asked</th>
          <th scope="col" class="number">Achieved</th>
          <th scope="col" class="number">Margin</th>
          <th scope="col">Decided</th>
          <th scope="col">More of what endangers it</th>
          <th scope="col">Verdict</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ verdict: v, words } in verdicts" :key="v.id">
          <th scope="row">
            <button class="plain-button" @click="emit('go', v)">{{ v.name }}</button>
          </th>
          <td class="number">{{ words.asked }}</td>
          <td class="number">{{ words.achieved }}</td>
          <td class="number" :class="v.met ? 'met' : 'missed'">{{ words.margin }}</td>
          <td>{{ words.place || '–' }}</td>
          <td>{{ endangers(v) }}</td>
          <td :class="v.met ? 'met' : 'missed'">{{ v.met ? 'met' : 'not met' }}</td>
        </tr>
      </tbody>
    </table>
    <div class="strip">
      <button
        class="plain-button opener"
        :aria-expanded="open"
        aria-controls="ledger-table"
        :disabled="!verdicts.length"
        :title="open ? 'Close the table' : 'Open the table'"
        @click="open = !open"
      >
        <ElIcon :class="{ turned: open }"><CaretTop /></ElIcon>
        <span class="tally">Ledger</span>
        <span v-if="results.recalled" class="soft">as last computed</span>
        <span v-else-if="verdicts.length" class="soft">{{
          `${results.ofIdeal ? 'ideal: ' : ''}${missed ? `${missed} of ${verdicts.length} not met` : `all ${verdicts.length} met`}`
        }}</span>
      </button>
      <p v-if="results.slow" class="long" role="status">
        This takes long. <ElButton size="small" @click="results.stop">Stop</ElButton>
      </p>
      <p v-else-if="results.stopped" class="long" role="alert">
        It was stopped. {{ results.isEmpty ? 'Change' : 'What is shown is older; change' }} something to compute again.
      </p>
      <p v-else-if="doubted" class="long" role="note">Rests on models that do not hold here: {{ doubted }}.</p>
      <p v-if="!verdicts.length" class="none">{{ empty }}</p>
      <button
        v-for="{ verdict: v, words, used } in verdicts"
        :key="v.id"
        class="cell"
        :class="{ bad: !v.met }"
        :data-verdict="v.id"
        @click="emit('go', v)"
      >
        <span class="top">
          <ElIcon :class="v.met ? 'met' : 'missed'"
            ><component :is="v.met ? CircleCheckFilled : CircleCloseFilled"
          /></ElIcon>
          <span class="visually-hidden">{{ v.met ? 'met: ' : 'not met: ' }}</span>
          <span class="name">{{ v.name }}</span>
          <span class="margin" :class="v.met ? 'met' : 'missed'">{{ words.margin }}</span>
        </span>
        <span class="figures" :title="v.failure"
          ><template v-if="v.failure">{{ v.failure }}</template
          ><template v-else
            ><b>{{ words.achieved }}</b> of {{ words.asked }}</template
          ></span
        >
        <span class="bar" aria-hidden="true"
          ><span :class="v.met ? 'met' : 'missed'" :style="{ width: `${100 * used}%` }"
        /></span>
      </button>
    </div>
  </footer>
</template>

<style scoped>
.ledger {
  border-top: 1px solid var(--line-strong);
  background: var(--panel);
}

.strip {
  display: flex;
  min-height: 65px;
  overflow-x: auto;
}

.long {
  display: flex;
  align-items: center;
  gap: 8px;
  flex: 0 0 auto;
  max-width: 340px;
  margin: 0;
  padding: 0 12px;
  border-left: 3px solid var(--waiting);
}

.opener {
  display: grid;
  grid-template-columns: 16px 1fr;
  align-content: center;
  justify-items: start;
  gap: 0 6px;
  flex: 0 0 132px;
  padding: 6px 12px;
  border-right: 1px solid var(--line);
  border-radius: 0;
  text-align: left;
}

.opener .soft {
  grid-column: 1 / -1;
  font-size: 13px;
}

.tally {
  font-weight: 650;
}

.turned {
  transform: rotate(180deg);
}

.none {
  align-self: center;
  padding: 18px 16px;
  color: var(--ink-soft);
}

/* A long name is shortened, never its margin. */
.cell {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 3px;
  flex: 1 1 190px;
  min-width: 190px;
  max-width: 320px;
  padding: 8px 14px 9px;
  border: 0;
  border-right: 1px solid var(--line);
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.cell:hover {
  background: var(--raised);
}

.cell.bad {
  background: var(--missed-soft);
}

.top {
  display: flex;
  align-items: center;
  gap: 6px;
}

.name {
  flex: 1;
  overflow: hidden;
  font-weight: 600;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.margin {
  font-weight: 650;
}

.figures {
  font-size: 13px;
  color: var(--ink-soft);
}

.figures b {
  color: var(--ink);
  font-weight: 600;
}

.bar {
  height: 3px;
  border-radius: 2px;
  background: var(--line);
}

.bar span {
  display: block;
  height: 100%;
  border-radius: 2px;
  background: currentcolor;
}

.met {
  color: var(--met);
}

.missed {
  color: var(--missed);
}

.stale .cell,
.stale .table {
  opacity: 0.65;
}

.table {
  width: 100%;
  border-collapse: collapse;
  border-bottom: 1px solid var(--line);
  background: var(--raised);
}

.table th,
.table td {
  padding: 3px 14px;
  border-top: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}

.table thead th {
  color: var(--ink-soft);
  font-size: 13px;
}

.table .number {
  text-align: right;
}

.table .plain-button {
  font-weight: 600;
}
</style>
