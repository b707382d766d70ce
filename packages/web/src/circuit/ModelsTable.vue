<script setup lang="ts">
import {
  type Circuit,
  type EditCall,
  lacksOf,
  meaningOf,
  partKind,
  type Shelved,
  shelfOfCircuit,
  usesOf,
} from '@voskel/core'
import { computed, onMounted } from 'vue'

type Scope = 'project' | 'all'
type Elsewhere = Shelved & { readonly from: string; readonly kept?: { readonly id: string; readonly scope: Scope } }

/** The blocks and models of a circuit, for whom they are kept, and those that are kept or lie in other designs. */
const { circuit, elsewhere } = defineProps<{ circuit: Circuit; elsewhere: readonly Elsewhere[] }>()
const emit = defineEmits<{
  edit: [call: EditCall]
  open: [block: string]
  keep: [piece: Shelved, scope: Scope]
  forget: [id: string]
  use: [piece: Shelved]
  look: []
}>()

onMounted(() => emit('look'))

const SCOPES = [
  { id: 'project', name: 'this project' },
  { id: 'all', name: 'all projects' },
] as const

const isSame = (a: Shelved, b: Shelved) => a.kind === b.kind && a.name.toLowerCase() === b.name.toLowerCase()
const insides = computed(() => [circuit, ...Object.values(circuit.subcircuits ?? {})])

const own = computed(() =>
  shelfOfCircuit(circuit).map((piece) => {
    const kept = SCOPES.flatMap(({ id }) => {
      const found = elsewhere.find((e) => e.kept?.scope === id && isSame(e, piece))
      return found
        ? [{ scope: id, id: found.kept!.id, isAnew: JSON.stringify(found.piece) !== JSON.stringify(piece.piece) }]
        : []
    })
    return { piece, what: whatOf(piece), uses: countOf(piece), lacks: lacksIn(piece), kept }
  }),
)

function whatOf(piece: Shelved): string {
  if (piece.kind === 'model') return `model, ${partKind(piece.of).name.toLowerCase()}`
  const parts = circuit.subcircuits?.[piece.name]?.parts.filter((p) => p.kind !== 'ground').length ?? 0
  return `block of ${parts} ${parts === 1 ? 'part' : 'parts'}`
}

const countOf = (piece: Shelved): number =>
  insides.value.reduce(
    (sum, inside) =>
      sum +
      (piece.kind === 'block'
        ? (usesOf(inside).get(piece.name) ?? 0)
        : inside.parts.filter((p) => p.kind === piece.of && p.model?.toLowerCase() === piece.name.toLowerCase())
            .length),
    0,
  )

function lacksIn(piece: Shelved): string {
  if (piece.kind === 'model') return meaningOf(partKind(piece.of), circuit.models?.[piece.name]?.leftOut ?? [])
  const { elements, models } = lacksOf(circuit, piece.name)
  return [...elements, ...models].join(', ')
}

const rest = computed(() => elsewhere.filter((e) => !own.value.some(({ piece }) => isSame(piece, e))))

/** Kept anew where it has changed since, let go where it is kept as it is. */
function toggle(row: (typeof own.value)[number], scope: Scope) {
  const kept = row.kept.find((k) => k.scope === scope)
  if (kept && !kept.isAnew) emit('forget', kept.id)
  else emit('keep', row.piece, scope)
}

const wordOf = (row: (typeof own.value)[number], { id, name }: (typeof SCOPES)[number]) =>
  row.kept.find((k) => k.scope === id)?.isAnew ? `${name}, anew` : name
</script>

<template>
  <div class="models">
    <p v-if="own.length + rest.length === 0" class="soft">
      No blocks and no models yet. Choose parts and make them a block, or paste the text of a model or a subcircuit.
    </p>
    <table v-else aria-label="Models and blocks">
      <thead>
        <tr>
          <th scope="col">name</th>
          <th scope="col">what</th>
          <th scope="col">used</th>
          <th scope="col">kept for</th>
          <th scope="col"><span class="visually-hidden">what can be done</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in own" :key="`${row.piece.kind} ${row.piece.name}`">
          <th scope="row">{{ row.piece.name }}</th>
          <td>
            {{ row.what }}
            <span v-if="row.lacks" class="lacks" :title="row.lacks">read without {{ row.lacks }}</span>
          </td>
          <td>{{ row.uses === 0 ? 'nowhere' : row.uses === 1 ? 'once' : `${row.uses} times` }}</td>
          <td>
            <button
              v-for="s in SCOPES"
              :key="s.id"
              type="button"
              class="plain-button"
              :aria-pressed="row.kept.some((k) => k.scope === s.id && !k.isAnew)"
              :aria-label="`Keep ${row.piece.name} for ${s.name}`"
              @click="toggle(row, s.id)"
            >
              {{ wordOf(row, s) }}
            </button>
          </td>
          <td>
            <template v-if="row.piece.kind === 'block'">
              <button type="button" class="plain-button" @click="emit('open', row.piece.name)">Open</button>
              <button
                type="button"
                class="plain-button"
                :disabled="row.uses > 0"
                :title="row.uses > 0 ? 'It is used' : ''"
                @click="emit('edit', { edit: 'remove-block', args: { block: row.piece.name } })"
              >
                Remove
              </button>
            </template>
            <button
              v-else
              type="button"
              class="plain-button"
              :disabled="row.uses > 0"
              :title="row.uses > 0 ? 'It is used' : ''"
              @click="emit('edit', { edit: 'remove-model', args: { model: row.piece.name } })"
            >
              Remove
            </button>
          </td>
        </tr>
        <tr v-for="(e, k) in rest" :key="`elsewhere ${k}`" class="elsewhere">
          <th scope="row">{{ e.name }}</th>
          <td>{{ e.kind === 'model' ? `model, ${partKind(e.of).name.toLowerCase()}` : 'block' }}</td>
          <td>not here</td>
          <td>{{ e.from }}</td>
          <td>
            <button type="button" class="plain-button" @click="emit('use', e)">Bring in</button>
            <button v-if="e.kept" type="button" class="plain-button" @click="emit('forget', e.kept.id)">Let go</button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.models {
  padding: 4px 14px;
  overflow: auto;
}

table {
  width: 100%;
  border-collapse: collapse;
}

td,
th {
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: baseline;
}

td button {
  padding-inline: 4px;
  white-space: nowrap;
}

thead th,
.elsewhere td,
.soft {
  color: var(--ink-soft);
}

.lacks {
  color: var(--missed);
}

[aria-pressed='true'] {
  color: var(--accent);
  font-weight: 650;
}
</style>
