<script setup lang="ts">
import { type Circuit, formatQuantity, type OperatingReport, partKind, signalText } from '@voskel/core'
import { computed, ref } from 'vue'
import { stateWords } from './operatingLayer'

/** The operating point as a table, one row a part; devices with what they do. */
const { circuit, report, failure } = defineProps<{
  circuit: Circuit
  report: OperatingReport | null
  failure: string | null
}>()
const emit = defineEmits<{ choose: [part: string]; promise: [signal: string, value: number, unit: string] }>()

const onlyDevices = ref(false)
const order = ref<{ by: string; down: boolean }>({ by: 'part', down: false })
const SMALL = [
  ['gm', 'S'],
  ['gds', 'S'],
  ['gmb', 'S'],
  ['gpi', 'S'],
  ['go', 'S'],
  ['gd', 'S'],
] as const

interface Row {
  readonly part: string
  readonly kind: string
  readonly region: string
  readonly doubt: string | null
  readonly figures: Readonly<Record<string, number | null>>
}

const rows = computed((): Row[] => {
  if (!report) return []
  return circuit.parts.flatMap((part): Row[] => {
    const device = report.devices[part.id]
    const current = report.currents[part.id]
    if (part.kind === 'ground' || (current === undefined && !device) || (onlyDevices.value && !device)) return []
    const small = SMALL.map(([id]) => [id, typeof device?.[id] === 'number' ? device[id] : null] as const)
    return [
      {
        part: part.id,
        kind: partKind(part.kind).name.toLowerCase(),
        region: device ? stateWords(device) : '',
        doubt: typeof device?.doubt === 'string' ? device.doubt : null,
        figures: { current: current ?? null, power: report.powers[part.id] ?? null, ...Object.fromEntries(small) },
      },
    ]
  })
})
/** Columns that say something of any row. */
const columns = computed(() =>
  ([['current', 'A'], ['power', 'W'], ...SMALL] as (readonly [string, string])[]).filter(([id]) =>
    rows.value.some((r) => r.figures[id] !== null),
  ),
)
const sorted = computed(() => {
  const { by, down } = order.value
  const { compare } = new Intl.Collator('en', { numeric: true })
  const list = rows.value.toSorted((a, b) => {
    if (by === 'part' || by === 'kind' || by === 'region') return compare(a[by], b[by])
    return (a.figures[by] ?? -Infinity) - (b.figures[by] ?? -Infinity)
  })
  return down ? list.reverse() : list
})
/** Nets by their voltages; those with a name of their own first. */
const nets = computed(() => {
  const { compare } = new Intl.Collator('en', { numeric: true })
  const isNamed = (net: string) => circuit.labels.some((l) => l.name === net)
  return Object.entries(report?.nodes ?? {})
    .map(([net, voltage]) => ({ net, voltage }))
    .sort((a, b) => Number(isNamed(b.net)) - Number(isNamed(a.net)) || compare(a.net, b.net))
})
/** A net's voltage as it is asked for. */
const voltageOf = (net: string) => signalText({ op: 'v', of: [net] })
const sort = (by: string) => (order.value = { by, down: order.value.by === by && !order.value.down })
const mark = (by: string) => (order.value.by === by ? (order.value.down ? ' ↓' : ' ↑') : '')
</script>

<template>
  <div class="rest">
    <p v-if="failure" class="soft" role="alert">{{ failure }}</p>
    <p v-else-if="!report" class="soft" role="status">Working out what it does at rest …</p>
    <template v-else>
      <label class="soft"><input v-model="onlyDevices" type="checkbox" /> devices only</label>
      <table>
        <thead>
          <tr>
            <th v-for="c in ['part', 'kind', 'region']" :key="c" scope="col">
              <button type="button" @click="sort(c)">{{ c }}{{ mark(c) }}</button>
            </th>
            <th v-for="[id] in columns" :key="id" scope="col" class="number">
              <button type="button" @click="sort(id)">{{ id }}{{ mark(id) }}</button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in sorted" :key="r.part" @click="emit('choose', r.part)">
            <th scope="row">{{ r.part }}</th>
            <td>{{ r.kind }}</td>
            <td :title="r.doubt ?? undefined">{{ r.region }}{{ r.doubt ? ' (?)' : '' }}</td>
            <td v-for="[id, unit] in columns" :key="id" class="number">
              {{ r.figures[id] === null ? '' : formatQuantity(r.figures[id]!, unit) }}
              <button
                v-if="(id === 'current' || id === 'power') && r.figures[id] !== null"
                type="button"
                class="plain-button small"
                :aria-label="`Promise the ${id} of ${r.part}`"
                @click.stop="emit('promise', `${id === 'current' ? 'i' : 'p'}(${r.part})`, r.figures[id]!, unit)"
              >
                promise
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <ul v-if="!onlyDevices" aria-label="Nets at rest">
        <li v-for="n in nets" :key="n.net">
          <b>{{ n.net }}</b> {{ formatQuantity(n.voltage, 'V') }}
          <button
            type="button"
            class="plain-button small"
            :aria-label="`Promise the voltage of ${n.net}`"
            @click="emit('promise', voltageOf(n.net), n.voltage, 'V')"
          >
            promise
          </button>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.rest {
  padding: 4px 14px;
  overflow: auto;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  cursor: pointer;
}

td,
th {
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--line);
  font-variant-numeric: tabular-nums;
  text-align: left;
  white-space: nowrap;
}

.number {
  text-align: right;
}

ul {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
  font-variant-numeric: tabular-nums;
}

tbody tr {
  cursor: pointer;
}

.small {
  padding: 0 4px;
  font-size: 13px;
}
</style>
