<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import { chooseFile } from '../components/files'

/** What a new design begins from: one question, no name. */
const emit = defineEmits<{
  requirement: []
  sheet: []
  file: [file: File]
  netlist: [text: string]
  ready: []
  close: []
}>()

const root = ref<HTMLElement | null>(null)
const over = ref(false)
onMounted(async () => {
  await nextTick()
  root.value?.querySelector('button')?.focus()
})

async function choose() {
  const file = await chooseFile('.json,application/json')
  if (file) emit('file', file)
}

/** A dropped file is a design, or a netlist where it is no JSON. */
async function drop(event: DragEvent) {
  over.value = false
  const [file] = event.dataTransfer?.files ?? []
  if (!file) return
  const text = await file.text()
  if (
    text
      .replace(/^\ufeff/, '')
      .trimStart()
      .startsWith('{')
  )
    emit('file', file)
  else emit('netlist', text)
}

function paste(event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (text.trim() === '') return
  event.preventDefault()
  emit('netlist', text)
}

const KEYS: Readonly<Record<string, () => void>> = {
  r: () => emit('requirement'),
  b: () => emit('sheet'),
  f: () => void choose(),
  t: () => emit('netlist', ''),
  c: () => emit('ready'),
  Escape: () => emit('close'),
}

function key(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (step) {
    const all = [...root.value!.querySelectorAll('button')]
    all[(all.indexOf(document.activeElement as HTMLButtonElement) + step + all.length) % all.length]!.focus()
  } else if (KEYS[event.key]) KEYS[event.key]!()
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    ref="root"
    class="start"
    :class="{ over }"
    role="group"
    aria-label="From what?"
    @keydown="key"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
    @paste="paste"
  >
    <p class="ask">From what?</p>
    <button type="button" @click="emit('sheet')">
      <svg viewBox="0 0 64 32" aria-hidden="true">
        <path d="M4 16H16M16 11H32V21H16ZM32 16H44M44 16V28M39 28H49" />
        <circle cx="44" cy="16" r="4.5" />
      </svg>
      <b>A blank sheet</b><span>draw it: source, ring, and say what comes next</span><kbd>b</kbd>
    </button>
    <button type="button" @click="emit('requirement')">
      <svg viewBox="0 0 64 32" aria-hidden="true">
        <path d="M4 28H60M8 28V4" />
        <path class="mask" d="M8 4H30V12H8ZM40 28V20H60V28Z" />
        <path d="M8 13C26 13 30 14 36 20S46 28 60 28" />
      </svg>
      <b>A requirement</b><span>say what the filter must do; circuits are found</span><kbd>r</kbd>
    </button>
    <button type="button" @click="emit('netlist', '')">
      <svg viewBox="0 0 64 32" aria-hidden="true">
        <path d="M6 6H30M6 13H24M6 20H30M6 27H18M38 16H46M43 12L47 16L43 20M52 16H60M52 10V22" />
      </svg>
      <b>A netlist</b><span>paste its text, choose or drop its file; it is drawn</span><kbd>t</kbd>
    </button>
    <button type="button" @click="emit('ready')">
      <svg viewBox="0 0 64 32" aria-hidden="true">
        <path d="M4 12H14M14 7H28V17H14ZM28 12H50M38 12V20M33 20H43M33 23H43M38 23V29M50 12H60" />
      </svg>
      <b>A ready circuit</b><span>one that is known, with what to look at</span><kbd>c</kbd>
    </button>
    <button type="button" @click="choose">
      <svg viewBox="0 0 64 32" aria-hidden="true">
        <path d="M22 3H36L43 10V29H22ZM36 3V10H43M32 14V24M28 20L32 24L36 20" />
      </svg>
      <b>A design file</b><span>choose it, or drop it here</span><kbd>f</kbd>
    </button>
  </div>
</template>

<style scoped>
.start {
  display: flex;
  flex-wrap: wrap;
  align-items: stretch;
  gap: 10px;
  padding: 10px 18px 14px;
  border-top: 1px solid var(--line);
}

.start.over {
  background: var(--accent-soft);
}

.ask {
  align-self: center;
  margin: 0 6px 0 0;
  font-weight: 650;
}

button {
  display: grid;
  flex: 1;
  grid-template-columns: auto 1fr auto;
  gap: 0 12px;
  align-items: center;
  min-width: 220px;
  padding: 10px 12px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

button:hover,
button:focus-visible {
  border-color: var(--accent);
  background: var(--accent-soft);
}

button span {
  grid-column: 2;
  color: var(--ink-soft);
  font-size: 13px;
}

svg {
  grid-row: 1 / 3;
  width: 64px;
  height: 32px;
}

path,
circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}

circle {
  stroke: var(--accent);
}

.mask {
  fill: var(--mask);
  stroke: none;
}

kbd {
  grid-row: 1 / 3;
  grid-column: 3;
  padding: 0 6px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  color: var(--ink-soft);
  font: inherit;
  font-size: 13px;
}
</style>
