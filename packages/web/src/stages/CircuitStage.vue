<script setup lang="ts">
import {
  diagramsOf,
  type Expected,
  type Finding,
  formatQuantity,
  isDrawn,
  type GridPoint,
  outputOf,
  partKind,
  topologies,
  type ValueReading,
  type ValueRequirement,
  VoskelError,
  withLoopOpened,
  withPatches,
  withExpected,
  withPromise,
  signalsOf,
  withSignalShown,
  withStudy,
  writeNetlist,
} from '@voskel/core'
import { ElDialog, ElMessage } from 'element-plus'
import { computed, defineAsyncComponent, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { isFromTextField } from '../components/textField'
import BlockName from '../circuit/BlockName.vue'
import ChosenStrip from '../circuit/ChosenStrip.vue'
import CircuitSheet from '../circuit/CircuitSheet.vue'
import FindingList from '../circuit/FindingList.vue'
import ParameterList from '../circuit/ParameterList.vue'
import PartsTable from '../circuit/PartsTable.vue'
import OperatingTable from '../circuit/OperatingTable.vue'
import PointStrip from '../circuit/PointStrip.vue'
import StudyFields from '../circuit/StudyFields.vue'
import PartTray from '../circuit/PartTray.vue'
import { NOTHING_CHOSEN } from '../circuit/hit'
import { valuesIn } from '../circuit/scene'
import ChosenPart from './ChosenPart.vue'
import CircuitNotices from './CircuitNotices.vue'
import FormulaSheet from './FormulaSheet.vue'
import StageEmpty from './StageEmpty.vue'
import StageNote from './StageNote.vue'
import UndrawnParts from './UndrawnParts.vue'
import { outputNet, signalColor, signalDash } from './instrument/Over'
import { useFigures } from './instrument/useFigures'
import { useInfluenceStore } from '../stores/followed'
import { useDesignStore } from '../stores/design'
import { usePalette } from '../stores/palette'
import { useResultsStore } from '../stores/results'
import { useSheetStore } from '../stores/sheet'
import { useShelfStore } from '../stores/shelf'

/** The circuit with its values: drawn, changed, checked. */
const design = useDesignStore()
const results = useResultsStore()
const sheet = useSheetStore()
const shelf = useShelfStore()
const palette = usePalette()
const { figures, frameFigure, removeFigure } = useFigures()
const drawing = ref<InstanceType<typeof CircuitSheet> | null>(null)

const circuit = computed(() => sheet.circuit)
const canDraw = computed(() => circuit.value !== null && (circuit.value.parts.length === 0 || isDrawn(circuit.value)))
const derived = computed(() => (design.document?.circuit.origin === 'derived' ? design.document.circuit : null))
const family = computed(() => {
  const name = topologies.find((t) => t.id === design.document?.specification?.realization?.family)?.name
  if (derived.value) return name ?? 'computed'
  if (circuit.value && !canDraw.value) return 'from a netlist'
  return name ? `drawn, no longer the computed ${name.toLowerCase()}` : 'drawn'
})
const values = computed(() => {
  if (derived.value && design.document?.specification)
    return design.document.values === 'exact' ? 'values as computed' : `values from ${design.document.values}`
  const parts = circuit.value?.parts.filter((p) => p.kind !== 'ground').length ?? 0
  return `${parts} ${parts === 1 ? 'part' : 'parts'}`
})
/** Fetched when they are first opened. */
const ModelsTable = defineAsyncComponent(() => import('../circuit/ModelsTable.vue'))
const PromiseFields = defineAsyncComponent(() => import('./PromiseFields.vue'))
const NetlistPanel = defineAsyncComponent(() => import('../circuit/NetlistPanel.vue'))
const NetlistEntry = defineAsyncComponent(() => import('../circuit/NetlistEntry.vue'))
const netlist = ref<{ follow: () => void } | null>(null)
const explaining = ref(false)
const formulas = computed(() => results.sheet)
/** What is said of the whole circuit is not said inside a block. */
const findings = computed(() => (sheet.inside === null ? (results.circuit?.findings ?? []) : []))
const isRefused = computed(() => findings.value.some((f) => f.severity === 'error'))
const found = computed(() => marked((f) => f.parts))
const foundNets = computed(() => marked((f) => f.nets))

/** The worst that is said of each name. */
function marked(names: (finding: Finding) => readonly string[]) {
  const marks = new Map<string, 'error' | 'warning'>()
  for (const f of findings.value)
    for (const name of names(f))
      if (marks.get(name) !== 'error') marks.set(name, f.severity === 'warning' ? 'warning' : 'error')
  return marks
}

/** Nets whose voltage is drawn, as the first diagram that has it draws it. */
const curves = computed(() => {
  const looks = new Map<string, { color: number; dash: readonly number[] }>()
  for (const diagram of design.document ? diagramsOf(design.document) : [])
    for (const [k, signal] of signalsOf(diagram).entries()) {
      const net = outputNet({ output: signal })
      if (net !== null && !looks.has(net)) looks.set(net, { color: signalColor(k), dash: signalDash(k) })
    }
  return looks
})
const selected = computed(() => {
  const [id, more] = [...sheet.chosen.parts]
  return more === undefined ? (circuit.value?.parts.find((p) => p.id === id) ?? null) : null
})
const blocks = computed(() => Object.keys(circuit.value?.subcircuits ?? {}))
const nets = computed(() => [...new Set(circuit.value?.labels.map((l) => l.name) ?? [])])

/** Parts that something was said of that was not computed. */
const typed = computed(() => Object.keys(derived.value?.patches ?? {}))

/** What can stand below the sheet. */
const BELOW = [
  { id: 'parts', name: 'Parts' },
  { id: 'parameters', name: 'Parameters' },
  { id: 'models', name: 'Models' },
  { id: 'operating-point', name: 'At rest' },
  { id: 'study', name: 'Study' },
  { id: 'netlist', name: 'Netlist' },
] as const

/** Requirements of which it is known what decides them; the worst first, as in the ledger. */
const influences = useInfluenceStore()
let lookAway = () => {}
watch(
  () => sheet.layer === 'influence',
  (isLookedAt) => {
    lookAway()
    lookAway = isLookedAt ? influences.look() : () => {}
  },
  { immediate: true },
)
onScopeDispose(() => lookAway())
const weighable = computed(() => results.verdicts.filter((v) => influences.answer?.[v.id]))
const weighedOn = computed(() => weighable.value.find((v) => v.id === sheet.weighed) ?? weighable.value[0] ?? null)
const influence = computed(() =>
  sheet.layer === 'influence' && sheet.inside === null && weighedOn.value
    ? { list: influences.answer![weighedOn.value.id]!, unit: weighedOn.value.unit }
    : null,
)
/** What the layer shows, in words; why it shows nothing. */
const influenceText = computed(() => {
  if (sheet.layer !== 'influence') return null
  if (influences.failure) return influences.failure
  if (results.verdicts.length === 0) return 'Nothing is required of this circuit, so that nothing can be endangered.'
  if (!influence.value || !weighedOn.value) return 'Working out what decides each requirement …'
  const { list, unit } = influence.value
  const signed = (x: number) => `${x > 0 ? '+' : ''}${formatQuantity(x, unit, 3)}`
  const worst = list.slice(0, 3).map((i) => `${i.part} ${signed(i.perPercent)}`)
  return `What one per cent more does to the margin of ${weighedOn.value.name.toLowerCase()}: ${worst.join(', ')}${list.length > 3 ? ' …' : ''}`
})

/** What is being promised of the circuit at rest. */
const promising = shallowRef<{ id: string; of: ValueReading; value: number; unit: string } | null>(null)
function promiseAtRest(signal: string, value: number, unit: string) {
  promising.value = { id: `${signal} at rest`, of: { signal, operatingPoint: true }, value, unit }
}
function promise(asked: ValueRequirement) {
  if (design.document) design.edit(`${asked.id} promised`, withPromise(design.document, asked))
  promising.value = null
}
function expectByHand(expected: Expected) {
  if (design.document) design.edit(`${expected.id} by hand`, withExpected(design.document, expected))
  promising.value = null
}

const study = computed(() => design.document?.study ?? {})
const output = computed(() => (design.document ? outputOf(design.document) : 'v(out)'))
const shown = computed(() => new Set(design.document ? diagramsOf(design.document).flatMap(signalsOf) : []))
/** The source that the curves are drawn over. */
const input = computed(
  () =>
    study.value.input ??
    circuit.value?.parts.find((p) => p.id.toUpperCase() === 'V1')?.id ??
    circuit.value?.parts.find((p) => partKind(p.kind).takesWaveform)?.id ??
    null,
)

/** Puts a signal into the diagrams over frequency and time, or takes it out. */
function show(signal: string) {
  const { document } = design
  if (!document) return
  const shows = !shown.value.has(signal)
  design.edit(shows ? `${signal} shown` : `${signal} no longer shown`, withSignalShown(document, signal, shows))
}

function setStudy(label: string, change: Parameters<typeof withStudy>[1]) {
  if (design.document) design.edit(label, withStudy(design.document, change))
}

function openLoop(wire: string, at: GridPoint) {
  if (!design.document) return
  try {
    design.edit('loop opened', withLoopOpened(design.document, wire, at))
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    ElMessage.error(`${error.message} ${error.remedy}`)
  }
}

/** A kind that is being dragged from the tray. */
const dragged = ref<string | null>(null)

function drop(event: DragEvent) {
  const [file] = event.dataTransfer?.files ?? []
  if (file) {
    void dropFile(file)
    return
  }
  const kind = dragged.value
  dragged.value = null
  if (kind === null || !drawing.value) return
  if (kind.startsWith('block:')) {
    const hit = drawing.value.hitAt(event)
    sheet.putBlock(kind.slice('block:'.length), hit.kind === 'paper' ? hit.at : undefined)
    return
  }
  const refs = partKind(kind).refersToParts === 1 ? circuit.value?.parts.find((p) => p.kind === 'voltage-source') : null
  const part = { kind, values: {}, ...(refs && { refs: [refs.id] }) }
  const hit = drawing.value.hitAt(event)
  if (hit.kind === 'part' || hit.kind === 'label')
    sheet.act({ edit: 'replace-part', args: { part: hit.part, by: part } })
  else if (hit.kind === 'wire') sheet.act({ edit: 'put-in-wire', args: { wire: hit.wire, at: hit.at, part } })
  else if (hit.kind === 'paper') sheet.act({ edit: 'put-part', args: { part, at: { ...hit.at, rotation: 0 } } })
  else if (hit.kind === 'pin') sheet.act({ edit: 'grow-part', args: { from: hit.end, way: 'onwards', part } }, true)
  drawing.value.focus()
}

function showDetail(part: string) {
  sheet.chosen = { ...NOTHING_CHOSEN, parts: new Set([part]) }
  sheet.isDetailed = true
}

/** Back to what synthesis gives: everything typed is let go. */
function letGo() {
  if (design.document) design.edit('typed values let go', withPatches(design.document, {}))
}

async function copyNetlist() {
  if (!circuit.value) return
  let written
  try {
    written = writeNetlist({ ...circuit.value, title: design.document?.name }, [], 'scaled')
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    ElMessage.error(`${error.message} ${error.remedy}`)
    return
  }
  if (!(await toClipboard(written.text))) return
  if (written.losses.length === 0) ElMessage.success('Netlist copied.')
  else ElMessage.warning({ message: `Netlist copied. ${written.losses.join(' ')}`, duration: 8000 })
}

async function toClipboard(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text)
    return true
  } catch {
    ElMessage.error('The clipboard is not open to this page. Allow it in the browser, then try again.')
    return false
  }
}

