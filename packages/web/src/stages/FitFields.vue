<script setup lang="ts">
import {
  type Fit,
  formatExact,
  formatQuantity,
  parseQuantity,
  partKind,
  VoskelError,
  withCircuitEdit,
} from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
import { fitTopic } from '../engine/jobs/fit'
import { type ComparedCurves, samplesOf } from '../engine/kept'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'
import type { Computed } from './instrument/Over'

/** Values of parts from curves beside the design's own: which are sought, between which bounds, what was found and how surely. */
const { beside, known } = defineProps<{ beside: ComparedCurves; known: Computed }>()
const emit = defineEmits<{ close: [] }>()
const design = useDesignStore()

interface Row {
  readonly name: string
  readonly unit: string
  readonly value: number
  readonly target: { readonly part: string; readonly field: string } | { readonly parameter: string }
}

/** Everything that may be sought. */
const rows = computed<Row[]>(() => {
  const circuit = known.circuit?.circuit
  if (!circuit) return []
  const parts = circuit.parts.flatMap((part): Row[] => {
    const { mainValue, sensitive, values } = partKind(part.kind, part.id)
    const field = values.find((f) => f.id === mainValue)
    if (!sensitive || !field || part.aside || part.formulas?.[field.id] !== undefined) return []
    const value = part.values[field.id] ?? field.default
    return [{ name: part.id, unit: field.unit, value, target: { part: part.id, field: field.id } }]
  })
  const parameters = Object.entries(circuit.parameters ?? {}).flatMap(([name, value]): Row[] =>
    typeof value === 'number' ? [{ name, unit: '', value, target: { parameter: name } }] : [],
  )
  return [...parts, ...parameters]
})

const curves = computed(() => beside.kept.curves.filter((c) => samplesOf(c) !== null))
const which = ref(0)
const wanted = ref<ReadonlySet<string>>(new Set())
/** What is typed as bounds, by name. */
const bounds = ref<Record<string, { least: string; most: string }>>({})
const problem = ref('')
const progress = shallowRef<{ iterations: number; rms: number } | null>(null)
const found = shallowRef<Fit | null>(null)
/** The document that it was found for. */
const foundFor = shallowRef<unknown>(null)
const isStale = computed(() => found.value !== null && foundFor.value !== design.document)

function turn(name: string) {
  const next = new Set(wanted.value)
  if (!next.delete(name)) next.add(name)
  wanted.value = next
}
function type(name: string, end: 'least' | 'most', text: string) {
  bounds.value = { ...bounds.value, [name]: { least: '', most: '', ...bounds.value[name], [end]: text } }
}

/** The bounds as numbers; an open end is as far as a double goes. */
function boundsNow(): Record<string, [number, number]> {
  const said: Record<string, [number, number]> = {}
  for (const { name, unit } of rows.value) {
    const { least = '', most = '' } = bounds.value[name] ?? {}
    if (!wanted.value.has(name) || (least.trim() === '' && most.trim() === '')) continue
    said[name] = [
      least.trim() === '' ? -Number.MAX_VALUE : parseQuantity(least, unit),
      most.trim() === '' ? Number.MAX_VALUE : parseQuantity(most, unit),
    ]
  }
  return said
}

async function run() {
  const { document } = design
  const curve = curves.value[which.value]
  problem.value = wanted.value.size === 0 ? 'Choose at least one value.' : ''
  if (problem.value || !document || !curve) return
  let said: Record<string, [number, number]>
  try {
    said = boundsNow()
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
    return
  }
  progress.value = { iterations: 0, rms: NaN }
  const vary = rows.value.filter((r) => wanted.value.has(r.name)).map((r) => r.name)
  const samples = fromZero(samplesOf(curve)!)
  const question = { ...document, samples, signal: curve.signal, vary, bounds: said }
  const outcome = await lanes.population.ask(fitTopic, question, ({ iterations, rms }) => {
    progress.value = { iterations: iterations ?? 0, rms: rms ?? NaN }
  })
  progress.value = null
  if (outcome.kind === 'failed') problem.value = `${outcome.failure.message} ${outcome.failure.remedy}`
  if (outcome.kind === 'stopped') problem.value = 'Stopped; nothing is changed.'
  if (outcome.kind !== 'done') return
  found.value = outcome.answer.fit
  foundFor.value = document
}

/** What lies before the run begins has nothing to be compared with. */
function fromZero(samples: NonNullable<ReturnType<typeof samplesOf>>) {
  if (samples.over === 'frequency') return samples
  const begin = samples.x.findIndex((t) => t >= 0)
  return begin <= 0 ? samples : { ...samples, x: samples.x.slice(begin), value: samples.value.slice(begin) }
}

