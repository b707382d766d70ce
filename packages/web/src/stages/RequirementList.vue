<script setup lang="ts">
import {
  type AskedRequirement,
  type FilterSpecInput,
  isLimit,
  type LimitRequirement,
  REQUIREMENT_KINDS,
  readingText,
  type RequirementId,
  type RequirementKind,
  type ValueRequirement,
} from '@voskel/core'
import { Close } from '@element-plus/icons-vue'
import { ElIcon, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useResultsStore } from '../stores/results'
import { useSpecForm } from './specForm'

/** What is asked besides bands and step response: phase, delay, attenuation at places, parts. */
type Asked = NonNullable<FilterSpecInput['requirements']>[number]
type Limit = LimitRequirement

const form = useSpecForm()

const offered: readonly RequirementKind[] = REQUIREMENT_KINDS.filter((k) => !k.usual)
const results = useResultsStore()
const all = computed(() => (form.spec.value?.requirements ?? []) as readonly AskedRequirement[])
const rows = computed(() =>
  all.value.flatMap((asked, index) => {
    const kind = offered.find((k) => k.kind === asked.kind)
    return kind && isLimit(asked) ? [{ asked, index, kind }] : []
  }),
)
/** Promised values: what was read, its limits, and their unit, as its verdict has it. */
const values = computed(() =>
  all.value.flatMap((asked, index) => {
    if (asked.kind !== 'value') return []
    const unit = results.verdicts.find((v) => v.id === asked.id)?.unit ?? ''
    return [{ asked: asked as ValueRequirement, index, unit }]
  }),
)

const put = (next: readonly Asked[], group: string | null = null) =>
  form.change('requirement', { requirements: next.length > 0 ? [...next] : undefined }, group)

/** A new one begins where the passband is. */
function add(id: RequirementId) {
  const kind = offered.find((k) => k.kind === id)
  if (!kind) return
  const [low = 1000, high = low] =
    form.banded.value?.passband.edges ??
    form.shape.value?.marks(form.shaped.value!.shape).toSorted((a, b) => a - b) ??
    []
  const edge = { at: low, from: high > low ? low : low / 10, to: high }
  put([
    ...all.value,
    {
      kind: id,
      limit: kind.start ?? 1,
      ...(kind.at === 'frequency' && { at: edge.at }),
      ...(kind.at === 'band' && { from: edge.from, to: edge.to }),
      ...(kind.target !== undefined && { target: kind.target === 'Hz' ? high : 0 }),
    },
  ])
}

/** A limit that is left empty is none; one of both must stay. */
function changeValue(index: number, field: 'min' | 'max', value: number | null) {
  const { min, max, ...rest } = all.value[index] as ValueRequirement
  const limits = Object.entries({ min, max, [field]: value ?? undefined }).filter(([, x]) => x !== undefined)
  if (limits.length === 0) return
  put(all.value.with(index, { ...rest, ...Object.fromEntries(limits) }), `requirement ${index} ${field}`)
}

function change(index: number, field: keyof Limit, value: number | null) {
  if (value === null) return
  put(all.value.with(index, { ...(all.value[index] as Limit), [field]: value }), `requirement ${index} ${field}`)
}

const problem = (index: number, field: string) => form.problem(`requirements.${index}.${field}`)
</script>

<template>
  <fieldset>
    <legend>Also required</legend>
    <div v-for="{ asked, index, kind } in rows" :key="index" class="asked" role="group" :aria-label="kind.name">
      <p class="head">
        <strong>{{ kind.name }}</strong>
        <button type="button" class="remove" :aria-label="`Remove ${kind.name}`" @click="put(all.toSpliced(index, 1))">
          <ElIcon><Close /></ElIcon>
        </button>
      </p>
      <template v-if="kind.at === 'band'">
        <QuantityField
          label="From"
          unit="Hz"
          :model-value="asked.from ?? null"
          :problem="problem(index, 'from')"
          @update:model-value="(v) => change(index, 'from', v)"
        />
        <QuantityField
          label="To"
          unit="Hz"
          :model-value="asked.to ?? null"
          :problem="problem(index, 'to')"
          @update:model-value="(v) => change(index, 'to', v)"
        />
      </template>
      <QuantityField
        v-if="kind.at === 'frequency'"
        label="At"
        unit="Hz"
        :model-value="asked.at ?? null"
        :problem="problem(index, 'at')"
        @update:model-value="(v) => change(index, 'at', v)"
      />
      <QuantityField
        v-if="kind.target !== undefined"
        label="Wanted"
        :unit="kind.target"
        :model-value="asked.target ?? null"
        :problem="problem(index, 'target')"
        @update:model-value="(v) => change(index, 'target', v)"
      />
      <QuantityField
        :label="kind.target !== undefined ? 'Within ±' : kind.sense === 'at most' ? 'At most' : 'At least'"
        :unit="kind.unit"
        :model-value="asked.limit ?? null"
        :problem="problem(index, 'limit')"
        @update:model-value="(v) => change(index, 'limit', v)"
      />
    </div>
    <div
      v-for="{ asked, index, unit } in values"
      :key="`${index} ${unit}`"
      class="asked"
      role="group"
      :aria-label="asked.id"
    >
      <p class="head">
        <strong>{{ asked.id }}</strong>
        <button type="button" class="remove" :aria-label="`Remove ${asked.id}`" @click="put(all.toSpliced(index, 1))">
          <ElIcon><Close /></ElIcon>
        </button>
      </p>
      <p class="soft">{{ readingText(asked.of) }}</p>
      <QuantityField
        label="At least"
        :unit="unit"
        optional
        :model-value="asked.min ?? null"
        :problem="problem(index, 'min')"
        @update:model-value="(v) => changeValue(index, 'min', v)"
      />
      <QuantityField
        label="At most"
        :unit="unit"
        optional
        :model-value="asked.max ?? null"
        :problem="problem(index, 'max')"
        @update:model-value="(v) => changeValue(index, 'max', v)"
      />
    </div>
    <div class="row">
      <label for="add-requirement">Add</label>
      <ElSelect id="add-requirement" :persistent="false" :model-value="null" placeholder="a requirement" @change="add">
        <ElOption v-for="k in offered" :key="k.kind" :value="k.kind" :label="k.name" />
      </ElSelect>
    </div>
  </fieldset>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.asked {
  display: grid;
  gap: 6px;
}

.head {
  display: flex;
  justify-content: space-between;
  margin: 6px 0 2px;
}

.remove {
  display: inline-grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}

.remove:hover {
  background: var(--accent-soft);
}
</style>
