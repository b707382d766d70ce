<script setup lang="ts">
import { type Circuit, NetMap, partKind, valueText } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { valuesIn } from '../circuit/scene'

/** A circuit without a drawing, part by part. */
const { circuit, canDraw } = defineProps<{ circuit: Circuit; canDraw: boolean }>()
const emit = defineEmits<{ draw: [] }>()

const rows = computed(() => {
  const map = NetMap.of(circuit)
  const valuesOf = valuesIn(circuit)
  return circuit.parts.map((part) => {
    const kind = partKind(part.kind)
    const field = kind.values.find((f) => f.id === kind.mainValue)
    const formula = field && part.formulas?.[field.id]
    const known = valuesOf(part)
    const shown = valueText(part, known) ?? ''
    return {
      id: part.id,
      kind: kind.name,
      nets: map.netsOf(part.id).join(' · '),
      value: part.model ?? (formula === undefined || !known ? shown : `${shown} = ${formula}`),
    }
  })
})
</script>

<template>
  <div class="undrawn">
    <p>
      This circuit came without a drawing. It is simulated all the same.
      <ElButton v-if="canDraw" type="primary" size="small" @click="emit('draw')">Draw it</ElButton>
    </p>
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
</template>

<style scoped>
.undrawn {
  flex: 1;
  min-height: 0;
  padding: 16px 24px;
  overflow: auto;
  color: var(--ink-soft);
}

table {
  border-collapse: collapse;
  color: var(--ink);
}

th,
td {
  padding: 4px 28px 4px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}

thead th {
  color: var(--ink-soft);
}

tbody th {
  font-weight: 650;
}

.number {
  padding-right: 0;
  text-align: right;
}
</style>
