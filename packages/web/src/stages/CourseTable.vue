<script setup lang="ts">
import { courseMeasures, formatQuantity, lagBetween } from '@voskel/core'
import { computed } from 'vue'
import { lagText } from '../diagram/values'
import type { Computed } from './instrument/Over'
import type { ReadValue } from './PromiseFields.vue'
import { HARMONICS, spectraOf } from './instrument/timeViews'

/** What is read off the courses in view: swing, mean, rms, period, how much later one is than another, and their distortion. */
const { known, drawn } = defineProps<{ known: Computed; drawn: readonly string[] }>()
const emit = defineEmits<{ promise: [asked: ReadValue] }>()

const seen = computed(() => [known.begin ?? 0, known.window] as const)
const rows = computed(() =>
  (known.time?.curves ?? [])
    .filter((c) => drawn.includes(c.signal))
    .map((curve) => {
      const m = courseMeasures(curve, ...seen.value, known.time?.period ?? null)
      const of = (take: 'peak-to-peak' | 'mean' | 'rms' | 'least' | 'greatest', value: number) => ({ take, value })
      return {
        curve,
        period: m.period,
        cells: [
          of('peak-to-peak', m.peakToPeak),
          of('mean', m.mean),
          of('rms', m.rms),
          of('least', m.least),
          of('greatest', m.greatest),
        ],
      }
    }),
)
/** Each other course against the first of the same period. */
const lags = computed(() => {
  const periodic = rows.value.filter((r) => r.period !== null)
  // The cause comes first: what the source gives, where it is drawn.
  const [first, ...others] = [...periodic].sort((a, b) => Number(isOutput(a)) - Number(isOutput(b)))
  if (!first) return []
  const frequency = 1 / first.period!
  return others.flatMap(({ curve }) => {
    const degrees = lagBetween(curve, first.curve, frequency)
    if (degrees === null) return []
    const by = formatQuantity(Math.abs(degrees) / 360 / frequency, 's')
    return [`${curve.signal} ${lagText(-degrees)}, ${by}, against ${first.curve.signal}`]
  })
})
const isOutput = ({ curve }: { curve: { signal: string } }) => curve.signal === known.output
/** Of what comes again and again. */
const distortions = computed(() =>
  (known.time?.period === null ? [] : spectraOf({ view: 'spectrum', signals: [...drawn] }, known)).flatMap(
    ({ signal, spectrum }) =>
      spectrum.distortionPercent === null
        ? []
        : [{ signal, percent: spectrum.distortionPercent, frequency: spectrum.harmonics[1]!.frequency }],
  ),
)

function promise(
  signal: string,
  take: (typeof rows.value)[number]['cells'][number]['take'],
  value: number,
  unit: string,
) {
  const [from, to] = seen.value
  emit('promise', { id: `${take} of ${signal}`, of: { signal, from, to, take }, value, unit })
}
</script>

<template>
  <section aria-label="Courses">
    <h3>Courses in view</h3>
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">curve</span></th>
          <th scope="col">peak to peak</th>
          <th scope="col">mean</th>
          <th scope="col">rms</th>
          <th scope="col">least</th>
          <th scope="col">greatest</th>
          <th scope="col">period</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.curve.signal">
          <th scope="row">{{ row.curve.signal }}</th>
          <td v-for="c in row.cells" :key="c.take">
            <button
              type="button"
              class="plain-button"
              :aria-label="`Promise the ${c.take} of ${row.curve.signal}: ${formatQuantity(c.value, row.curve.unit)}`"
              title="Promise it"
              @click="promise(row.curve.signal, c.take, c.value, row.curve.unit)"
            >
              {{ formatQuantity(c.value, row.curve.unit) }}
            </button>
          </td>
          <td>{{ row.period === null ? '–' : formatQuantity(row.period, 's') }}</td>
        </tr>
      </tbody>
    </table>
    <p v-for="l in lags" :key="l">{{ l }}.</p>
    <p v-for="d in distortions" :key="d.signal">
      {{ d.signal }}: distortion {{ formatQuantity(d.percent, '%') }} of {{ formatQuantity(d.frequency, 'Hz') }},
      {{ HARMONICS }} harmonics.
    </p>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
table,
td button {
  font-size: 13px;
}

td button {
  padding: 0;
}
</style>
