<script setup lang="ts">
import {
  AMPLITUDES,
  type Circuit,
  formatQuantity,
  readTable,
  type TypedValue,
  VoskelError,
  type Waveform,
  type WaveformField,
  waveformKind,
  waveformKinds,
  WaveformSchema,
} from '@voskel/core'
import { computed, ref, watch } from 'vue'
import { chooseFile } from '../components/files'
import TypedField from './TypedField.vue'

/** A source's course in time: its kind, what it is made of, and a small picture of it. */
const { waveform, unit, circuit } = defineProps<{ waveform: Waveform | null; unit: 'V' | 'A'; circuit: Circuit }>()
const emit = defineEmits<{ change: [waveform: Waveform | null] }>()

const problem = ref('')
/** How an amplitude is typed. */
const as = ref<(typeof AMPLITUDES)[number]>('peak')
const kind = computed(() => waveform && waveformKind(waveform))
const unitOf = (field: WaveformField) => (field.unit === 'level' ? unit : field.unit)
const values = computed(() => (waveform ?? {}) as unknown as Record<string, number | string | undefined>)
watch(
  () => waveform,
  () => (problem.value = ''),
)

/** What a peak is multiplied by to be said otherwise. */
function factor(said: (typeof AMPLITUDES)[number]): number {
  if (said === 'peak') return 1
  if (said === 'peak-to-peak') return 2
  return 1 / (kind.value?.crest?.(waveform!) ?? 1)
}
const others = computed(() =>
  AMPLITUDES.filter((a) => a !== as.value).map((a) => {
    const peak = values.value.amplitude
    return typeof peak === 'number' ? `${formatQuantity(peak * factor(a), unit, 3)} ${a}` : ''
  }),
)

function choose(id: string) {
  const next = waveformKinds.find((k) => k.kind === id)
  emit('change', next ? (id === 'sum' ? summed() : next.usual) : null)
}

/** The waveform with a disturbance on top. */
function summed(): Waveform {
  const sine = waveformKinds.find((k) => k.kind === 'sine')!.usual
  const small = { ...sine, amplitude: 0.1, frequency: 50 } as never
  const first = waveform && waveform.kind !== 'sum' ? waveform : sine
  return { kind: 'sum', terms: [first as never, small] }
}

function set(id: string, value: number | string | null) {
  const { [id]: _before, ...rest } = values.value
  take({ ...rest, ...(value !== null && { [id]: value }) })
}

function setTyped(field: WaveformField, typed: TypedValue | null) {
  set(field.id, typed && (field.isAmplitude ? typed.value / factor(as.value) : typed.value))
}

function take(next: unknown) {
  const checked = WaveformSchema.safeParse(next)
  if (checked.success) {
    problem.value = ''
    emit('change', checked.data)
  } else problem.value = checked.error.issues[0]?.message ?? 'This does not fit.'
}

const shown = (field: WaveformField): number | null => {
  const value = values.value[field.id]
  if (typeof value !== 'number') return null
  return field.isAmplitude ? value * factor(as.value) : value
}

// --- points, from a text or a file -----------------------------------------------------------------------------------

const points = ref('')
watch(
  () => waveform,
  (w) => {
    if (w?.kind === 'piecewise-linear' && w.points.length <= 200)
      points.value = w.points.map((p) => p.join(' ')).join('\n')
  },
  { immediate: true },
)

