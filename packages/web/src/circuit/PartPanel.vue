<script setup lang="ts">
import {
  AMPLITUDES,
  type Circuit,
  type EditCall,
  NetMap,
  type Part,
  partKind,
  partShape,
  shortedPins,
  type TypedValue,
  type Waveform,
} from '@voskel/core'
import { computed, ref } from 'vue'
import HandField from './HandField.vue'
import { valuesIn } from './scene'
import BlockFields from './BlockFields.vue'
import BlockMatch from './BlockMatch.vue'
import TypedField from './TypedField.vue'
import WaveformFields from './WaveformFields.vue'

/** Everything that a part says: its values, its waveform, tolerance and rating, its real part. */
const {
  part,
  circuit,
  shelf = [],
  matches = {},
  sees = null,
  does = '',
} = defineProps<{
  part: Part
  circuit: Circuit
  /** Models of its kind in other designs. */
  shelf?: readonly { readonly name: string; readonly from: string }[]
  /** How pins of blocks were matched before. */
  matches?: Readonly<Record<string, Readonly<Record<string, string>>>>
  /** What it sees of the circuit, in words. */
  sees?: string | null
  /** What it does in its section, in words. */
  does?: string
}>()
const emit = defineEmits<{
  edit: [call: EditCall]
  turn: [part: string, field: string, value: number, group: string]
  close: []
  open: [block: string]
  /** Models of other designs are asked for, and one of them is taken. */
  look: []
  shelf: [index: number]
  /** How the pins of a block were matched with those of a kind of part. */
  match: [key: string, over: Record<string, string>]
}>()

const kind = computed(() => partKind(part.kind))
/** Turned or thrown, not typed. */
const hand = computed(() => kind.value.hand ?? null)
const values = computed(() => valuesIn(circuit)(part))
const own = computed(() => kind.value.values.filter((f) => !f.ofModel && f.id !== hand.value?.field))
const real = computed(() => kind.value.values.filter((f) => f.ofModel))
const models = computed(() =>
  Object.entries(circuit.models ?? {}).flatMap(([name, m]) => (m.kind === part.kind ? [name] : [])),
)
const nets = computed(() => {
  const map = NetMap.of(circuit)
  return partShape(part).pins.map((pin, k) => ({
    pin: part.pins?.[k] ?? pin,
    net: map.netOf(part.id, pin) ?? 'open',
  }))
})
const unit = computed(() => (part.kind === 'current-source' ? 'A' : 'V'))
const hasReal = ref(false)
const main = computed(() => kind.value.values.find((f) => f.id === kind.value.mainValue) ?? null)
const parameter = ref('')

function set(field: string, typed: TypedValue | null) {
  if (!typed) return
  emit(
    'edit',
    typed.formula === undefined
      ? { edit: 'set-value', args: { part: part.id, field, value: typed.value } }
      : { edit: 'set-formula', args: { part: part.id, field, formula: typed.formula } },
  )
}

/** Marks a model of another design among the choices. */
const SHELF = 'shelf:'

function takeModel(choice: string) {
  if (choice.startsWith(SHELF)) emit('shelf', Number(choice.slice(SHELF.length)))
  else say({ model: choice || null })
}

type Say = Extract<EditCall, { edit: 'set-properties' }>['args']['say']
const say = (what: Say) => emit('edit', { edit: 'set-properties', args: { parts: [part.id], say: what } })

function rename(event: Event) {
  const input = event.target as HTMLInputElement
  const to = input.value.trim()
  if (to !== '' && to !== part.id) emit('edit', { edit: 'rename-part', args: { part: part.id, to } })
  input.value = part.id
}

function setTolerance(typed: TypedValue | null) {
  say({ tolerance: typed ? typed.value / 100 : null })
}

const RATINGS = [
  { id: 'voltage', name: 'Most voltage', unit: 'V' },
  { id: 'current', name: 'Most current', unit: 'A' },
  { id: 'power', name: 'Most power', unit: 'W' },
] as const

function setRating(id: (typeof RATINGS)[number]['id'], typed: TypedValue | null) {
  const { [id]: _before, ...rest } = part.rating ?? {}
  const next = typed ? { ...rest, [id]: typed.value } : rest
  say({ rating: Object.keys(next).length > 0 ? next : null })
}

