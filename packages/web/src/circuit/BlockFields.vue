<script setup lang="ts">
import { type Circuit, type EditCall, type Part, scopeOf, type TypedValue, VoskelError } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import TypedField from './TypedField.vue'

/** A use of a block: what is inside, and its parameters at this place. */
const { part, circuit } = defineProps<{ part: Part; circuit: Circuit }>()
const emit = defineEmits<{ edit: [call: EditCall]; open: [block: string] }>()

const definition = computed(() => circuit.subcircuits?.[part.definition ?? ''] ?? null)
const places = computed(() => circuit.parts.filter((p) => p.definition === part.definition).length)
const parts = computed(() => definition.value?.parts.filter((p) => p.kind !== 'ground').length ?? 0)

const rows = computed(() =>
  Object.entries(definition.value?.parameters ?? {}).map(([name, own]) => ({
    name,
    own: `${own} inside`,
    value: part.values[name] ?? valueOf(part.formulas?.[name]),
    formula: part.formulas?.[name] ?? null,
  })),
)

function valueOf(formula: string | undefined): number | null {
  if (formula === undefined) return null
  try {
    return scopeOf(circuit).parameters.evaluate(formula)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

function set(parameter: string, typed: TypedValue | null) {
  const value = typed === null ? null : (typed.formula ?? typed.value)
  emit('edit', { edit: 'set-block-parameter', args: { part: part.id, parameter, value } })
}
</script>

<template>
  <section class="block">
    <p v-if="!definition" class="missing">The block “{{ part.definition }}” is not in this design.</p>
    <template v-else>
      <p class="soft">
        Block <b>{{ part.definition }}</b>: {{ parts }} {{ parts === 1 ? 'part' : 'parts' }}, in {{ places }}
        {{ places === 1 ? 'place' : 'places' }}
      </p>
      <ElButton class="open" size="small" @click="emit('open', part.definition!)">Open the block</ElButton>
      <TypedField
        v-for="r in rows"
        :key="r.name"
        :label="r.name"
        unit=""
        :value="r.value"
        :formula="r.formula"
        :circuit="circuit"
        :optional="r.own"
        @typed="(v) => set(r.name, v)"
      />
    </template>
  </section>
</template>

<style scoped>
.block {
  display: grid;
  gap: 6px;
}

p {
  margin: 0;
}

.soft {
  color: var(--ink-soft);
}

.missing {
  color: var(--missed);
}

.open {
  justify-self: start;
}
</style>
