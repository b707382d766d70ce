<script setup lang="ts">
import {
  approximations,
  attenuations,
  type EvenOrder,
  formatExact,
  MAX_ORDER,
  ownsField,
  RESPONSES,
} from '@voskel/core'
import {
  ElButton,
  ElInputNumber,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSlider,
  ElSwitch,
} from 'element-plus'
import { computed } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import { useResultsStore } from '../stores/results'
import { useSpecForm } from './specForm'

/** Approximation, order, passband and stop band of a response that has them. */
const results = useResultsStore()
const form = useSpecForm()
const spec = form.banded

const family = computed(() => approximations.find((a) => a.id === spec.value?.approximation) ?? null)
const kind = computed(() => RESPONSES.find((r) => r.id === spec.value?.response) ?? RESPONSES[0])
const sides = computed(() => (kind.value.edges === 2 ? [0, 1] : [0]))
const edgeName = (k: number) => (kind.value.edges === 1 ? 'Edge' : k === 0 ? 'Lower edge' : 'Upper edge')
const STOP_NAMES: Record<string, readonly string[]> = {
  lowpass: ['Begins at'],
  highpass: ['Up to'],
  bandpass: ['Up to', 'From'],
  bandstop: ['From', 'Up to'],
}
const automatic = computed(() => spec.value?.order === undefined)
const order = computed(() => spec.value?.order ?? results.ideal?.ideal.order ?? null)

/** What is asked of each stop band; one field where both ask for the same. */
const asked = computed(() => (spec.value?.stopband ? attenuations(spec.value.stopband) : []))

function setAttenuation(value: number | null, k: number) {
  if (asked.value.length < 2 || value === null) return form.changeStopband({ attenuation: value })
  const next = asked.value.with(k, value)
  form.changeStopband({ attenuation: [next[0]!, next[1]!] })
}

function setApart(apart: boolean) {
  const [below = 40, above = below] = asked.value
  form.changeStopband({ attenuation: apart ? [below, above] : Math.max(below, above) })
}

function setAutomatic(on: boolean) {
  form.change('order', { order: on ? undefined : (order.value ?? 5) })
}

const orderProblem = computed(() => form.problem('order', 'approximation'))
</script>

