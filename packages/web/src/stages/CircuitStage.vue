<script setup lang="ts">
import {
  circuitEdit,
  computedAnew,
  type EditCall,
  formatExact,
  formatQuantity,
  isDrawn,
  NetMap,
  keptAsShown,
  outdatedText,
  type PartPatch,
  patched,
  partKind,
  topologies,
  VoskelError,
  valueText,
  withCircuitEdit,
  withPatches,
  writeNetlist,
} from '@voskel/core'
import { ElButton, ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import CircuitDrawing from '../circuit/CircuitDrawing.vue'
import { valuesIn } from '../circuit/scene'
import FormulaSheet from './FormulaSheet.vue'
import StageEmpty from './StageEmpty.vue'
import StageNote from './StageNote.vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

/** The circuit with its values. */
const design = useDesignStore()
const results = useResultsStore()
const drawing = ref<InstanceType<typeof CircuitDrawing> | null>(null)
const selectedId = ref<string | null>(null)

/** The drawn circuit, or the computed one with what is said of its parts now. */
const circuit = computed(() => {
  const own = design.document?.circuit
  if (!own) return null
  if (own.origin === 'drawn') return own.circuit
  const base = results.circuit?.base ?? (results.isEmpty ? own.witness : undefined)
  return base ? patched(base, own.patches).circuit : null
})
const derived = computed(() => (design.document?.circuit.origin === 'derived' ? design.document.circuit : null))
const family = computed(
  () =>
    topologies.find((t) => t.id === design.document?.specification?.realization?.family)?.name ??
    (circuit.value && !isDrawn(circuit.value) ? 'from a netlist' : 'drawn'),
)
const values = computed(() =>
  !design.document?.specification
    ? ''
    : design.document.values === 'exact'
      ? 'values as computed'
      : `values from ${design.document?.values}`,
)
const explaining = ref(false)
const sheet = computed(() => results.sheet)
const findings = computed(() => results.circuit?.findings ?? [])
const selected = computed(() => circuit.value?.parts.find((p) => p.id === selectedId.value) ?? null)

/** A circuit without a drawing, part by part. */
const rows = computed(() => {
  if (!circuit.value || isDrawn(circuit.value)) return []
  const nets = new NetMap(circuit.value)
  const valuesOf = valuesIn(circuit.value)
  return circuit.value.parts.map((part) => {
    const kind = partKind(part.kind)
    const field = kind.values.find((f) => f.id === kind.mainValue)
    const formula = field && part.formulas?.[field.id]
    const values = valuesOf(part)
    const shown = valueText(part, values) ?? ''
    return {
      id: part.id,
      kind: kind.name,
      nets: nets.netsOf(part.id).join(' · '),
      value: part.model ?? (formula === undefined || !values ? shown : `${shown} = ${formula}`),
    }
  })
})

/** Parts that something was said of that was not computed. */
const typed = computed(() => Object.keys(derived.value?.patches ?? {}))
const lost = computed(() => Object.entries(results.circuit?.lost ?? {}))
const outdated = computed(() => results.circuit?.outdated ?? null)

function setValue(part: string, field: string, value: number) {
  const kind = circuit.value?.parts.find((p) => p.id === part)?.kind
  if (!design.document || kind === undefined) return
  const { unit } = partKind(kind).values.find((f) => f.id === field)!
  design.edit(
    `${part} to ${formatQuantity(value, unit)}`,
    withCircuitEdit(design.document, { edit: 'set-value', args: { part, field, value } }),
  )
}

/** Does what a finding proposes. */
function mend(remedy: EditCall) {
  if (!design.document) return
  try {
    design.edit(circuitEdit(remedy).label, withCircuitEdit(design.document, remedy))
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    ElMessage.error(`${error.message} ${error.remedy}`)
  }
}

/** Back to what synthesis gives: everything typed is let go. */
function letGo() {
  if (design.document) design.edit('typed values let go', withPatches(design.document, {}))
}

/** Lets go what was said of a part that the circuit does not have. */
function forget(part: string) {
  if (!design.document || !derived.value) return
  const { [part]: _gone, ...others } = derived.value.patches
  design.edit(`what was typed for ${part} let go`, withPatches(design.document, others))
}

/** What was said of a part, in words. */
function saidOf(patch: PartPatch): string {
  const values = Object.entries(patch.values ?? {}).map(([field, value]) => `${field} ${formatExact(value, '')}`)
  const formulas = Object.entries(patch.formulas ?? {}).map(([field, formula]) => `${field} = ${formula}`)
  const rest = Object.keys(patch).filter((key) => key !== 'values' && key !== 'formulas')
  return [...values, ...formulas, ...rest].join(', ')
}

function keepShown() {
  if (design.document) design.edit('earlier values kept', keptAsShown(design.document))
}

function takeComputed() {
  if (design.document) design.edit('values computed anew', computedAnew(design.document))
}

async function copyNetlist() {
  if (!circuit.value) return
  let written
  try {
    written = writeNetlist({ ...circuit.value, title: design.document?.name })
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    ElMessage.error(`${error.message} ${error.remedy}`)
    return
  }
  try {
    await navigator.clipboard.writeText(written.text)
    if (written.losses.length === 0) ElMessage.success('Netlist copied.')
    else ElMessage.warning({ message: `Netlist copied. ${written.losses.join(' ')}`, duration: 8000 })
  } catch {
    ElMessage.error('The clipboard is not open to this page. Allow it in the browser, then try again.')
  }
}

const capital = (text: string) => text[0]!.toUpperCase() + text.slice(1)

const detail = computed(() => {
  const part = selected.value
  if (!part || !circuit.value) return null
  const values = valuesIn(circuit.value)(part)
  const fields = partKind(part.kind).values.map((f) => {
    const exact = derived.value ? part.exact?.[f.id] : undefined
    const formula = part.formulas?.[f.id]
    const known = values?.[f.id]
    const shown = known ? formatQuantity(known.value, f.unit, 6) : 'not known'
    const origin = formula !== undefined ? ` (= ${formula})` : known?.from === 'model' ? ` (model ${part.model})` : ''
    return `${f.name.toLowerCase()} ${shown}${origin}${exact === undefined ? '' : ` (computed ${formatQuantity(exact, f.unit, 6)})`}`
  })
  return `${part.id}, ${partKind(part.kind).name.toLowerCase()}: ${fields.join(', ')}`
})
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" aria-label="Circuit">
    <header class="tools">
      <span class="what">{{ family }}</span>
      <span class="soft">{{ values }}</span>
      <span class="space" />
      <button class="plain-button" :disabled="!circuit" @click="drawing?.fit()">Show all</button>
      <button class="plain-button" :disabled="sheet.length === 0" @click="explaining = true">How found</button>
      <button class="plain-button" :disabled="!circuit" @click="copyNetlist">Copy netlist</button>
      <button v-if="typed.length" class="plain-button" @click="letGo">Let typed values go</button>
    </header>
    <ul v-if="findings.length" class="findings" aria-label="Findings">
      <li v-for="f in findings" :key="f.message" :class="f.severity">
        <strong>{{ f.severity === 'error' ? 'Cannot be solved' : 'Worth a look' }}</strong>
        {{ f.message }} <span class="soft">{{ f.fix }}</span>
        <template v-if="f.remedy && circuit && isDrawn(circuit)">
          <ElButton v-if="'edit' in f.remedy" size="small" @click="mend(f.remedy)">
            {{ capital(circuitEdit(f.remedy).label) }}
          </ElButton>
          <ElButton v-else size="small" @click="drawing?.look(f.remedy.look)">Show {{ f.remedy.look }}</ElButton>
        </template>
      </li>
    </ul>
    <div v-if="outdated" class="notice" role="status">
      <p>
        {{ capital(outdatedText(outdated)) }}.
        <template v-if="outdated.kind === 'values'">
          <span v-for="c in outdated.changes" :key="`${c.part} ${c.field}`" class="change">
            {{ c.part }}: {{ formatQuantity(c.shown, c.unit, 6) }}, now {{ formatQuantity(c.computed, c.unit, 6) }}
          </span>
        </template>
      </p>
      <button class="plain-button strong" @click="keepShown">Keep what stands</button>
      <button v-if="outdated.kind !== 'refused'" class="plain-button" @click="takeComputed">Take the new values</button>
    </div>
    <div v-if="lost.length" class="notice" role="status">
      <p>Typed for parts that this circuit does not have; it is kept, and counts again when they come back.</p>
      <ul>
        <li v-for="[part, patch] in lost" :key="part">
          <strong>{{ part }}</strong> {{ saidOf(patch) }}
          <button class="plain-button" :aria-label="`Let go what was typed for ${part}`" @click="forget(part)">
            Let go
          </button>
        </li>
      </ul>
    </div>
    <StageNote v-if="!findings.some((f) => f.severity === 'error')" :pieces="[]" />
    <StageEmpty v-if="!circuit" />
    <div v-else-if="!isDrawn(circuit)" class="undrawn">
      <p>This circuit came without a drawing. It is simulated all the same.</p>
      <table>
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col">Kind</th>
            <th scope="col">Nets</th>
            <th scope="col" class="number">Value</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <th scope="row">{{ row.id }}</th>
            <td>{{ row.kind }}</td>
            <td>{{ row.nets }}</td>
            <td class="number">{{ row.value }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <CircuitDrawing
      v-else
      ref="drawing"
      class="sheet"
      :circuit="circuit"
      @value="setValue"
      @select="(id) => (selectedId = id)"
    />
    <FormulaSheet v-model="explaining" :steps="sheet" />
    <p v-if="circuit" class="read">
      <template v-if="detail">{{ detail }}</template>
      <template v-else-if="typed.length">
        <span class="mark">*</span> beside a value: it is not the computed one. What was typed ({{ typed.join(', ') }})
        stays when the specification changes.
      </template>
      <template v-else-if="isDrawn(circuit)"
        >Click a value to type another. Drag moves the sheet, the wheel zooms.</template
      >
    </p>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.stage {
  padding-inline: 0;
}

.tools {
  padding: 0 14px;
}

.space {
  flex: 1;
}

.sheet {
  flex: 1;
  min-height: 0;
  background: radial-gradient(circle, var(--grid) 1px, transparent 1.2px) 0 0 / 16px 16px;
}

.findings {
  max-height: 30%;
  margin: 4px 14px;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.findings li {
  margin-bottom: 4px;
  padding: 6px 10px;
  border-left: 3px solid var(--waiting);
  border-radius: 4px;
  background: var(--panel);
}

.findings li.error {
  border-left-color: var(--missed);
  background: var(--missed-soft);
}

.notice {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  max-height: 30%;
  margin: 4px 14px;
  padding: 6px 10px;
  overflow: auto;
  border-left: 3px solid var(--accent);
  border-radius: 4px;
  background: var(--accent-soft);
}

.notice ul {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.change {
  margin-left: 10px;
  font-variant-numeric: tabular-nums;
}

.strong {
  font-weight: 700;
}

.undrawn {
  flex: 1;
  min-height: 0;
  padding: 16px 24px;
  overflow: auto;
  color: var(--ink-soft);
}

.undrawn table {
  border-collapse: collapse;
  color: var(--ink);
}

.undrawn th,
.undrawn td {
  padding: 4px 28px 4px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}

.undrawn thead th {
  color: var(--ink-soft);
}

.undrawn tbody th {
  font-weight: 650;
}

.undrawn .number {
  padding-right: 0;
  text-align: right;
}

.read {
  padding: 4px 14px 0;
}

.mark {
  color: var(--accent);
  font-weight: 700;
}
</style>
