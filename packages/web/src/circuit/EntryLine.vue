<script setup lang="ts">
import { type Circuit, type GrowWay, type Reading, readingsOf, seriesValues, type Spot } from '@voskel/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'

/** Where the next part is said: what was understood stands below, with other readings to choose from. */
const { start, circuit, tip, part, way } = defineProps<{
  /** What was typed before the line was open. */
  start: string
  circuit: Circuit
  tip: Spot
  part: string | null
  way: GrowWay | null
}>()
const emit = defineEmits<{
  way: [way: GrowWay]
  /** What is understood just now. */
  reading: [reading: Reading | null]
  say: [reading: Reading]
  close: []
}>()

const input = ref<HTMLInputElement | null>(null)
const text = ref(start)
const at = ref(0)
const refused = ref(false)
const readings = computed(() => readingsOf(text.value, { circuit, tip, way, part }))
const current = computed(() => readings.value[at.value] ?? null)
watch(current, (reading) => emit('reading', reading), { immediate: true })
watch(text, () => {
  at.value = 0
  refused.value = false
})

onMounted(async () => {
  await nextTick()
  input.value?.focus()
  input.value?.setSelectionRange(text.value.length, text.value.length)
  // From the tray: a value is chosen next.
  const named = KINDS.find((k) => k.unit !== null && k.word === start)
  if (named) choose(named)
})

const WAYS: Readonly<Record<string, GrowWay>> = {
  ArrowRight: 'onwards',
  ArrowLeft: 'back',
  ArrowDown: 'ground',
  ArrowUp: 'supply',
}
const WORDS: readonly (readonly [GrowWay, string, string])[] = [
  ['onwards', '→', 'in series'],
  ['ground', '↓', 'to ground'],
  ['supply', '↑', 'to the supply'],
  ['back', '←', 'back'],
]

function key(event: KeyboardEvent) {
  event.stopPropagation()
  const turned = WAYS[event.key]
  if (turned && !event.shiftKey && !event.ctrlKey && !event.altKey && !event.metaKey) {
    event.preventDefault()
    emit('way', turned)
  } else if (event.key === 'Tab') {
    event.preventDefault()
    const n = readings.value.length
    if (n > 0) at.value = (at.value + (event.shiftKey ? n - 1 : 1)) % n
  } else if (event.key === 'Enter') {
    event.preventDefault()
    done()
  } else if (event.key === 'Escape') {
    event.preventDefault()
    emit('close')
  }
}

function done(reading = current.value) {
  if (reading) emit('say', reading)
  else if (text.value.trim() === '') emit('close')
  else refused.value = true
}

// --- without a keyboard ----------------------------------------------------------------------------------------------

/** What most often comes next. */
const KINDS = [
  { name: 'R', title: 'Resistor', word: 'resistor', unit: '', usual: '1k' },
  { name: 'C', title: 'Capacitor', word: 'capacitor', unit: 'F', usual: '100nF' },
  { name: 'L', title: 'Coil', word: 'inductor', unit: 'H', usual: '10mH' },
  { name: 'opamp', title: 'Operational amplifier', word: 'opamp', unit: null, usual: 'opamp' },
  { name: 'source', title: 'Source', word: 'source', unit: null, usual: '1V step' },
  { name: 'gnd', title: 'Ground', word: 'gnd', unit: null, usual: 'gnd' },
  { name: 'out', title: 'Name the net out', word: 'out', unit: null, usual: 'out' },
] as const
const DECADES: Readonly<Record<string, readonly string[]>> = {
  '': ['', 'k', 'M'],
  F: ['p', 'n', 'u'],
  H: ['u', 'm', ''],
}
const kind = ref<(typeof KINDS)[number] | null>(null)
const mantissa = ref('1')
const decade = ref('')
const digits = seriesValues('E12').map((v) => Number((v < 10 ? v : v / 10).toPrecision(2)))
const TENS = [1, 10, 100]
const tens = ref(1)

function choose(next: (typeof KINDS)[number]) {
  kind.value = next.unit === null ? null : next
  if (next.unit === null) text.value = next.usual
  else {
    decade.value = { '': 'k', F: 'n', H: 'm' }[next.unit]
    tens.value = next.unit === 'F' ? 100 : next.unit === 'H' ? 10 : 1
    mantissa.value = '1'
    compose()
  }
  input.value?.focus()
}

function compose() {
  if (kind.value)
    text.value = `${Number((Number(mantissa.value) * tens.value).toPrecision(3))}${decade.value}${kind.value.unit || 'Ω'}`
  input.value?.focus()
}
</script>

