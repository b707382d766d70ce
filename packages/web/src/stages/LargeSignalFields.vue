<script setup lang="ts">
import { formatQuantity, logarithmicGrid } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, onMounted, ref } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useLargeSignalStore } from '../stores/largeSignal'
import type { Computed } from './instrument/Over'
import { partings, partingText } from './instrument/largeSignal'

/** The response to a sine of real size, laid over the small-signal curve: how large, at which frequencies, and where the two part. */
const { known } = defineProps<{ known: Computed }>()
const emit = defineEmits<{ close: [] }>()
const large = useLargeSignalStore()

const source = computed(() =>
  known.circuit?.circuit?.parts.find((p) => p.id.toUpperCase() === known.time?.source.toUpperCase()),
)
const unit = computed(() => (source.value?.kind === 'current-source' ? 'A' : 'V'))
/** What the source gives over time, if that is a sine. */
function usual(): number {
  const { waveform } = source.value ?? {}
  return waveform?.kind === 'sine' && waveform.amplitude > 0 ? waveform.amplitude : 1
}
const amplitude = ref<number | null>(large.asked?.amplitude ?? usual())
const from = ref<number | null>(Number(known.range.from.toPrecision(3)))
const to = ref<number | null>(Number(known.range.to.toPrecision(3)))
const each = ref(5)
const problem = ref('')

/** Points of a run: each takes many periods. */
const MOST_POINTS = 400

function run() {
  const [a, f0, f1] = [amplitude.value ?? 0, from.value ?? 0, to.value ?? 0]
  problem.value = ''
  if (!(a > 0)) problem.value = 'An amplitude is above 0.'
  else if (!(f0 > 0)) problem.value = 'It begins above 0 Hz.'
  else if (!(f1 > f0)) problem.value = 'It must end above where it begins.'
  if (problem.value) return
  const frequencies = [...logarithmicGrid(f0, f1, each.value)]
  if (frequencies.length > MOST_POINTS) {
    problem.value = `That is ${frequencies.length} points; at most ${MOST_POINTS} are run. Take a narrower range or fewer a decade.`
    return
  }
  void large.run({ amplitude: a, frequencies })
}
onMounted(() => {
  if (large.points.length === 0 && !large.isRunning) run()
})

const own = computed(() => known.frequency?.curves.find((c) => c.signal === known.output))
const said = computed(() => {
  if (!known.largeSignal || !own.value || large.isRunning) return []
  const found = partings(known.largeSignal, own.value).map(partingText)
  return found.length > 0 ? found : ['Nowhere do gain and phase part by more than 1 dB or 5°.']
})
const worst = computed(() =>
  large.points.length === 0 ? null : large.points.reduce((a, b) => (b.distortionPercent > a.distortionPercent ? b : a)),
)
const worstText = computed(() => {
  if (!worst.value) return ''
  const { distortionPercent, frequency } = worst.value
  const said = [
    `Distortion at most ${formatQuantity(distortionPercent, '%', 3)}, at ${formatQuantity(frequency, 'Hz')}.`,
  ]
  if (unsettled.value) said.push(`${unsettled.value} points had not come to rest.`)
  if (large.isStale) said.push('The circuit has been changed since: run it anew.')
  return said.join(' ')
})
const unsettled = computed(() => large.points.filter((p) => !p.settled).length)
</script>

<template>
  <form class="large" aria-label="Large signal" @submit.prevent="run" @keydown.escape.stop="emit('close')">
    <QuantityField v-model="amplitude" label="Sine of" :unit="unit" />
    <QuantityField v-model="from" label="from" unit="Hz" />
    <QuantityField v-model="to" label="to" unit="Hz" />
    <label
      >points a decade
      <select v-model="each" class="text-field" aria-label="Points a decade">
        <option v-for="n in [2, 5, 10, 20]" :key="n" :value="n">{{ n }}</option>
      </select></label
    >
    <ElButton native-type="submit" size="small" type="primary">Run</ElButton>
    <ElButton v-if="large.isRunning" size="small" @click="large.stop()">Stop</ElButton>
    <ElButton v-else-if="large.points.length" size="small" @click="(large.clear(), emit('close'))">Take away</ElButton>
    <ElButton size="small" @click="emit('close')">Close</ElButton>
    <p v-if="large.isRunning" class="soft" role="status">
      <progress :value="large.points.length" :max="large.asked?.frequencies.length ?? 1" aria-label="Large signal" />
      {{ large.points.length }} of {{ large.asked?.frequencies.length }} points
    </p>
    <p v-if="problem || large.failure" class="wrong" role="alert">{{ problem || large.failure }}</p>
    <p v-for="text in said" :key="text" class="soft">{{ text }}</p>
    <p v-if="worst && !large.isRunning" class="soft">
      {{ worstText }}
    </p>
    <details v-if="large.points.length">
      <summary>all points</summary>
      <table aria-label="Large-signal points">
        <thead>
          <tr>
            <th scope="col" class="number">frequency</th>
            <th scope="col" class="number">gain</th>
            <th scope="col" class="number">phase</th>
            <th scope="col" class="number">distortion</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in large.points" :key="p.frequency">
            <td class="number">{{ formatQuantity(p.frequency, 'Hz') }}</td>
            <td class="number">{{ formatQuantity(20 * Math.log10(p.gain), 'dB') }}</td>
            <td class="number">{{ formatQuantity(p.phase, '°') }}</td>
            <td class="number">{{ formatQuantity(p.distortionPercent, '%', 3) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </form>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
.large {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
  max-height: 40%;
  padding: 4px 8px;
  overflow: auto;
  border-bottom: 1px solid var(--line);
}

.large :deep(.quantity) {
  grid-template-columns: auto 100px;
}

select {
  width: auto;
}

p,
details {
  flex-basis: 100%;
  white-space: normal;
}

table {
  width: auto;
}
</style>
