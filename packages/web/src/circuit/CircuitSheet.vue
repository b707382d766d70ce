<script setup lang="ts">
import {
  around,
  type Circuit,
  type Direction,
  type EditCall,
  type FigureFrame,
  type FormulaStep,
  type GridPoint,
  type Influence,
  NetMap,
  type GrowWay,
  type OperatingReport,
  partKind,
  type Reading,
  type Spot,
  spotPoint,
  type TypedValue,
  valueText,
  walkFrom,
} from '@voskel/core'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import CircuitLayers, { type CurveLook } from './CircuitLayers.vue'
import type { Palette } from '../diagram/palette'
import EntryLine from './EntryLine.vue'
import FigureLayer, { type FigureOnSheet } from './FigureLayer.vue'
import { ghostOf } from './ghost'
import { type Gesture, IDLE, moved, type Outcome, pressed, released } from './gesture'
import GestureLayer from './GestureLayer.vue'
import { boxBetween, movingShapes } from './gestureShapes'
import HandField from './HandField.vue'
import { resistorLook } from './look'
import { type Chosen, Hits, isNothing, NOTHING_CHOSEN, onGrid, toggled } from './hit'
import NoteField from './NoteField.vue'
import OverviewMap from './OverviewMap.vue'
import PartButtons from './PartButtons.vue'
import { EMPTY_SCENE, GRID, type Scene, sceneOf, valuesIn } from './scene'
import { influenceLayer, weightsOf } from './influenceLayer'
import { sectionLayer } from './sectionLayer'
import { operatingLayer } from './operatingLayer'
import { type Roles, rolesOf } from './roles'
import TagLayer from './TagLayer.vue'
import TipLayer from './TipLayer.vue'
import ValueField from './ValueField.vue'
import { useViewport } from './viewport'

/** The sheet on which a circuit is drawn and changed. What is done is told as edits; the tip and what is chosen are its own. */
const {
  circuit,
  tip,
  chosen,
  rest = null,
  influence = null,
  sections = null,
  roles,
  foundNets,
  figures = [],
} = defineProps<{
  circuit: Circuit
  tip: Spot
  chosen: Chosen
  /** Parts and nets with a finding. */
  found?: ReadonlyMap<string, 'error' | 'warning'>
  foundNets?: ReadonlyMap<string, 'error' | 'warning'>
  /** Nets whose voltage is a curve: its colour and dash. */
  curves?: ReadonlyMap<string, CurveLook>
  /** What is shown over the drawing: the circuit at rest. */
  rest?: OperatingReport | null
  /** Or what each part does to a requirement, in its unit. */
  influence?: { readonly list: readonly Influence[]; readonly unit: string } | null
  /** Or what its sections make, and what the chosen part does there. */
  sections?: readonly FormulaStep[] | null
  /** What is the input and what the output. */
  roles?: Roles
  /** Diagrams that lie on it. */
  figures?: readonly FigureOnSheet[]
  /** Colours of the diagrams. */
  palette?: Palette
}>()
const emit = defineEmits<{
  edit: [call: EditCall, goesOn?: boolean]
  tip: [spot: Spot]
  choose: [chosen: Chosen]
  value: [part: string, field: string, value: TypedValue]
  /** A hand turns or throws a part; what belongs to one turn is one step. */
  turn: [part: string, field: string, value: number, group: string]
  /** A part was asked for in detail. */
  detail: [part: string]
  /** A diagram goes to another place; what belongs to one drag is one step. */
  figure: [id: string, frame: FigureFrame, group: string]
  removeFigure: [id: string]
}>()

const root = ref<HTMLElement | null>(null)
const dots = ref<HTMLElement | null>(null)
const world = ref<HTMLElement | null>(null)
const spaceHeld = ref(false)
const viewport = useViewport(root, { world, dots }, (event) =>
  'touches' in event ? event.touches.length > 1 : event.button === 1 || (event.button === 0 && spaceHeld.value),
)