function makeParameter() {
  if (!main.value || parameter.value.trim() === '') return
  emit('edit', {
    edit: 'make-parameter',
    args: { part: part.id, field: main.value.id, name: parameter.value.trim() },
  })
  parameter.value = ''
}

/** Volts at the start, at a capacitor: across it, from its second net. */
const start = computed(() => {
  if (part.kind !== 'capacitor') return null
  const [a, b] = nets.value.map((n) => n.net)
  const initial = circuit.initial ?? {}
  const [va, vb] = [initial[a!], b === '0' ? 0 : (initial[b!] ?? 0)]
  return { a: a!, b: b!, value: va === undefined ? null : va - vb }
})

function setStart(typed: TypedValue | null) {
  const at = start.value
  if (!at || at.a === 'open') return
  const base = at.b === '0' ? 0 : (circuit.initial?.[at.b] ?? 0)
  emit('edit', { edit: 'set-initial', args: { net: at.a, voltage: typed && typed.value + base } })
}
</script>

<template>
  <aside class="panel" :aria-label="`${part.id} in detail`" @keydown.stop @pointerdown.stop @wheel.stop>
    <header>
      <input :value="part.id" aria-label="Name of the part" @change="rename" @keydown.enter="rename" />
      <span class="soft">{{ kind.name.toLowerCase() }}</span>
      <button type="button" class="plain-button" aria-label="Close the details" @click="emit('close')">×</button>
    </header>
    <HandField
      v-if="hand"
      :part="part"
      :value="values?.[hand.field]?.value ?? null"
      @turn="(...what) => emit('turn', ...what)"
    />
    <BlockFields
      v-if="part.kind === 'subcircuit'"
      :part="part"
      :circuit="circuit"
      @edit="(call) => emit('edit', call)"
      @open="(block) => emit('open', block)"
    />
    <section>
      <TypedField
        v-for="f in own"
        :key="f.id"
        :label="f.name"
        :unit="f.unit"
        :value="values?.[f.id]?.value ?? null"
        :formula="part.formulas?.[f.id] ?? null"
        :circuit="circuit"
        @typed="(v) => set(f.id, v)"
      />
      <label v-if="kind.takesWaveform" class="choice"
        >The AC magnitude is
        <select
          class="text-field"
          :value="part.acAs ?? 'effective'"
          @change="say({ acAs: ($event.target as HTMLSelectElement).value as (typeof AMPLITUDES)[number] })"
        >
          <option v-for="a in AMPLITUDES" :key="a">{{ a }}</option>
        </select>
      </label>
      <TypedField
        v-if="start"
        label="Voltage at the start"
        unit="V"
        :value="start.value"
        :circuit="circuit"
        optional="as it rests"
        @typed="setStart"
      />
    </section>
    <section v-if="kind.takesWaveform">
      <WaveformFields
        :waveform="part.waveform ?? null"
        :unit="unit"
        :circuit="circuit"
        @change="(w: Waveform | null) => say({ waveform: w })"
      />
    </section>
    <section v-if="kind.modelType || models.length">
      <label class="choice"
        >Model
        <select
          class="text-field"
          :value="part.model ?? ''"
          @focus="emit('look')"
          @change="takeModel(($event.target as HTMLSelectElement).value)"
        >
          <option value="">of its own</option>
          <option v-for="m in models" :key="m">{{ m }}</option>
          <optgroup v-if="shelf.length" label="kept, and of other designs">
            <option v-for="(m, k) in shelf" :key="`${m.name} ${m.from}`" :value="`${SHELF}${k}`">
              {{ m.name }}, from {{ m.from }}
            </option>
          </optgroup>
        </select>
      </label>
    </section>
    <BlockMatch
      :part="part"
      :circuit="circuit"
      :matches="matches"
      @edit="(call) => emit('edit', call)"
      @match="(key, over) => emit('match', key, over)"
    />
    <section v-if="kind.sensitive">
      <TypedField
        label="Tolerance, ±"
        unit="%"
        :value="part.tolerance === undefined ? null : part.tolerance * 100"
        :circuit="circuit"
        optional="none said"
        @typed="setTolerance"
      />
      <TypedField
        v-for="r in RATINGS"
        :key="r.id"
        :label="r.name"
        :unit="r.unit"
        :value="part.rating?.[r.id] ?? null"
        :circuit="circuit"
        optional="no limit"
        @typed="(v) => setRating(r.id, v)"
      />
    </section>
    <section v-if="real.length">
      <button type="button" class="plain-button fold" :aria-expanded="hasReal" @click="hasReal = !hasReal">
        {{ hasReal ? '▾' : '▸' }} {{ kind.modelType ? 'Device values' : 'Real part' }}
      </button>
      <template v-if="hasReal">
        <TypedField
          v-for="f in real"
          :key="f.id"
          :label="f.name"
          :unit="f.unit"
          :value="values?.[f.id]?.value ?? null"
          :formula="part.formulas?.[f.id] ?? null"
          :circuit="circuit"
          @typed="(v) => set(f.id, v)"
        />
      </template>
    </section>
    <section v-if="main">
      <form class="parameter" @submit.prevent="makeParameter">
        <input
          v-model="parameter"
          class="text-field"
          aria-label="Name of the parameter"
          placeholder="a name"
          spellcheck="false"
        />
        <button type="submit" class="plain-button" :disabled="parameter.trim() === ''">Make it a parameter</button>
      </form>
    </section>
    <section class="acts">
      <button type="button" @click="emit('edit', { edit: 'turn-parts', args: { parts: [part.id], turn: 90 } })">
        Turn
      </button>
      <button type="button" @click="emit('edit', { edit: 'turn-parts', args: { parts: [part.id], turn: 'mirror' } })">
        Mirror
      </button>
      <template v-if="part.aside">
        <button type="button" @click="emit('edit', { edit: 'set-aside', args: { parts: [part.id], as: null } })">
          Put back
        </button>
      </template>
      <template v-else>
        <button type="button" @click="emit('edit', { edit: 'set-aside', args: { parts: [part.id], as: 'open' } })">
          Aside, open
        </button>
        <button
          v-if="shortedPins(kind)"
          type="button"
          @click="emit('edit', { edit: 'set-aside', args: { parts: [part.id], as: 'short' } })"
        >
          Aside, short
        </button>
      </template>
    </section>
    <p class="nets">
      <span v-for="n in nets" :key="n.pin">{{ n.pin }}: {{ n.net }}</span>
    </p>
    <p v-if="does" class="soft" aria-label="What it does">{{ does }}</p>
    <p v-if="sees" class="soft" aria-label="What it sees">{{ sees }}</p>
  </aside>
