<script setup lang="ts">
import { type Circuit, type EditCall, scopeOf, type TypedValue, VoskelError } from '@voskel/core'
import { computed, ref } from 'vue'
import TypedField from './TypedField.vue'

/** The circuit's parameters: named values with unit and range, that values of parts may use. */
const { circuit, chosen } = defineProps<{ circuit: Circuit; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{ edit: [call: EditCall] }>()

const rows = computed(() =>
  Object.entries(circuit.parameters ?? {}).map(([name, given]) => ({
    name,
    value: valueOf(name),
    formula: typeof given === 'string' ? given : null,
    range: circuit.parameterRanges?.[name] ?? {},
  })),
)

function valueOf(name: string): number | null {
  try {
    return scopeOf(circuit).parameters.value(name)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

function set(name: string, typed: TypedValue | null) {
  if (!typed) return
  const range = circuit.parameterRanges?.[name] ?? {}
  emit('edit', { edit: 'set-parameter', args: { name, value: typed.formula ?? typed.value, ...range } })
}

function setRange(name: string, end: 'least' | 'most', typed: TypedValue | null) {
  const { [end]: _before, ...range } = circuit.parameterRanges?.[name] ?? {}
  const value = circuit.parameters![name]!
  emit('edit', { edit: 'set-parameter', args: { name, value, ...range, ...(typed && { [end]: typed.value }) } })
}

function setUnit(name: string, unit: string) {
  const range = circuit.parameterRanges?.[name] ?? {}
  const { unit: _before, ...rest } = range
  emit('edit', {
    edit: 'set-parameter',
    args: { name, value: circuit.parameters![name]!, ...rest, ...(unit.trim() && { unit: unit.trim() }) },
  })
}

function rename(from: string, event: Event) {
  const input = event.target as HTMLInputElement
  const to = input.value.trim()
  if (to !== '' && to !== from) emit('edit', { edit: 'rename-parameter', args: { from, to } })
  input.value = from
}

/** By what frequencies and impedances are multiplied, of what is chosen or of all. */
const factors = ref({ frequency: 1, impedance: 1 })

function scale() {
  const parts = chosen.size > 0 ? { parts: [...chosen] } : {}
  emit('edit', { edit: 'scale-circuit', args: { ...parts, ...factors.value } })
  factors.value = { frequency: 1, impedance: 1 }
}

const next = ref('')
function add() {
  const name = next.value.trim()
  if (name === '') return
  emit('edit', { edit: 'set-parameter', args: { name, value: 1 } })
  next.value = ''
}
</script>

<template>
  <div class="parameters">
    <table v-if="rows.length">
      <thead>
        <tr>
          <th scope="col">name</th>
          <th scope="col">value</th>
          <th scope="col">unit</th>
          <th scope="col">least</th>
          <th scope="col">most</th>
          <th scope="col"><span class="visually-hidden">remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.name">
          <th scope="row">
            <input
              class="text-field"
              :value="r.name"
              :aria-label="`Name of ${r.name}`"
              @change="rename(r.name, $event)"
            />
          </th>
          <td>
            <TypedField
              bare
              :label="`Value of ${r.name}`"
              :unit="r.range.unit ?? ''"
              :value="r.value"
              :formula="r.formula"
              :circuit="circuit"
              @typed="(v) => set(r.name, v)"
            />
          </td>
          <td>
            <input
              class="text-field unit"
              :value="r.range.unit ?? ''"
              :aria-label="`Unit of ${r.name}`"
              @change="setUnit(r.name, ($event.target as HTMLInputElement).value)"
            />
          </td>
          <td v-for="end in ['least', 'most'] as const" :key="end">
            <TypedField
              bare
              :label="`${end} of ${r.name}`"
              :unit="r.range.unit ?? ''"
              :value="r.range[end] ?? null"
              :circuit="circuit"
              optional="–"
              @typed="(v) => setRange(r.name, end, v)"
            />
          </td>
          <td>
            <button
              type="button"
              class="plain-button"
              :aria-label="`Remove ${r.name}`"
              @click="emit('edit', { edit: 'remove-parameter', args: { name: r.name } })"
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <form @submit.prevent="add">
      <input
        v-model="next"
        class="text-field"
        placeholder="name of a new parameter"
        aria-label="Name of a new parameter"
        spellcheck="false"
      />
      <button type="submit" class="plain-button" :disabled="next.trim() === ''">Add</button>
      <span class="soft">A value may then say <b>= tau/r</b>.</span>
    </form>
    <form @submit.prevent="scale">
      <TypedField
        label="Frequencies ×"
        unit=""
        :value="factors.frequency"
        :circuit="circuit"
        @typed="(v) => v && v.value > 0 && (factors = { ...factors, frequency: v.value })"
      />
      <TypedField
        label="Impedances ×"
        unit=""
        :value="factors.impedance"
        :circuit="circuit"
        @typed="(v) => v && v.value > 0 && (factors = { ...factors, impedance: v.value })"
      />
      <button type="submit" class="plain-button" :disabled="factors.frequency === 1 && factors.impedance === 1">
        Scale {{ chosen.size > 0 ? (chosen.size === 1 ? 'the chosen part' : `${chosen.size} parts`) : 'the circuit' }}
      </button>
    </form>
  </div>
</template>

<style scoped>
.parameters {
  padding: 6px 14px;
  overflow: auto;
}

th {
  color: var(--ink-soft);
  font-weight: 400;
  text-align: left;
}

td,
tbody th {
  padding: 1px 10px 1px 0;
  vertical-align: top;
}

input {
  width: 110px;
}

.unit {
  width: 56px;
}

form {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
}

form input {
  width: 190px;
}
</style>
