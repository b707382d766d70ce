<script setup lang="ts">
import { equalizedBand, formatQuantity, MOST_SECTIONS } from '@voskel/core'
import { ElInputNumber, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useResultsStore } from '../stores/results'
import { useSpecForm } from './specForm'

/** All-pass sections that flatten the delay: a number of them, or what their number follows from. */
const form = useSpecForm()
const results = useResultsStore()

type Equalizer = NonNullable<NonNullable<typeof form.banded.value>['equalizer']>

const own = computed(() => form.banded.value?.equalizer ?? null)
const mode = computed(() => (!own.value ? 'none' : own.value.ripple === undefined ? 'sections' : 'ripple'))
const found = computed(() => results.ideal?.ideal.equalizer ?? null)
const band = computed(() => equalizedBand(form.banded.value?.passband.edges ?? [0], own.value ?? {}))

function put(next: Equalizer | undefined, group: string | null = null) {
  form.change('delay equaliser', { equalizer: next }, group)
}

function setMode(wanted: string) {
  if (wanted === 'none') return put(undefined)
  const edges = form.banded.value?.passband.edges ?? []
  const open = ['highpass', 'bandstop'].includes(form.banded.value?.response ?? '')
  const { from = open ? edges.at(-1) : undefined, to = open ? 10 * (edges.at(-1) ?? 1e3) : undefined } = own.value ?? {}
  const ends = { ...(from !== undefined && { from }), ...(to !== undefined && { to }) }
  put(wanted === 'sections' ? { sections: 2, ...ends } : { ripple: (found.value?.before ?? 1e-6) / 10, ...ends })
}

function setEnd(end: 'from' | 'to', value: number | null) {
  if (!own.value) return
  const { [end]: _old, ...rest } = own.value
  put({ ...rest, ...(value !== null && { [end]: value }) }, `equalizer ${end}`)
}
</script>

<template>
  <fieldset>
    <legend>Delay equaliser</legend>
    <div class="row narrow">
      <span id="equalizer-label">All-pass</span>
      <ElRadioGroup
        :model-value="mode"
        size="small"
        aria-labelledby="equalizer-label"
        @change="(v) => setMode(String(v))"
      >
        <ElRadioButton value="none">none</ElRadioButton>
        <ElRadioButton value="sections">sections</ElRadioButton>
        <ElRadioButton value="ripple">ripple</ElRadioButton>
      </ElRadioGroup>
    </div>
    <template v-if="own">
      <div v-if="mode === 'sections'" class="row">
        <span>Sections</span>
        <ElInputNumber
          :model-value="own.sections ?? 2"
          :min="1"
          :max="MOST_SECTIONS"
          :precision="0"
          size="small"
          aria-label="Sections of the delay equaliser"
          @change="(v) => v !== undefined && put({ ...own!, sections: v ?? 1 }, 'equalizer sections')"
        />
      </div>
      <QuantityField
        v-else
        label="Delay within"
        unit="s"
        :model-value="own.ripple ?? null"
        :problem="form.problem('equalizer.ripple')"
        @update:model-value="(v) => v !== null && put({ ...own!, ripple: v }, 'equalizer ripple')"
      />
      <QuantityField
        label="From"
        unit="Hz"
        optional
        :placeholder="formatQuantity(band[0], 'Hz')"
        :model-value="own.from ?? null"
        :problem="form.problem('equalizer.from')"
        @update:model-value="(v) => setEnd('from', v)"
      />
      <QuantityField
        label="To"
        unit="Hz"
        optional
        :placeholder="formatQuantity(band[1], 'Hz')"
        :model-value="own.to ?? null"
        :problem="form.problem('equalizer.to', 'equalizer')"
        @update:model-value="(v) => setEnd('to', v)"
      />
      <p v-if="found" class="hint" aria-live="polite">
        {{ found.poles.length / 2 }} section{{ found.poles.length === 2 ? '' : 's' }}: the delay varies by
        {{ formatQuantity(found.after, 's') }} instead of {{ formatQuantity(found.before, 's') }}.
      </p>
    </template>
  </fieldset>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.narrow :deep(.el-radio-group) {
  flex-wrap: nowrap;
  justify-self: end;
}
</style>