function takePoints(text: string) {
  try {
    take({ kind: 'piecewise-linear', points: readTable(text) })
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}

async function takeFile() {
  const file = await chooseFile('.csv,.txt,text/csv,text/plain')
  if (file) takePoints(await file.text())
}

// --- its picture -----------------------------------------------------------------------------------------------------

const SIZE = { width: 240, height: 64, samples: 240 }
const picture = computed(() => {
  if (!waveform || !kind.value) return null
  const span = kind.value.span(waveform) || 1
  const end =
    Number.isFinite(span) && span > 0
      ? span * (waveform.kind === 'pulse' && waveform.period === undefined ? 2 : 1)
      : 1e-3
  const from = -0.08 * end
  const y = Array.from({ length: SIZE.samples + 1 }, (_, k) => {
    const t = from + ((end - from) * k) / SIZE.samples
    return t < 0 ? kind.value!.initial(waveform) : kind.value!.at(waveform, t)
  })
  // A step's jump is at 0: before it the value is the one that rests.
  if (waveform.kind === 'pulse' && waveform.delay === 0)
    y.forEach((_, k) => {
      if (from + ((end - from) * k) / SIZE.samples < 0) y[k] = waveform.low
    })
  const [low, high] = [Math.min(...y), Math.max(...y)]
  const height = high - low || 1
  const path = y
    .map(
      (v, k) =>
        `${k ? 'L' : 'M'}${(SIZE.width * k) / SIZE.samples} ${4 + (SIZE.height - 8) * (1 - (v - low) / height)}`,
    )
    .join('')
  return {
    path,
    low: formatQuantity(low, unit, 3),
    high: formatQuantity(high, unit, 3),
    end: formatQuantity(end, 's', 3),
  }
})
</script>

<template>
  <div class="waveform">
    <label class="kind"
      >Over time
      <select
        class="text-field"
        :value="waveform?.kind ?? 'none'"
        @change="choose(($event.target as HTMLSelectElement).value)"
      >
        <option value="none">constant</option>
        <option v-for="k in waveformKinds" :key="k.kind" :value="k.kind">{{ k.name }}</option>
      </select>
    </label>
    <figure v-if="picture">
      <svg
        :viewBox="`0 0 ${SIZE.width} ${SIZE.height}`"
        role="img"
        :aria-label="`From ${picture.low} to ${picture.high} within ${picture.end}`"
      >
        <path :d="picture.path" />
      </svg>
      <figcaption>
        <span>{{ picture.low }} … {{ picture.high }}</span
        ><span>{{ picture.end }}</span>
      </figcaption>
    </figure>
    <template v-for="field in kind?.fields ?? []" :key="field.id">
      <label v-if="Array.isArray(field.words)" class="kind"
        >{{ field.name }}
        <select
          class="text-field"
          :value="values[field.id]"
          @change="set(field.id, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="w in field.words" :key="w">{{ w }}</option>
        </select>
      </label>
      <label v-else-if="field.words === 'text'" class="kind"
        >{{ field.name }}
        <input
          class="text-field"
          :value="values[field.id]"
          @change="set(field.id, ($event.target as HTMLInputElement).value)"
        />
      </label>
      <template v-else>
        <label v-if="field.isAmplitude" class="kind"
          >Amplitude is typed as
          <select v-model="as" class="text-field">
            <option v-for="a in AMPLITUDES" :key="a">{{ a }}</option>
          </select>
        </label>
        <TypedField
          :label="field.name"
          :unit="unitOf(field)"
          :value="shown(field)"
          :circuit="circuit"
          :optional="field.optional"
          @typed="(v) => setTyped(field, v)"
        />
        <p v-if="field.isAmplitude" class="echo">{{ others.join(' · ') }}</p>
      </template>
    </template>
    <template v-if="waveform?.kind === 'piecewise-linear'">
      <label class="points"
        >Time, s, and value, a line each
        <textarea
          v-model="points"
          class="text-field"
          rows="4"
          spellcheck="false"
          @change="takePoints(points)"
        ></textarea>
      </label>
      <button type="button" class="plain-button" @click="takeFile">From a file …</button>
      <span v-if="waveform.points.length > 200" class="echo">{{ waveform.points.length }} points</span>
    </template>
    <template v-if="waveform?.kind === 'sum'">
      <fieldset v-for="(term, k) in waveform.terms" :key="k">
        <legend>Term {{ k + 1 }}</legend>
        <WaveformFields
          :waveform="term as Waveform"
          :unit="unit"
          :circuit="circuit"
          @change="
            (next) =>
              take({
                kind: 'sum',
                terms: next
                  ? waveform.terms.map((t, j) => (j === k ? next : t))
                  : waveform.terms.filter((_, j) => j !== k),
              })
          "
        />
      </fieldset>
      <button
        type="button"
        class="plain-button"
        @click="take({ kind: 'sum', terms: [...waveform.terms, waveformKinds.find((w) => w.kind === 'sine')!.usual] })"
      >
        One more term
      </button>
    </template>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.waveform {
  display: grid;
  gap: 5px;
}

.kind {
  display: grid;
  grid-template-columns: 1fr 118px;
  gap: 8px;
  align-items: center;
  color: var(--ink-soft);
}

.points {
  color: var(--ink-soft);
}

figure {
  padding: 4px 6px 2px;
  border: 1px solid var(--line);
  border-radius: 6px;
  margin: 2px 0;
  background: var(--paper);
}

svg {
  display: block;
  width: 100%;
}

path {
  fill: none;
  stroke: var(--curve-1);
  stroke-width: 1.8;
}

figcaption {
  display: flex;
  justify-content: space-between;
  color: var(--ink-soft);
  font-size: 13px;
}

fieldset {
  padding: 4px 8px 8px;
  border: 1px solid var(--line);
  border-radius: 6px;
}

.echo {
  margin: 0;
  color: var(--ink-soft);
  font-size: 13px;
  text-align: right;
}

.problem {
  margin: 0;
  color: var(--missed);
}
</style>