/** Zoom below which names and values are too small to read. */
const READABLE = 0.72
const sheetSize = computed(() => {
  const { width, height } = viewport.size.value
  return width > 0 ? { width: (width - 80) / (GRID * READABLE), height: (height - 60) / (GRID * READABLE) } : undefined
})
// Before the sheet's size is known there is nothing to draw for.
const scene = computed(() => (sheetSize.value ? sceneOf(circuit, sheetSize.value, resistorLook.value) : EMPTY_SCENE))
const hits = computed(() => new Hits(scene.value))
/** The scene as far as it says how things lie: another value leaves it. */
const lying = computed<Scene>((was) => (was?.drawing.labels === scene.value.drawing.labels ? was : scene.value))
const roleTags = computed(() => (roles ? rolesOf(lying.value, roles) : []))
const tags = computed(() => {
  const taken = roleTags.value.map((t) => t.box)
  const layer = rest
    ? operatingLayer(lying.value, rest, taken)
    : influence
      ? influenceLayer(lying.value, influence.list, influence.unit, taken)
      : sections
        ? sectionLayer(lying.value, sections, [...chosen.parts], taken)
        : []
  return [...roleTags.value, ...layer]
})
const fold = (p: GridPoint) => scene.value.drawing.fold(p)
const unfold = (p: GridPoint) => scene.value.drawing.unfold(p)

/** Everything that lies on the sheet. */
const bounds = computed(() => {
  const own = scene.value.bounds
  const boxes = figures.map(({ at, width, height }) => ({
    left: at.x,
    top: at.y,
    right: at.x + width,
    bottom: at.y + height,
  }))
  return own && boxes.reduce(around, own)
})
const fit = () => viewport.fit(bounds.value)
/** The first look shows everything; edits leave the view where it is, but for what they bring. */
let hasFitted = false
watch(
  [() => viewport.size.value.width > 0, scene],
  async ([hasSize]) => {
    if (!hasSize || hasFitted || !scene.value.bounds) return
    hasFitted = true
    await nextTick()
    fit()
  },
  { immediate: true },
)
watch(
  () => scene.value.drawing.rows,
  () => fit(),
)
/** Where everything was shown, it is in another size too. */
watch(viewport.size, async () => {
  if (!viewport.isFitted()) return
  await nextTick()
  fit()
})
/** What an edit brings is brought into view: with all the rest where that can be read, else by itself. */
watch(
  () => circuit.parts,
  async (now, before) => {
    const had = new Set(before.map((p) => p.id))
    const come = new Set(now.flatMap((p) => (had.has(p.id) ? [] : [p.id])))
    const boxes = scene.value.symbols.flatMap((s) => (come.has(s.id) ? [s.box] : []))
    if (boxes.length === 0 || come.size === now.length) return
    const box = boxes.reduce(around)
    if (viewport.shows(box)) return
    await nextTick()
    if (viewport.zoomFor(scene.value.bounds!) >= READABLE) fit()
    else viewport.reveal({ x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }, 120)
  },
)

// Whoever comes without the focus elsewhere can type at once.
onMounted(() => {
  if (document.activeElement === document.body || document.activeElement === null) root.value?.focus()
})

// --- the tip ---------------------------------------------------------------------------------------------------------

const tipAt = computed(() => {
  const at = spotPoint(circuit, tip)
  return at && fold(at)
})
/** The way that was turned to; null leaves it to what is said. */
const way = ref<GrowWay | null>(null)
const entry = ref<string | null>(null)
const reading = shallowRef<Reading | null>(null)
watch(
  () => tip,
  () => {
    if (entry.value === null) way.value = null
  },
)

/** The part that is meant where something is said about one. */
const meant = computed(() => (chosen.parts.size === 1 ? [...chosen.parts][0]! : 'part' in tip ? tip.part : null))

function openEntry(text: string) {
  reading.value = null
  entry.value = text
  if (tipAt.value) viewport.reveal(tipAt.value, 120)
}

function say(said: Reading) {
  const grows = said.grows?.way
  emit('edit', said.call, grows === 'onwards' || grows === 'back')
  closeEntry()
}

function closeEntry() {
  entry.value = null
  reading.value = null
  way.value = null
  root.value?.focus()
}

/** What would come, where it would come. */
const ghost = computed(() => reading.value && ghostOf(circuit, reading.value.call, fold, resistorLook.value))