function apply() {
  const { document } = design
  if (!document || !found.value) return
  try {
    const values = found.value.values.map((v) => ({ ...v, target: rows.value.find((r) => r.name === v.name)!.target }))
    const ofParts = values.flatMap(({ target, value }) => ('part' in target ? [{ ...target, value }] : []))
    const ofParameters = values.flatMap(({ target, value }) =>
      'parameter' in target ? [{ name: target.parameter, value }] : [],
    )
    const parts =
      ofParts.length > 0 ? withCircuitEdit(document, { edit: 'set-values', args: { rows: ofParts } }) : document
    const next = ofParameters.reduce((d, args) => withCircuitEdit(d, { edit: 'set-parameter', args }), parts)
    design.edit(`values fitted to ${beside.entry.name}`, next)
    emit('close')
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}

/** What the residuals count in, by what was measured. */
const rmsText = (rms: number) => {
  const samples = curves.value[which.value] && samplesOf(curves.value[which.value]!)
  if (!samples) return ''
  if (samples.over === 'time') return formatQuantity(rms, curves.value[which.value]!.unit, 3)
  return 're' in samples ? formatQuantity(rms, '', 3) : `${formatQuantity(rms, '', 3)} (in 0.1 dB and 1°)`
}
/** Pairs that cannot be told apart well, the closest first. */
const CLOSE = 0.9
const close = computed(() => {
  const { values, correlation } = found.value ?? { values: [], correlation: [] }
  return values.flatMap((a, i) =>
    values.slice(i + 1).flatMap((b, j) => {
      const c = correlation[i]?.[i + 1 + j] ?? 0
      return Math.abs(c) > CLOSE ? [`${a.name} and ${b.name} ${formatQuantity(c, '', 3)}`] : []
    }),
  )
})

onBeforeUnmount(() => lanes.population.supersede(fitTopic.id))
</script>

<template>
  <form class="fit" :aria-label="`Fit values to ${beside.entry.name}`" @submit.prevent="run">
    <label v-if="curves.length > 1"
      >to
      <select v-model="which" class="text-field" aria-label="Fitted to">
        <option v-for="(c, k) in curves" :key="k" :value="k">{{ c.signal }}</option>
      </select></label
    >
    <div class="rows">
      <table>
        <thead>
          <tr>
            <th scope="col">sought</th>
            <th scope="col" class="number">now</th>
            <th scope="col">at least</th>
            <th scope="col">at most</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.name">
            <th scope="row">
              <label><input type="checkbox" :checked="wanted.has(r.name)" @change="turn(r.name)" /> {{ r.name }}</label>
            </th>
            <td class="number">{{ formatQuantity(r.value, r.unit) }}</td>
            <td v-for="end in ['least', 'most'] as const" :key="end">
              <input
                v-if="wanted.has(r.name)"
                class="text-field"
                :value="bounds[r.name]?.[end] ?? ''"
                :aria-label="`${r.name} at ${end}`"
                placeholder="open"
                @input="type(r.name, end, ($event.target as HTMLInputElement).value)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="buttons">
      <ElButton native-type="submit" size="small" type="primary" :disabled="progress !== null">Fit</ElButton>
      <ElButton v-if="progress" size="small" @click="lanes.population.stop()">Stop</ElButton>
      <ElButton size="small" @click="emit('close')">Close</ElButton>
      <span v-if="progress" class="soft" role="status">step {{ progress.iterations }} …</span>
    </p>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <template v-if="found">
      <table :class="{ stale: isStale }" aria-label="Fitted values">
        <thead>
          <tr>
            <th scope="col"><span class="visually-hidden">value</span></th>
            <th scope="col" class="number">now</th>
            <th scope="col" class="number">fitted</th>
            <th scope="col" class="number">95 % within ±</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="v in found.values" :key="v.name">
            <th scope="row">{{ v.name }}</th>
            <td class="number">{{ formatQuantity(v.before, v.unit) }}</td>
            <td class="number" :title="formatExact(v.value, v.unit)">{{ formatQuantity(v.value, v.unit) }}</td>
            <td class="number">
              {{
                v.confidence95
                  ? formatQuantity((100 * (v.confidence95[1] - v.confidence95[0])) / 2 / Math.abs(v.value), '%', 2)
                  : '–'
              }}<template v-if="v.atBound"> at its bound</template>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft">
        rms {{ rmsText(found.rmsBefore) }} before, {{ rmsText(found.rms) }} fitted; {{ found.samples }} samples,
        {{ found.iterations }} steps.
      </p>
      <p v-for="(other, k) in found.alternatives" :key="k" class="soft">
        As well fit:
        {{ found.values.map((v, j) => `${v.name} ${formatQuantity(other[j]!, v.unit)}`).join(', ') }} (parts that may
        trade places).
      </p>
      <p v-if="close.length" class="soft">Hard to tell apart (correlation): {{ close.join('; ') }}.</p>
      <details v-if="found.values.length > 1">
        <summary>correlation</summary>
        <table aria-label="Correlation">
          <tbody>
            <tr v-for="(line, i) in found.correlation" :key="i">
              <th scope="row">{{ found.values[i]!.name }}</th>
              <td v-for="(c, j) in line" :key="j" class="number">{{ formatQuantity(c, '', 3) }}</td>
            </tr>
          </tbody>
        </table>
      </details>
      <p v-if="isStale" class="soft">The design has been changed since.</p>
      <p class="buttons">
        <ElButton size="small" type="primary" :disabled="isStale" @click="apply">Use the fitted values</ElButton>
      </p>
    </template>
  </form>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
.fit {
  margin: 4px 0;
  padding: 6px 8px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
}

.rows {
  max-height: 190px;
  overflow: auto;
}

input:not([type]) {
  width: 78px;
  padding: 0 6px;
}

select {
  width: auto;
}

.buttons {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 4px 0;
}

.stale {
  opacity: 0.6;
}

.soft,
.wrong {
  font-size: 13px;
}
</style>
