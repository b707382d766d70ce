<script setup lang="ts">
import { type Completion, parseSignal, signalCompletions, type SignalNames, VoskelError } from '@voskel/core'
import { computed, nextTick, onMounted, ref, shallowRef, useId } from 'vue'
import { lanes } from '../engine/lanes'
import { signalTopic } from '../engine/jobs/signal'
import { useDesignStore } from '../stores/design'

/**
 * A curve by its expression: what may follow is offered while it is typed, its unit or what is wrong stands below. It is taken
 * with Enter, once the circuit has it.
 */
const {
  over,
  names,
  value = '',
} = defineProps<{
  over: 'frequency' | 'time'
  names: SignalNames
  /** What is being changed. */
  value?: string
}>()
const emit = defineEmits<{ take: [signal: string, unit: string, atRight: boolean]; close: [] }>()

const design = useDesignStore()
const id = useId()
const field = ref<HTMLInputElement | null>(null)
const text = ref(value)
const caret = ref(value.length)
const chosen = ref(-1)
const isOpen = ref(true)

/** Longest list of what may follow. */
const MOST = 12
const offers = computed(() => (isOpen.value ? signalCompletions(text.value, caret.value, names).slice(0, MOST) : []))

/** What is understood of what stands there, or what is wrong with it and from which character on. */
const said = shallowRef<{ text: string; unit?: string; isWrong?: boolean; at?: number } | null>(null)
let asked = 0

async function understand(): Promise<{ signal: string; unit: string } | null> {
  const mine = ++asked
  const signal = text.value.trim()
  if (signal === '') {
    said.value = null
    return null
  }
  try {
    parseSignal(signal)
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    const { at } = error.facts as { at?: number }
    said.value = { text: `${error.message} ${error.remedy}`, isWrong: true, ...(at !== undefined && { at }) }
    return null
  }
  const document = design.document
  if (!document) return null
  const outcome = await lanes.trace.ask(signalTopic, { ...document, signal, over })
  if (mine !== asked) return null
  if (outcome.kind === 'failed') {
    said.value = { text: `${outcome.failure.message} ${outcome.failure.remedy}`, isWrong: true }
    return null
  }
  if (outcome.kind !== 'done') return null
  const unit = outcome.answer?.unit ?? ''
  said.value = { text: unit === '' ? 'a plain number' : `in ${unit}`, unit }
  return { signal, unit }
}

function typed(event: Event) {
  const input = event.target as HTMLInputElement
  text.value = input.value
  caret.value = input.selectionStart ?? input.value.length
  chosen.value = -1
  isOpen.value = true
  void understand()
}

async function put(offer: Completion) {
  text.value = offer.text
  caret.value = offer.caret
  chosen.value = -1
  void understand()
  await nextTick()
  field.value?.focus()
  field.value?.setSelectionRange(offer.caret, offer.caret)
}

async function take(atRight: boolean) {
  const found = await understand()
  if (found) emit('take', found.signal, found.unit, atRight)
}

function key(event: KeyboardEvent) {
  const { length } = offers.value
  if (event.key === 'ArrowDown' && length > 0) chosen.value = (chosen.value + 1) % length
  else if (event.key === 'ArrowUp' && length > 0) chosen.value = ((chosen.value + length) % (length + 1)) - 1
  else if ((event.key === 'Enter' || event.key === 'Tab') && chosen.value >= 0) void put(offers.value[chosen.value]!)
  else if (event.key === 'Enter') void take(false)
  else if (event.key === 'Escape') {
    if (chosen.value >= 0) chosen.value = -1
    else emit('close')
  } else return
  event.preventDefault()
  event.stopPropagation()
}

onMounted(async () => {
  await nextTick()
  field.value?.focus()
  void understand()
})
</script>

<template>
  <form class="entry" aria-label="Curve" @submit.prevent="take(false)">
    <div class="line">
      <input
        ref="field"
        class="text-field"
        :value="text"
        role="combobox"
        aria-autocomplete="list"
        :aria-expanded="offers.length > 0"
        :aria-controls="`${id}-list`"
        :aria-activedescendant="chosen >= 0 ? `${id}-${chosen}` : undefined"
        :aria-invalid="said?.isWrong ? 'true' : 'false'"
        :aria-describedby="`${id}-said`"
        aria-label="Expression of the curve"
        placeholder="V(out), I(R1), Z(V1), db(V(a)/V(b)) …"
        spellcheck="false"
        autocomplete="off"
        @input="typed"
        @keydown="key"
        @click="caret = field?.selectionStart ?? text.length"
      />
      <button type="submit" class="plain-button">{{ value ? 'change' : 'draw' }}</button>
      <button v-if="!value" type="button" class="plain-button" @click="take(true)">draw at the right</button>
      <button type="button" class="plain-button" aria-label="Close the curve’s field" @click="emit('close')">×</button>
    </div>
    <p :id="`${id}-said`" class="said" :class="{ wrong: said?.isWrong }" :role="said?.isWrong ? 'alert' : 'status'">
      <template v-if="said?.at !== undefined"
        ><code
          >{{ text.slice(0, said.at) }}<mark>{{ text.slice(said.at) || '…' }}</mark></code
        >
        ·
      </template>
      {{ said?.text ?? 'A net stands inside V(…), a bare name is a parameter.' }}
    </p>
    <ul v-if="offers.length" :id="`${id}-list`" class="offers" role="listbox" aria-label="What may follow">
      <li
        v-for="(offer, k) in offers"
        :id="`${id}-${k}`"
        :key="offer.shown"
        role="option"
        :aria-selected="k === chosen"
        @mousedown.prevent="put(offer)"
      >
        <code>{{ offer.shown }}</code> <span>{{ offer.says }}</span>
      </li>
    </ul>
  </form>
</template>

<style scoped>
.entry {
  position: relative;
  padding: 2px 8px 4px;
}

.line {
  display: flex;
  gap: 8px;
}

.line input {
  flex: 0 1 420px;
  font-family: var(--mono, monospace);
}

.said {
  margin: 2px 0 0;
  color: var(--ink-soft);
  font-size: 13px;
}

.wrong {
  color: var(--missed);
}

mark {
  background: none;
  color: inherit;
  text-decoration: underline wavy;
}

.offers {
  position: absolute;
  z-index: 5;
  top: 100%;
  left: 8px;
  max-height: 190px;
  margin: 0;
  padding: 4px 0;
  overflow: auto;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--raised);
  list-style: none;
}

.offers li {
  display: flex;
  gap: 12px;
  padding: 1px 10px;
  cursor: pointer;
}

.offers li span {
  color: var(--ink-soft);
}

.offers [aria-selected='true'],
.offers li:hover {
  background: var(--hover, var(--mask));
}
</style>