// --- the hand --------------------------------------------------------------------------------------------------------

const gesture = shallowRef<Gesture>(IDLE)
const hover = shallowRef<ReturnType<Hits['at']> | null>(null)
const scale = () => GRID * viewport.zoom()
/** Fingers are thick, and so are pixels at small zooms. */
const reachOf = (event: PointerEvent) => (event.pointerType === 'touch' ? 14 : 5) / scale()

function press(event: PointerEvent) {
  if (event.button !== 0 || spaceHeld.value) return
  if ((event.target as HTMLElement).closest('.over')) return
  root.value?.focus()
  if (entry.value !== null) closeEntry()
  const at = viewport.toGrid(event)
  const hit = hits.value.at(at, chosen.wires, reachOf(event))
  gesture.value = pressed(hit, at, chosen, event.shiftKey || event.ctrlKey || event.metaKey)
  root.value?.setPointerCapture(event.pointerId)
}

function move(event: PointerEvent) {
  const at = viewport.toGrid(event)
  if (gesture.value.kind === 'idle') {
    hover.value = hits.value.at(at, chosen.wires, reachOf(event))
    return
  }
  gesture.value = moved(gesture.value, at, scale(), (p) => hits.value.at(p, new Set(), reachOf(event)))
}

function lift() {
  const done = gesture.value
  gesture.value = IDLE
  act(released(done), done)
}

function abandon() {
  gesture.value = IDLE
}

function act(outcome: Outcome, done: Gesture) {
  switch (outcome.kind) {
    case 'nothing':
      return
    case 'choose': {
      emit('choose', outcome.chosen)
      if (outcome.tip) emit('tip', spotOf(outcome.tip))
      if (done.kind === 'pressed' && done.hit.kind === 'label' && !done.adds) startTyping(done.hit.part)
      // A text that is chosen already is meant to be written.
      if (done.kind === 'pressed' && done.hit.kind === 'note' && !done.adds && done.chosen.notes.has(done.hit.note))
        writing.value = done.hit.note
      return
    }
    case 'frame': {
      const { from, to } = outcome
      const found = hits.value.inside(boxBetween(from, to))
      emit('choose', outcome.adds ? toggled(chosen, found) : found)
      return
    }
    case 'edit':
      emit('edit', inDocument(outcome.call))
      return
    case 'say':
      emit('tip', spotOf(outcome.from))
      way.value = wayTowards(done)
      void nextTick(() => openEntry(''))
      return
    case 'slide': {
      const wire = scene.value.wires.find((w) => w.id === outcome.wire)
      const points = wire?.pieces.flat() ?? []
      const [a, b] = [points[outcome.stretch], points[outcome.stretch + 1]]
      const by = a && b && a.y === b.y ? outcome.by.y : outcome.by.x
      if (by !== 0) emit('edit', { edit: 'move-stretch', args: { wire: outcome.wire, stretch: outcome.stretch, by } })
      return
    }
    case 'label':
      placeLabel(outcome)
  }
}

/** Places that a gesture found on the drawing, as the document has them. */
function spotOf(spot: Spot): Spot {
  return 'at' in spot ? { ...spot, at: unfold(spot.at) } : spot
}

function inDocument(call: EditCall): EditCall {
  if (call.edit === 'draw-wire')
    return { ...call, args: { ...call.args, from: spotOf(call.args.from), to: spotOf(call.args.to) } }
  return call.edit === 'name-net' ? { ...call, args: { ...call.args, at: spotOf(call.args.at) } } : call
}

function wayTowards(done: Gesture): GrowWay | null {
  if (done.kind !== 'pulling') return null
  const [dx, dy] = [done.to.x - done.at.x, done.to.y - done.at.y]
  if (Math.abs(dx) >= Math.abs(dy)) return dx >= 0 ? 'onwards' : 'back'
  return dy > 0 ? 'ground' : 'supply'
}