/** A file that is dropped on the sheet: a netlist. */
async function dropFile(file: File) {
  await sheet.paste((await file.text()).replace(/^\ufeff/, ''))
}

/** Copy, cut and paste belong to the sheet while it has the focus. */
function copy(event: ClipboardEvent, cuts = false) {
  const text = sheet.copied()
  if (text === null || isFromTextField(event)) return
  event.clipboardData?.setData('text/plain', text)
  event.preventDefault()
  if (cuts) sheet.removeChosen()
}

function paste(event: ClipboardEvent) {
  if (isFromTextField(event)) return
  event.preventDefault()
  void sheet.paste(event.clipboardData?.getData('text/plain') ?? '')
}

const detail = computed(() => {
  const part = selected.value
  if (!part || !circuit.value) return null
  const known = valuesIn(circuit.value)(part)
  // What a real part has and this one lacks is left to its details.
  const told = partKind(part.kind).values.filter((f) => !f.ofModel || (known?.[f.id]?.value ?? f.default) !== f.default)
  const fields = told.map((f) => {
    const exact = derived.value ? part.exact?.[f.id] : undefined
    const formula = part.formulas?.[f.id]
    const value = known?.[f.id]
    const shown = value ? formatQuantity(value.value, f.unit, 6) : 'not known'
    const origin = formula !== undefined ? ` (= ${formula})` : value?.from === 'model' ? ` (model ${part.model})` : ''
    return `${f.name.toLowerCase()} ${shown}${origin}${exact === undefined ? '' : ` (computed ${formatQuantity(exact, f.unit, 6)})`}`
  })
  return [`${part.id}, ${partKind(part.kind).name.toLowerCase()}`, fields.join(', ')].filter(Boolean).join(': ')
})
</script>

