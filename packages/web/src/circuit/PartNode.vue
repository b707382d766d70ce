<script setup lang="ts">
import { formatExact, formatQuantity, partKind, parseQuantity, VoskelError } from '@voskel/core'
import { Handle, Position } from '@vue-flow/core'
import { computed, nextTick, ref } from 'vue'
import { GRID, nodeSize, type PartData, pinInNode } from './scene'

/** A part on the drawing: symbol, name, and a value that can be typed in place. */
const { data, selected, fixed } = defineProps<{ data: PartData; selected?: boolean; fixed?: boolean }>()
const emit = defineEmits<{ value: [part: string, field: string, value: number] }>()

const kind = computed(() => partKind(data.part.kind))
const symbol = computed(() => kind.value.symbol)
const size = computed(() => nodeSize(data.part))
const field = computed(() => kind.value.values.find((f) => f.id === kind.value.mainValue) ?? null)
const effective = computed(() => (field.value && data.values ? data.values[field.value.id]! : null))
const value = computed(() => effective.value?.value ?? null)
const formula = computed(() => (field.value ? (data.part.formulas?.[field.value.id] ?? null) : null))
const title = computed(() => {
  if (formula.value !== null) return `= ${formula.value}. A typed value takes the formula's place`
  return exact.value === null ? 'Type another value' : `Computed: ${formatQuantity(exact.value, field.value!.unit)}`
})
const exact = computed(() => (field.value ? (data.part.exact?.[field.value.id] ?? null) : null))
const turn = computed(() => `rotate(${data.part.at?.rotation ?? 0}) scale(${data.part.at?.mirrored ? -1 : 1} 1)`)
const pins = computed(() =>
  kind.value.pins.map((pin) => ({ pin, ...pinInNode(data.part, kind.value.pinPlaces[pin]!) })),
)

const editing = ref(false)
const text = ref('')
const problem = ref('')
const input = ref<HTMLInputElement | null>(null)

async function edit() {
  text.value = value.value === null ? '' : formatExact(value.value, field.value!.unit)
  problem.value = ''
  editing.value = true
  await nextTick()
  input.value?.select()
}

function keep() {
  if (!editing.value) return
  try {
    const typed = parseQuantity(text.value, field.value!.unit)
    if (typed <= 0) {
      problem.value = `${data.part.id} must be above 0 ${field.value!.unit}.`
      return
    }
    editing.value = false
    // Typed as it stands, a formula stays a formula.
    if (typed !== value.value) emit('value', data.part.id, field.value!.id, typed)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}

/** Leaving the field takes a value that can be used and stays on one that cannot. */
function leave() {
  keep()
  if (editing.value) input.value?.focus()
}
</script>

<template>
  <div class="part" :class="{ selected }" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
    <svg
      class="symbol"
      :viewBox="`${-size.width / 2 / GRID} ${-size.height / 2 / GRID} ${size.width / GRID} ${size.height / GRID}`"
      aria-hidden="true"
    >
      <g :transform="turn">
        <path v-for="d in symbol.strokes" :key="d" :d="d" />
        <path v-for="d in symbol.filled ?? []" :key="d" class="filled" :d="d" />
        <text v-for="t in symbol.texts ?? []" :key="t.text" :x="t.x" :y="t.y" dy=".32em">{{ t.text }}</text>
      </g>
    </svg>
    <Handle
      v-for="p in pins"
      :id="p.pin"
      :key="p.pin"
      type="source"
      :position="Position.Top"
      class="pin"
      :style="{ left: `${p.left}px`, top: `${p.top}px` }"
    />
    <div v-if="data.label" class="label" :class="[data.label.side, { stacked: data.label.lines === 2 }]">
      <span class="name">{{ data.part.id }}</span>
      <template v-if="field">
        <input
          v-if="editing"
          ref="input"
          v-model="text"
          class="nodrag nopan nowheel"
          :aria-label="`Value of ${data.part.id}`"
          :aria-invalid="problem !== ''"
          spellcheck="false"
          @keydown.enter.prevent="keep"
          @keydown.escape.prevent="editing = false"
          @blur="leave"
        />
        <button
          v-else
          type="button"
          :disabled="fixed"
          class="value nodrag nopan"
          :title="title"
          :aria-label="`${data.part.id}, ${data.text}: type another value`"
          @click="edit"
        >
          {{ data.text }}<span v-if="exact !== null" class="mark" aria-hidden="true">*</span>
        </button>
        <p v-if="problem && editing" class="problem" role="alert">{{ problem }}</p>
      </template>
    </div>
  </div>
</template>

<style scoped>
.part {
  position: relative;
}

.symbol {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: visible;
}

path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.11;
  stroke-linejoin: round;
}

.filled {
  fill: var(--ink);
}

.selected path {
  stroke: var(--accent);
  stroke-width: 0.17;
}

text {
  fill: var(--ink);
  font-size: 0.95px;
  text-anchor: middle;
}

.pin {
  width: 1px;
  min-width: 1px;
  height: 1px;
  min-height: 1px;
  border: 0;
  background: none;
  pointer-events: none;
  transform: translate(-50%, -50%);
}

.label {
  position: absolute;
  display: flex;
  align-items: baseline;
  gap: 4px;
  white-space: nowrap;
}

.label.stacked {
  flex-direction: column;
  gap: 0;
}

.label.above,
.label.below {
  left: 50%;
  align-items: center;
  transform: translateX(-50%);
}

.label.above {
  bottom: calc(100% + 3px);
}

.label.below {
  top: calc(100% + 3px);
}

.label.left,
.label.right {
  top: 50%;
  transform: translateY(-50%);
}

.label.left {
  right: calc(100% + 4px);
  align-items: flex-end;
}

.label.right {
  left: calc(100% + 4px);
  align-items: flex-start;
}

.name {
  color: var(--ink-soft);
}

.value {
  padding: 0 3px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--ink);
  font-weight: 650;
  cursor: text;
}

.right.stacked .value {
  margin-left: -3px;
}

.value:hover {
  background: var(--accent-soft);
}

.mark {
  color: var(--accent);
}

input {
  width: 92px;
  padding: 1px 4px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
}

.problem {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: 10;
  width: 260px;
  padding: 6px 8px;
  border: 1px solid var(--missed);
  border-radius: 4px;
  background: var(--missed-soft);
  color: var(--ink);
  white-space: normal;
}
</style>
