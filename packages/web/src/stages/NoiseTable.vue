<script setup lang="ts">
import { formatQuantity } from '@voskel/core'
import { computed, ref } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import type { Computed } from './instrument/Over'
import type { ReadValue } from './PromiseFields.vue'

/** The noise of what is drawn: how much there is in view, from which parts, and how far a level stands above it. */
const { known } = defineProps<{ known: Computed }>()
const emit = defineEmits<{ promise: [asked: ReadValue] }>()

/** Effective, V. */
const level = ref<number | null>(1)
const MOST = 6
const rows = computed(() =>
  (known.noise ?? []).map(({ signal, curves }) => {
    const [from, to] = [curves.frequency[0]!, curves.frequency.at(-1)!]
    const sum = curves.parts.reduce((all, p) => all + p.power, 0)
    const parts = curves.parts
      .slice(0, MOST)
      .filter((p) => p.power > 0)
      .map((p) => `${p.name} ${formatQuantity((100 * p.power) / sum, '%', 3)}`)
    return { signal, from, to, total: curves.total, parts }
  }),
)
const over = (total: number) => 20 * Math.log10((level.value ?? 1) / total)

function promise({ signal, from, to, total }: (typeof rows.value)[number]) {
  emit('promise', { id: `noise of ${signal}`, of: { noise: signal, from, to }, value: total, unit: 'V' })
}
function promiseOver({ signal, from, to, total }: (typeof rows.value)[number]) {
  const of = { noise: signal, from, to, level: level.value ?? 1 }
  emit('promise', { id: `signal over noise of ${signal}`, of, value: over(total), unit: 'dB' })
}
</script>

<template>
  <section aria-label="Noise">
    <h3>Noise</h3>
    <QuantityField v-model="level" label="Level, effective" unit="V" />
    <div v-for="row in rows" :key="row.signal">
      <p>
        <b>{{ row.signal }}</b> {{ formatQuantity(row.total, 'V') }} effective from
        {{ formatQuantity(row.from, 'Hz') }} to {{ formatQuantity(row.to, 'Hz') }}
        <button
          type="button"
          class="plain-button"
          :aria-label="`Promise the noise of ${row.signal}`"
          @click="promise(row)"
        >
          promise
        </button>
      </p>
      <p>of it {{ row.parts.join(' · ') }}</p>
      <p v-if="(level ?? 0) > 0">
        the level stands {{ formatQuantity(over(row.total), 'dB') }} above it
        <button
          type="button"
          class="plain-button"
          :aria-label="`Promise the signal over the noise of ${row.signal}`"
          @click="promiseOver(row)"
        >
          promise
        </button>
      </p>
    </div>
  </section>
</template>

<style scoped src="./reading.css"></style>