function placeLabel({ what, by }: Extract<Outcome, { kind: 'label' }>) {
  if (what.kind === 'label') {
    const part = scene.value.drawing.circuit.parts.find((p) => p.id === what.part)!
    const at = {
      x: (what.box.left + what.box.right) / 2 + by.x - part.at!.x,
      y: (what.box.top + what.box.bottom) / 2 + by.y - part.at!.y,
    }
    emit('edit', { edit: 'place-label', args: { part: what.part, at } })
    return
  }
  const name = scene.value.names.find((n) => n.id === what.label)!
  // Where a name is put is the place below which its frame begins.
  const at = unfold(onGrid({ x: name.box.left + 0.875 + by.x, y: name.box.bottom + 0.2 + by.y }))
  emit('edit', { edit: 'place-name', args: { label: what.label, at } })
}

/** What moves, drawn apart from what stays; worked out once a gesture. */
const held = computed(() => (gesture.value.kind === 'moving' ? gesture.value.chosen : null))
const moving = computed(() => held.value && movingShapes(scene.value, held.value))
const NONE: ReadonlySet<string> = new Set()
const hidden = computed(() => moving.value?.hidden ?? NONE)
const cursor = computed(() => {
  if (spaceHeld.value || viewport.isMoving.value) return 'grabbing'
  const kind = hover.value?.kind
  return kind === 'label'
    ? 'text'
    : kind === 'part' || kind === 'note' || kind === 'name'
      ? 'move'
      : kind === 'paper'
        ? 'default'
        : 'crosshair'
})

// --- values ----------------------------------------------------------------------------------------------------------

const typing = ref<string | null>(null)
const typedPart = computed(() => circuit.parts.find((p) => p.id === typing.value) ?? null)
const typedAt = computed(() => {
  const label = scene.value.labels.find((l) => l.id === typing.value)
  if (!label) return null
  return beside({ x: label.box.left, y: label.box.top }, { width: 136, height: 34 })
})

function startTyping(id: string) {
  const part = circuit.parts.find((p) => p.id === id)
  if (!part) return
  if (partKind(part.kind).mainValue === undefined) emit('detail', id)
  else typing.value = id
}

function setValue(field: string, value: TypedValue) {
  if (typing.value !== null) emit('value', typing.value, field, value)
}

function stopTyping() {
  typing.value = null
  root.value?.focus()
}

// --- texts, and what a hand turns ---------------------------------------------------------------------------------------

const writing = ref<string | null>(null)
const written = computed(() => circuit.notes?.find((n) => n.id === writing.value) ?? null)
const writtenAt = computed(() => {
  const note = scene.value.notes.find((n) => n.id === writing.value)
  return note ? beside(note.at, { width: 288, height: 140 }) : null
})

function keepText(text: string) {
  if (written.value)
    emit('edit', {
      edit: 'write-note',
      args: { note: written.value.id, text, at: written.value.at, as: written.value.as },
    })
}

function stopWriting() {
  writing.value = null
  root.value?.focus()
}

/** A place of the drawing in pixels, so that something of a size stays on the sheet. */
function beside(at: GridPoint, { width, height }: { width: number; height: number }) {
  const { left, top } = viewport.toSheet(at)
  const { width: w, height: h } = viewport.size.value
  return {
    left: `${Math.min(Math.max(4, left), Math.max(4, w - width))}px`,
    top: `${Math.min(Math.max(4, top), Math.max(4, h - height))}px`,
  }
}

/** The chosen part, where a hand can turn or throw it. */
const turned = computed(() => {
  if (chosen.parts.size !== 1 || gesture.value.kind !== 'idle') return null
  const symbol = scene.value.symbols.find((s) => chosen.parts.has(s.id))
  const part = symbol && circuit.parts.find((p) => p.id === symbol.id)
  if (!symbol || !part) return null
  const { hand } = partKind(part.kind)
  if (!hand) return null
  return { part, value: valuesOf.value(part)?.[hand.field]?.value ?? null, box: symbol.box }
})
const turnedAt = computed(
  () =>
    turned.value && beside({ x: turned.value.box.left, y: turned.value.box.bottom + 0.4 }, { width: 170, height: 30 }),
)

// --- keys ------------------------------------------------------------------------------------------------------------