<template>
  <section class="stage" :class="{ stale: results.stale }" aria-label="Circuit">
    <header class="tools">
      <template v-if="sheet.inside !== null">
        <button class="plain-button strong" @click="sheet.openBlock(null)">‹ The circuit</button>
        <span class="what">inside {{ sheet.inside }}</span>
        <span class="soft">every place of it follows</span>
      </template>
      <template v-else>
        <span class="what">{{ family }}</span>
        <span class="soft">{{ values }}</span>
      </template>
      <span class="space" />
      <button class="plain-button" :disabled="!circuit" @click="drawing?.fit()">Show all</button>
      <label class="soft"
        >layer
        <select v-model="sheet.layer" :disabled="!canDraw">
          <option value="none">none</option>
          <option value="operating-point">at rest</option>
          <option value="influence">influence</option>
          <option v-if="results.sectionSteps.length > 0" value="sections">sections</option>
        </select>
      </label>
      <label v-if="sheet.layer === 'influence' && weighable.length" class="soft"
        >on
        <select
          :value="weighedOn?.id"
          aria-label="Requirement whose influence is shown"
          @change="sheet.weighed = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="v in weighable" :key="v.id" :value="v.id">{{ v.name }}</option>
        </select>
      </label>
      <button class="plain-button" :disabled="formulas.length === 0" @click="explaining = true">How found</button>
      <button class="plain-button" :disabled="!circuit" @click="copyNetlist">Copy netlist</button>
      <button v-if="typed.length" class="plain-button" @click="letGo">Let typed values go</button>
    </header>
    <FindingList v-if="!canDraw" :findings="findings" :can-mend="false" />
    <CircuitNotices />
    <StageNote v-if="!canDraw && !isRefused" :pieces="[]" />
    <StageEmpty v-if="!circuit" />
    <div v-else class="desk">
      <PartTray
        v-if="canDraw"
        :nets="nets"
        :blocks="blocks"
        :shelf="shelf.blocks"
        @say="(text) => drawing?.say(text)"
        @block="(name) => sheet.putBlock(name)"
        @ready="sheet.putReady"
        @look="shelf.look"
        @shelf="(index) => sheet.takePiece(shelf.blocks[index]!.piece)"
        @dragged="(kind) => (dragged = kind)"
      />
      <div class="pair">
        <UndrawnParts v-if="!canDraw" :circuit="circuit" :can-draw="sheet.inside === null" @draw="sheet.arrange" />
        <CircuitSheet
          v-else
          ref="drawing"
          class="sheet"
          :circuit="circuit"
          :tip="sheet.tip"
          :chosen="sheet.chosen"
          :found="found"
          :found-nets="foundNets"
          :curves="curves"
          :roles="{ input, output }"
          :rest="sheet.layer === 'operating-point' && sheet.inside === null ? sheet.rest : null"
          :influence="influence"
          :sections="sheet.layer === 'sections' && sheet.inside === null ? results.sectionSteps : null"
          :figures="sheet.inside === null ? figures : []"
          :palette="palette"
          @edit="(call, goesOn) => sheet.act(call, goesOn)"
          @tip="sheet.moveTip"
          @choose="(chosen) => (sheet.chosen = chosen)"
          @value="sheet.setValue"
          @turn="sheet.turn"
          @figure="frameFigure"
          @remove-figure="removeFigure"
          @detail="showDetail"
          @dragover.prevent
          @drop.prevent="drop"
          @copy="copy($event)"
          @cut="copy($event, true)"
          @paste="paste"
        >
          <div class="top">
            <PointStrip
              v-if="sheet.inside === null"
              class="over"
              :circuit="circuit"
              :tip="sheet.tip"
              :chosen="sheet.chosen"
              :shown="shown"
              :output="output"
              :input="input"
              @show="show"
              @output="(signal) => setStudy('output', { output: signal === 'v(out)' ? undefined : signal })"
              @input="(source) => setStudy('input', { input: source })"
              @loop="openLoop"
            />
            <ChosenStrip
              v-if="sheet.chosen.parts.size > 1"
              class="over"
              :circuit="circuit"
              :chosen="sheet.chosen.parts"
              @edit="(call) => sheet.act(call)"
              @scale="sheet.below = 'parameters'"
              @block="sheet.isNaming = true"
            />
            <button
              v-else-if="selected && !sheet.isDetailed"
              type="button"
              class="over details"
              @click="sheet.isDetailed = true"
            >
              {{ selected.id }} in detail
            </button>
          </div>
          <ChosenPart
            v-if="sheet.isDetailed && selected"
            :key="selected.id"
            class="over"
            :part="selected"
            :circuit="circuit"
            @close="((sheet.isDetailed = false), drawing?.focus())"
          />
          <div class="bottom">
            <p v-if="sheet.isBlank" class="begin">
              Say what comes next at the ring: type <b>4k7</b> Enter, then <b>↓</b> and <b>100nF</b> Enter. Or paste a
              netlist.
            </p>
            <FindingList
              class="over"
              :findings="findings"
              can-mend
              @edit="(call) => sheet.act(call)"
              @look="(part) => drawing?.look(part)"
            />
            <StageNote v-if="!isRefused" class="over note" :pieces="[]" :doubts-only="findings.length > 0" />
          </div>
        </CircuitSheet>
        <NetlistPanel
          v-if="circuit && sheet.inside === null && sheet.below === 'netlist'"
          ref="netlist"
          class="beside"
          :circuit="sheet.whole ?? circuit"
          :title="design.document?.name ?? ''"
          @edit="(call) => sheet.act(call) && netlist?.follow()"
        />
      </div>
    </div>
    <PartsTable
      v-if="circuit && canDraw && sheet.below === 'parts'"
      class="below"
      :circuit="circuit"
      :chosen="sheet.chosen.parts"
      @edit="(call) => sheet.act(call)"
      @choose="(parts) => (sheet.chosen = { ...NOTHING_CHOSEN, parts: new Set(parts) })"
    />
    <ParameterList
      v-if="circuit && canDraw && sheet.below === 'parameters'"
      class="below"
      :circuit="circuit"
      :chosen="sheet.chosen.parts"
      @edit="(call) => sheet.act(call)"
    />
    <ModelsTable
      v-if="circuit && canDraw && sheet.inside === null && sheet.below === 'models'"
      class="below"
      :circuit="circuit"
      :elsewhere="shelf.items"
      @edit="(call) => sheet.act(call)"
      @open="sheet.openBlock"
      @keep="shelf.keep"
      @forget="shelf.forget"
      @use="(found) => sheet.takePiece(found.piece)"
      @look="shelf.look"
    />
    <OperatingTable
      v-if="circuit && canDraw && sheet.below === 'operating-point'"
      class="below"
      :circuit="circuit"
      :report="sheet.rest"
      :failure="sheet.restFailure"
      @choose="(part) => drawing?.look(part)"
      @promise="promiseAtRest"
    />
    <StudyFields
      v-if="circuit && canDraw && sheet.below === 'study'"
      class="below"
      :study="study"
      :circuit="circuit"
      :nets="nets.filter((n) => n !== '0')"
      @change="(change) => setStudy('study', change)"
      @initial="(net, voltage) => sheet.act({ edit: 'set-initial', args: { net, voltage } })"
    />
    <ElDialog
      :model-value="promising !== null"
      title="A promise"
      width="min(460px, 94vw)"
      destroy-on-close
      @close="promising = null"
    >
      <PromiseFields
        v-if="promising"
        v-bind="promising"
        @promise="promise"
        @expect="expectByHand"
        @close="promising = null"
      />
    </ElDialog>
    <ElDialog v-model="sheet.isNaming" title="A block" width="min(460px, 94vw)" destroy-on-close>
      <BlockName
        v-if="sheet.isNaming"
        :count="sheet.chosen.parts.size"
        @make="sheet.makeBlock"
        @close="sheet.isNaming = false"
      />
    </ElDialog>
    <ElDialog
      :model-value="sheet.pasted !== null"
      title="A netlist"
      width="min(860px, 94vw)"
      destroy-on-close
      @close="sheet.pasted = null"
    >
      <NetlistEntry
        v-if="sheet.pasted !== null"
        :begin="sheet.pasted"
        @draw="sheet.takeNetlist"
        @close="sheet.pasted = null"
      />
    </ElDialog>
    <FormulaSheet v-model="explaining" :steps="formulas" />
    <footer v-if="circuit" class="foot">
      <button
        v-for="below in BELOW"
        :key="below.id"
        class="plain-button tab"
        :aria-pressed="sheet.below === below.id"
        :disabled="!canDraw && below.id !== 'netlist'"
        @click="sheet.below = sheet.below === below.id ? null : below.id"
      >
        {{ below.name }}
      </button>
      <p class="read">
        <template v-if="sheet.layer === 'sections'"
          >What each section makes; choose a part to see what it does there.</template
        >
        <template v-else-if="influenceText">{{ influenceText }}</template>
        <template v-else-if="detail">{{ detail }}</template>
        <template v-else-if="typed.length">
          <span class="mark">*</span> beside a value: it is not the computed one. What was typed ({{
            typed.join(', ')
          }}) stays when the specification changes.
        </template>
        <template v-else-if="canDraw"
          >Type to add at the ring; drag from a pin to wire; wheel zooms, Space and drag moves.</template
        >
      </p>
    </footer>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.stage {
  padding-inline: 0;
}