<template>
  <template v-if="spec">
    <fieldset>
      <legend>Approximation</legend>
      <div class="row narrow">
        <label for="approximation">Family</label>
        <ElSelect
          id="approximation"
          :persistent="false"
          :model-value="spec.approximation"
          @change="form.changeApproximation"
        >
          <ElOption v-for="a in approximations" :key="a.id" :value="a.id" :label="a.name" />
        </ElSelect>
      </div>
      <p v-if="family" class="hint">{{ family.character }}</p>
      <template v-for="field in family?.fields ?? []" :key="`slider ${field.id}`">
        <div v-if="field.id === 'mix'" class="row">
          <span id="mix-label">{{ field.name }}</span>
          <ElSlider
            :model-value="spec[field.id] ?? field.default ?? 0"
            :min="field.least"
            :max="field.most"
            :step="0.01"
            size="small"
            aria-labelledby="mix-label"
            @input="(v) => form.change('mix', { mix: Number(v) }, field.id)"
          />
        </div>
      </template>
      <QuantityField
        v-for="field in family?.fields ?? []"
        :key="field.id"
        :label="field.name"
        :unit="field.unit"
        optional
        :placeholder="field.default === null ? 'all the way' : String(field.default)"
        :model-value="spec[field.id] ?? null"
        :problem="form.problem(field.id)"
        @update:model-value="(v) => form.change(field.name.toLowerCase(), { [field.id]: v ?? undefined }, field.id)"
      />
      <QuantityField
        v-if="family?.unscaled && kind.id === 'lowpass'"
        label="Delay at DC"
        unit="s"
        optional
        placeholder="the edge rules"
        :model-value="spec.delay ?? null"
        :problem="form.problem('delay')"
        @update:model-value="(v) => form.change('delay', { delay: v ?? undefined }, 'delay')"
      />
      <div class="row narrow">
        <span id="order-label">Order</span>
        <span class="order">
          <ElRadioGroup
            :model-value="automatic"
            size="small"
            aria-labelledby="order-label"
            @change="(v) => setAutomatic(v === true)"
          >
            <ElRadioButton :value="true">least</ElRadioButton>
            <ElRadioButton :value="false" :disabled="order === null && results.stale">fixed</ElRadioButton>
          </ElRadioGroup>
          <ElInputNumber
            v-if="!automatic"
            :model-value="order ?? 5"
            :min="1"
            :max="MAX_ORDER"
            :precision="0"
            size="small"
            aria-label="Order"
            @change="(v) => v !== undefined && form.change('order', { order: v ?? undefined }, 'order')"
          />
          <output v-else class="least" aria-live="polite">{{ order ?? '–' }}</output>
        </span>
      </div>
      <div v-if="ownsField(spec.approximation, 'evenOrder')" class="row narrow">
        <label for="even-order">Even</label>
        <ElSelect
          id="even-order"
          :persistent="false"
          :model-value="spec.evenOrder ?? 'a'"
          @change="(v: string) => form.change('even orders', { evenOrder: v === 'a' ? undefined : (v as EvenOrder) })"
        >
          <ElOption value="a" label="as the formula has them" />
          <ElOption value="b" label="nothing at infinity (b)" />
          <ElOption value="c" label="and no loss at DC (c)" />
        </ElSelect>
      </div>
      <p v-if="orderProblem" class="bad" role="alert">{{ orderProblem }}</p>
    </fieldset>
    <fieldset>
      <legend>Passband</legend>
      <QuantityField
        v-for="k in sides"
        :key="k"
        :label="edgeName(k)"
        unit="Hz"
        :model-value="spec.passband.edges[k] ?? null"
        :problem="form.problem(`passband.edges.${k}`, ...(k === 0 ? ['passband.edges', 'passband'] : []))"
        @update:model-value="(v) => form.changeEdge(v, k)"
      >
        <ElButton v-if="form.overrun.value.has(k)" size="small" @click="form.moveStopband">
          Move the stop band along, to {{ formatExact(form.overrun.value.get(k)!, 'Hz') }}
        </ElButton>
      </QuantityField>
      <QuantityField
        label="Loss at the edge"
        unit="dB"
        :optional="family?.defaultRippleDb !== null"
        placeholder="half power, 3.01 dB"
        :model-value="spec.passband.ripple ?? null"
        :problem="form.problem('passband.ripple')"
        @update:model-value="form.changeRipple"
      />
    </fieldset>

    <fieldset v-if="kind.stops">
      <legend>Stop band</legend>
      <QuantityField
        v-for="k in sides"
        :key="k"
        :label="STOP_NAMES[kind.id]?.[k] ?? 'Edge'"
        unit="Hz"
        optional
        placeholder="follows from order"
        :model-value="spec.stopband?.edges?.[k] ?? null"
        :problem="form.problem(`stopband.edges.${k}`, ...(k === 0 ? ['stopband.edges', 'stopband'] : []))"
        @update:model-value="(v) => form.changeStopband({ edge: v, index: k })"
      />
      <QuantityField
        v-for="(side, k) in asked.length === 2 ? ['Attenuation below', 'Attenuation above'] : ['Attenuation']"
        :key="side"
        :label="side"
        unit="dB"
        :optional="asked.length < 2"
        placeholder="none asked"
        :model-value="asked[k] ?? null"
        :problem="form.problem(`stopband.attenuation.${k}`, ...(k === 0 ? ['stopband.attenuation'] : []))"
        @update:model-value="(v) => setAttenuation(v, k)"
      />
      <label v-if="kind.id === 'bandpass' && asked.length > 0" class="switch">
        <ElSwitch :model-value="asked.length === 2" size="small" @change="(v) => setApart(v === true)" />
        each side its own
      </label>
    </fieldset>
  </template>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.order {
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 8px;
  min-width: 0;
}

.order :deep(.el-radio-group) {
  flex-wrap: nowrap;
}

.order :deep(.el-input-number) {
  width: 96px;
}

.switch {
  display: flex;
  align-items: center;
  gap: 8px;
  font-size: 13px;
}

.least {
  font-weight: 650;
  font-size: 17px;
}
</style>