const ARROWS: Readonly<Record<string, Direction>> = {
  ArrowRight: 'right',
  ArrowLeft: 'left',
  ArrowDown: 'down',
  ArrowUp: 'up',
}
const WAY_OF: Readonly<Record<Direction, GrowWay>> = { right: 'onwards', left: 'back', down: 'ground', up: 'supply' }
const STEP: Readonly<Record<Direction, GridPoint>> = {
  right: { x: 1, y: 0 },
  left: { x: -1, y: 0 },
  down: { x: 0, y: 1 },
  up: { x: 0, y: -1 },
}

function key(event: KeyboardEvent) {
  if (event.target !== root.value) return
  if (event.key === ' ') {
    spaceHeld.value = true
    event.preventDefault()
    return
  }
  const direction = ARROWS[event.key]
  if (direction && !event.ctrlKey && !event.metaKey) {
    event.preventDefault()
    event.stopPropagation()
    if (event.shiftKey || event.altKey) moveChosen(direction)
    else walk(direction)
    return
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'Escape') {
    if (gesture.value.kind !== 'idle') abandon()
    else if (way.value !== null) way.value = null
    else emit('choose', NOTHING_CHOSEN)
    event.preventDefault()
    return
  }
  if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    remove(!event.shiftKey)
    return
  }
  if (event.key === 'Enter') {
    event.preventDefault()
    const [note] = [...chosen.notes]
    if (chosen.parts.size === 1) startTyping([...chosen.parts][0]!)
    else if (note !== undefined) writing.value = note
    else openEntry('')
    return
  }
  // A character begins what is said at the tip.
  if (event.key.length === 1 && event.key !== '?') {
    event.preventDefault()
    event.stopPropagation()
    openEntry(event.key)
  }
}

function keyUp(event: KeyboardEvent) {
  if (event.key === ' ') spaceHeld.value = false
}

function walk(direction: Direction) {
  const next = walkFrom(circuit, tip, direction)
  if (next) {
    emit('tip', next)
    const at = spotPoint(circuit, next)
    if (at) viewport.reveal(fold(at))
  } else way.value = WAY_OF[direction]
}

function moveChosen(direction: Direction) {
  const { parts, labels, notes } = chosen
  if (parts.size + labels.size + notes.size === 0) return
  emit('edit', {
    edit: 'move-things',
    args: { parts: [...parts], labels: [...labels], notes: [...notes], by: STEP[direction] },
  })
}

function remove(close: boolean) {
  if (isNothing(chosen)) return
  const { parts, wires, labels, notes } = chosen
  emit('edit', {
    edit: 'remove-things',
    args: { parts: [...parts], wires: [...wires], labels: [...labels], notes: [...notes], close },
  })
  emit('choose', NOTHING_CHOSEN)
}

// --- for whoever holds the sheet -------------------------------------------------------------------------------------

/** Brings a part into view. */
function look(part: string) {
  const symbol = scene.value.symbols.find((s) => s.id === part)
  if (!symbol) return
  const { left, right, top, bottom } = symbol.box
  viewport.reveal({ x: (left + right) / 2, y: (top + bottom) / 2 }, 120)
  emit('choose', { ...NOTHING_CHOSEN, parts: new Set([part]) })
}

/** Where a thing dropped at a place of the window would go. */
function hitAt(event: { clientX: number; clientY: number }) {
  const hit = hits.value.at(viewport.toGrid(event), new Set(), 0.3)
  return hit.kind === 'paper' || hit.kind === 'wire' ? { ...hit, at: unfold(hit.at) } : hit
}

defineExpose({
  fit,
  look,
  hitAt,
  zoomBy: viewport.zoomBy,
  focus: () => root.value?.focus(),
  type: startTyping,
  say: openEntry,
})