.tools {
  gap: 4px 8px;
  padding: 0 14px;
}

.space {
  flex: 1;
}

.desk {
  display: flex;
  overflow: hidden;
  flex: 1;
  min-height: 0;
  container-type: inline-size;
}

/* The drawing, and its netlist beside it; under it where there is no room beside. */
.pair {
  display: flex;
  flex: 1;
  min-width: 0;
}

.sheet {
  flex: 1;
  min-width: 0;
  min-height: 0;
}

.beside {
  flex: 0 0 clamp(300px, 40%, 480px);
  min-width: 0;
  border-left: 1px solid var(--line-strong);
}

@container (max-width: 820px) {
  .pair {
    flex-direction: column;
  }

  .beside {
    flex-basis: min(250px, 50%);
    min-height: 0;
    border-top: 1px solid var(--line-strong);
    border-left: 0;
  }
}

.below {
  height: 190px;
  border-top: 1px solid var(--line-strong);
}

.tools select {
  padding: 1px 6px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}

.details {
  padding: 3px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}

[aria-pressed='true'] {
  color: var(--accent);
  font-weight: 650;
}

.top {
  position: absolute;
  top: 8px;
  left: 10px;
  right: 10px;
  z-index: 2;
  display: flex;
  align-items: flex-start;
  gap: 4px 14px;
  pointer-events: none;
}

.top > * {
  pointer-events: auto;
}

.top > :last-child {
  margin-left: auto;
}

.top > :first-child {
  margin-left: 0;
}

.bottom {
  position: absolute;
  bottom: 10px;
  left: 10px;
  z-index: 2;
  display: flex;
  flex-direction: column;
  gap: 6px;
  max-width: calc(100% - 20px);
  max-height: 60%;
  pointer-events: none;
}

.bottom > * {
  pointer-events: auto;
}

.bottom .note {
  margin: 0;
  border-radius: 8px;
}

.begin {
  align-self: center;
  padding: 6px 14px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--raised);
}

.strong {
  font-weight: 700;
}

.foot {
  display: flex;
  align-items: center;
  gap: 2px 6px;
  min-height: 30px;
  padding: 2px 8px 0;
  border-top: 1px solid var(--line);
}

.tab {
  flex: none;
}

.read {
  flex: 1;
  padding-left: 8px;
  margin: 0;
  overflow: hidden;
  color: var(--ink-soft);
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.mark {
  color: var(--accent);
  font-weight: 700;
}
</style>
