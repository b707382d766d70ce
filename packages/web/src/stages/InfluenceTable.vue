<script setup lang="ts">
import { type Cursor, formatQuantity, type Verdict } from '@voskel/core'
import { computed, onScopeDispose, shallowRef, watch } from 'vue'
import { type PartEffectsAnswer, partEffectsTopic } from '../engine/jobs/partEffects'
import { lanes } from '../engine/lanes'
import { useInfluenceStore } from '../stores/followed'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'
import type { Computed } from './instrument/Over'

/** What one per cent more of each part does: to each requirement, at the cursors, and to every pair of poles. */
const { known, cursors } = defineProps<{ known: Computed; cursors: readonly Cursor[] }>()
const design = useDesignStore()
const results = useResultsStore()

const effects = shallowRef<PartEffectsAnswer | null>(null)
const margins = useInfluenceStore()
watch(
  [() => design.document, () => cursors],
  async ([document]) => {
    if (!document) return
    const places = cursors
      .filter((c) => c.over === 'frequency')
      .map(({ name, at, on }) => ({ name, signal: on ?? known.output, frequency: at }))
    const outcome = await lanes.trace.ask(partEffectsTopic, { ...document, places })
    if (document !== design.document) return
    if (outcome.kind === 'done') effects.value = outcome.answer
  },
  { immediate: true },
)
onScopeDispose(margins.look())

/** Parts that are told. */
const MOST = 4
/** Below this it is rounding. */
const NOTHING = 1e-9
function signed(value: number, unit: string): string {
  const told = Math.abs(value) < NOTHING ? 0 : value
  return `${told > 0 ? '+' : ''}${formatQuantity(told, unit, 3)}`
}
/** Of each requirement the parts that do most, and which one endangers it most. */
const lines = computed(() =>
  results.verdicts.flatMap((verdict: Verdict) => {
    const own = margins.answer?.[verdict.id]
    if (!own) return []
    const worst = own.find((i) => i.perPercent < 0)
    return [
      {
        name: verdict.name,
        parts: own.slice(0, MOST).map((i) => `${i.part} ${signed(i.perPercent, verdict.unit)}`),
        danger: worst ? `more of ${worst.part} endangers it most` : 'more of no part endangers it',
      },
    ]
  }),
)
</script>

<template>
  <section aria-label="What parts do">
    <h3>What one per cent more of a part does</h3>
    <p v-if="margins.failure" class="wrong" role="alert">{{ margins.failure }}</p>
    <p v-for="line in lines" :key="line.name">
      <b>{{ line.name }}</b> margin: {{ line.parts.join(' · ') }}; {{ line.danger }}.
    </p>
    <p v-for="place in effects?.places ?? []" :key="place.name">
      <b>At {{ place.name }}</b>
      {{
        place.effects
          .slice(0, MOST)
          .map((e) => `${e.part} ${signed(e.db, 'dB')}, ${signed(e.degrees, '°')}`)
          .join(' · ')
      }}
    </p>
    <p v-for="(pair, k) in effects?.pairs ?? []" :key="k">
      <b>Poles at {{ formatQuantity(pair.frequency, 'Hz') }}</b
      ><template v-if="pair.q !== 0.5">, Q {{ formatQuantity(pair.q) }}</template
      >:
      {{
        pair.parts
          .slice(0, 8)
          .map((p) => `${p.part} f ${signed(p.w0, '%')}${pair.q === 0.5 ? '' : `, Q ${signed(p.q, '%')}`}`)
          .join(' · ')
      }}
    </p>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
p {
  margin: 0 0 2px;
  font-variant-numeric: tabular-nums;
}
</style>