const valuesOf = computed(() => valuesIn(circuit))
/** The tip in words, for whoever does not see it. */
const spoken = computed(() => {
  const where =
    'part' in tip
      ? `pin ${tip.pin} of ${tip.part}`
      : 'junction' in tip
        ? 'a joint'
        : 'wire' in tip
          ? 'a wire'
          : 'empty paper'
  const part = 'part' in tip ? circuit.parts.find((p) => p.id === tip.part) : undefined
  const value = part && valueText(part, valuesOf.value(part))
  return `Tip on ${where}${value ? `, ${value}` : ''}${way.value ? `, next ${way.value}` : ''}`
})
const entryAt = computed(() => {
  if (!tipAt.value) return { left: '20px', top: '20px' }
  const { left, top } = viewport.toSheet(tipAt.value)
  const { width, height } = viewport.size.value
  const below = top + 300 < height ? top + 26 : Math.max(8, top - 310)
  return { left: `${Math.max(8, Math.min(left + 14, width - 348))}px`, top: `${below}px` }
})
/** Parts beyond which a drawing can be lost sight of. */
const MANY = 40
const foundWires = computed(() => {
  const marks = new Map<string, 'error' | 'warning'>()
  if (!foundNets?.size) return marks
  const nets = NetMap.of(circuit)
  for (const { id, ends } of circuit.wires) {
    const found = foundNets.get(nets.netAt(ends[0]) ?? '')
    if (found) marks.set(id, found)
  }
  return marks
})
</script>

<template>
  <div
    ref="root"
    class="sheet"
    tabindex="0"
    role="application"
    aria-label="Circuit sheet"
    aria-describedby="sheet-tip"
    :style="{ cursor }"
    @pointerdown="press"
    @pointermove="move"
    @pointerup="lift"
    @pointercancel="abandon"
    @keydown="key"
    @keyup="keyUp"
    @blur="spaceHeld = false"
    @contextmenu.prevent
  >
    <div ref="world" class="world">
      <div ref="dots" class="dots" aria-hidden="true" />
      <CircuitLayers
        :scene="scene"
        :marked="chosen.parts"
        :chosen-wires="chosen.wires"
        :hidden="hidden"
        :found="found"
        :found-wires="foundWires"
        :curves="curves"
        :weights="influence ? weightsOf(influence.list) : undefined"
      />
      <TagLayer :tags="tags" />
      <FigureLayer
        v-if="palette && figures.length > 0"
        :figures="figures"
        :palette="palette"
        :zoom="viewport.zoom"
        @frame="(id, frame, group) => emit('figure', id, frame, group)"
        @remove="(id) => emit('removeFigure', id)"
      />
      <GestureLayer :scene="scene" :gesture="gesture" :chosen="chosen" :moving="moving" />
      <TipLayer :at="tipAt" :way="way" :ghost="ghost" />
    </div>
    <p id="sheet-tip" class="visually-hidden" aria-live="polite">{{ spoken }}</p>
    <PartButtons :labels="scene.labels" @open="startTyping" />
    <ValueField
      v-if="typedPart && typedAt"
      :key="typedPart.id"
      class="over"
      :part="typedPart"
      :circuit="circuit"
      :style="typedAt"
      @value="setValue"
      @done="stopTyping"
    />
    <EntryLine
      v-if="entry !== null"
      class="over"
      :style="entryAt"
      :start="entry"
      :circuit="circuit"
      :tip="tip"
      :part="meant"
      :way="way"
      @way="(w) => (way = w)"
      @reading="(r) => (reading = r)"
      @say="say"
      @close="closeEntry"
    />
    <NoteField
      v-if="written && writtenAt"
      :key="written.id"
      class="over"
      :note="written"
      :style="writtenAt"
      @text="keepText"
      @done="stopWriting"
    />
    <HandField
      v-if="turned && turnedAt && entry === null && typing === null"
      class="over hand"
      :part="turned.part"
      :value="turned.value"
      :style="turnedAt"
      @turn="(...what) => emit('turn', ...what)"
    />
    <OverviewMap v-if="scene.bounds && circuit.parts.length > MANY" class="over" :scene="scene" :viewport="viewport" />
    <slot />
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
  overflow: hidden;
  outline: none;
  touch-action: none;
  user-select: none;
}

.dots {
  position: absolute;
  background-image: radial-gradient(circle, var(--grid) 1px, transparent 1.2px);
  pointer-events: none;
}

.hand {
  position: absolute;
  z-index: 3;
}

.sheet:focus-visible {
  box-shadow: inset 0 0 0 1px var(--focus);
}

.world {
  position: absolute;
  top: 0;
  left: 0;
  transform-origin: 0 0;
  will-change: transform;
}
</style>