<template>
  <div class="entry" @pointerdown.stop @wheel.stop>
    <div class="line">
      <input
        ref="input"
        v-model="text"
        aria-label="What comes here"
        aria-describedby="entry-readings"
        placeholder="4k7 · 100nF · opamp · out"
        spellcheck="false"
        autocomplete="off"
        :aria-invalid="refused"
        @keydown="key"
      />
      <span class="ways">
        <button
          v-for="[id, arrow, words] in WORDS"
          :key="id"
          type="button"
          tabindex="-1"
          :class="{ on: way === id }"
          :title="words"
          :aria-label="words"
          @click="(emit('way', id), input?.focus())"
        >
          {{ arrow }}
        </button>
      </span>
    </div>
    <ul v-if="readings.length" id="entry-readings" role="listbox" aria-label="Understood as">
      <li
        v-for="(r, k) in readings"
        :key="`${r.text} ${r.does}`"
        role="option"
        :aria-selected="k === at"
        :class="{ on: k === at }"
        @click="done(r)"
      >
        <span
          ><b>{{ r.text }}</b
          >, {{ r.does }}</span
        >
        <kbd v-if="k === at">Enter</kbd>
      </li>
    </ul>
    <p v-else-if="refused" class="problem" role="alert">
      “{{ text }}” says no part and no net. Say a value with its unit (4k7, 100nF, 10uH), a part (opamp, npn, diode), a
      source (1V step) or a name (out).
    </p>
    <div class="click">
      <div class="row">
        <button
          v-for="k in KINDS"
          :key="k.name"
          type="button"
          tabindex="-1"
          :class="{ on: kind === k }"
          :title="k.title"
          :aria-label="k.title"
          @click="choose(k)"
        >
          {{ k.name }}
        </button>
      </div>
      <template v-if="kind">
        <div class="row" role="group" aria-label="Preferred values">
          <button
            v-for="d in digits"
            :key="d"
            type="button"
            tabindex="-1"
            :class="{ on: mantissa === String(d) }"
            @click="((mantissa = String(d)), compose())"
          >
            {{ d }}
          </button>
        </div>
        <div class="row" role="group" aria-label="Decade">
          <button
            v-for="t in TENS"
            :key="t"
            type="button"
            tabindex="-1"
            :class="{ on: tens === t }"
            @click="((tens = t), compose())"
          >
            ×{{ t }}
          </button>
          <button
            v-for="d in DECADES[kind.unit ?? '']"
            :key="d"
            type="button"
            tabindex="-1"
            :class="{ on: decade === d }"
            @click="((decade = d), compose())"
          >
            {{ d.replace('u', 'µ') }}{{ kind.unit || 'Ω' }}
          </button>
          <button type="button" tabindex="-1" class="put" @click="done()">Put it there</button>
        </div>
      </template>
      <div v-else class="row hint">
        <span>Tab: next reading · arrows: which way</span>
        <button type="button" tabindex="-1" class="put" :disabled="!current" @click="done()">Put it there</button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.entry {
  position: absolute;
  z-index: 6;
  width: 340px;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--raised);
  box-shadow: 0 8px 26px rgb(0 0 0 / 14%);
  cursor: default;
}

.line {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--line);
}

input {
  flex: 1;
  min-width: 0;
  padding: 9px 12px;
  border: 0;
  border-radius: 10px 10px 0 0;
  outline: none;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 17px;
}

.ways {
  display: flex;
  gap: 2px;
  padding-right: 8px;
}

button {
  min-width: 26px;
  min-height: 26px;
  padding: 2px 6px;
  border: 1px solid transparent;
  border-radius: 6px;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  cursor: pointer;
}

button:hover,
button.on {
  border-color: var(--accent);
  color: var(--accent);
}

button:disabled {
  border-color: transparent;
  color: var(--ink-soft);
  opacity: 0.6;
  cursor: default;
}

ul {
  max-height: 170px;
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 6px 12px;
  color: var(--ink-soft);
  cursor: pointer;
}

li.on {
  background: var(--accent-soft);
  color: var(--ink);
}

li:hover {
  color: var(--ink);
}

kbd {
  color: var(--ink-soft);
  font: inherit;
  font-size: 13px;
}

.problem {
  padding: 8px 12px;
  margin: 0;
  color: var(--missed);
}

.click {
  padding: 6px 8px;
  border-top: 1px solid var(--line);
}

.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 1px;
}

.row button {
  padding: 1px 5px;
}

.hint {
  justify-content: space-between;
  padding-left: 4px;
  color: var(--ink-soft);
  font-size: 13px;
}

.put {
  margin-left: auto;
  color: var(--accent);
  font-weight: 650;
}
</style>