</template>

<style scoped>
.panel {
  position: absolute;
  top: 0;
  right: 0;
  z-index: 3;
  width: 276px;
  max-height: 100%;
  padding: 8px 12px 10px;
  overflow: auto;
  border-left: 1px solid var(--line);
  border-bottom: 1px solid var(--line);
  border-radius: 0 0 0 10px;
  background: var(--raised);
  cursor: default;
  user-select: text;
}

header {
  display: flex;
  align-items: baseline;
  gap: 8px;
}

header input {
  width: 84px;
  padding: 1px 5px;
  border: 1px solid transparent;
  border-radius: 5px;
  margin-left: -6px;
  background: none;
  color: var(--ink);
  font: inherit;
  font-weight: 700;
}

header input:hover,
header input:focus {
  border-color: var(--line-strong);
}

header .soft {
  flex: 1;
}

section {
  display: grid;
  gap: 4px;
  padding: 6px 0;
  border-top: 1px solid var(--line);
}

.choice {
  display: grid;
  grid-template-columns: 1fr 118px;
  gap: 8px;
  align-items: center;
  color: var(--ink-soft);
}

.fold {
  justify-self: start;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.acts button {
  padding: 2px 8px;
  border: 1px solid var(--line-strong);
  border-radius: 5px;
  background: none;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}

.parameter {
  display: flex;
  align-items: center;
  gap: 6px;
}

.nets {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  margin: 0;
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
