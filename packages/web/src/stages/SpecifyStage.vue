<script setup lang="ts">
import { approximations, MAX_ORDER, RESPONSES, topologies, VALUE_CHOICES, type ValueChoice } from '@voskel/core'
import { ElInputNumber, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { computed } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import MaskDiagram from '../diagram/MaskDiagram.vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'
import RequirementList from './RequirementList.vue'
import { STEP_REQUIREMENTS, useSpecForm } from './specForm'

/** What the filter must do: the form, and the tolerance mask over the ideal response. */
const design = useDesignStore()
const results = useResultsStore()
const form = useSpecForm()
const { spec, topology, general } = form

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
const order = computed(() => spec.value?.order ?? results.result?.ideal?.ideal.order ?? null)
const realization = computed(() => (spec.value?.realization ?? {}) as Record<string, unknown>)
const numberAt = (id: string) => (typeof realization.value[id] === 'number' ? realization.value[id] : null)

function setAutomatic(on: boolean) {
  form.change('order', { order: on ? undefined : (order.value ?? 5) })
}

function setValues(choice: ValueChoice) {
  const document = design.document
  if (!document) return
  const { circuit: _gone, ...rest } = document
  design.edit('series of values', { ...rest, values: choice })
}

const orderProblem = computed(() => form.problem('order', 'approximation'))
const wholeProblem = computed(() => form.problem('', 'realization', 'requirements') || general.value)
</script>

<template>
  <div class="specify">
    <p v-if="!spec" class="empty">
      This design has a circuit but no specification: nothing is required of it. Its curves are under Frequency and
      Time.
    </p>
    <form v-else class="form" aria-label="Specification" @submit.prevent @focusout="design.endGroup()">
      <p v-if="wholeProblem" class="whole" role="alert">{{ wholeProblem }}</p>

      <fieldset>
        <legend>Response</legend>
        <div class="row">
          <label for="response">Kind</label>
          <ElSelect id="response" :persistent="false" :model-value="spec.response" @change="form.changeResponse">
            <ElOption v-for="r in RESPONSES" :key="r.id" :value="r.id" :label="r.name" />
          </ElSelect>
        </div>
        <div class="row">
          <label for="approximation">Approximation</label>
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
              <ElRadioButton :value="false">fixed</ElRadioButton>
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
        />
        <QuantityField
          label="Loss at the edge"
          unit="dB"
          :optional="family?.defaultRippleDb !== null"
          placeholder="half power, 3.01 dB"
          :model-value="spec.passband.ripple ?? null"
          :problem="form.problem('passband.ripple')"
          @update:model-value="form.changeRipple"
        />
        <QuantityField
          label="Gain"
          unit="dB"
          :model-value="spec.gain ?? 0"
          :problem="form.problem('gain')"
          @update:model-value="(v) => v !== null && form.change('gain', { gain: v }, 'gain')"
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
          label="Attenuation"
          unit="dB"
          optional
          placeholder="none asked"
          :model-value="spec.stopband?.attenuation ?? null"
          :problem="form.problem('stopband.attenuation')"
          @update:model-value="(v) => form.changeStopband({ attenuation: v })"
        />
      </fieldset>

      <fieldset>
        <legend>Step response</legend>
        <QuantityField
          v-for="r in STEP_REQUIREMENTS"
          :key="r.kind"
          :label="r.name"
          :unit="r.unit"
          optional
          placeholder="not asked"
          :model-value="form.limit(r.kind)"
          @update:model-value="(v) => form.changeLimit(r.kind, v)"
        />
      </fieldset>

      <RequirementList />

      <fieldset>
        <legend>Circuit</legend>
        <div class="row">
          <label for="family">Made as</label>
          <ElSelect
            id="family"
            :persistent="false"
            :model-value="spec.realization?.family"
            placeholder="choose"
            @change="form.changeFamily"
          >
            <ElOption v-for="t in topologies" :key="t.id" :value="t.id" :label="t.name" />
          </ElSelect>
        </div>
        <p v-if="topology" class="hint">{{ topology.character }}</p>
        <template v-for="field in topology?.fields ?? []" :key="field.id">
          <QuantityField
            v-if="field.kind === 'quantity'"
            :label="field.name"
            :unit="field.unit"
            :optional="field.optional ?? false"
            :placeholder="field.optional ? 'open' : undefined"
            :model-value="numberAt(field.id)"
            :problem="form.problem(`realization.${field.id}`)"
            @update:model-value="(v) => form.changeField(field, v)"
          />
          <div v-else class="row">
            <label :for="`field-${field.id}`">{{ field.name }}</label>
            <ElSelect
              :id="`field-${field.id}`"
              :persistent="false"
              :model-value="String(realization[field.id] ?? '')"
              @change="(v: string) => form.changeField(field, v)"
            >
              <ElOption v-for="c in field.choices" :key="c.id" :value="c.id" :label="c.name" />
            </ElSelect>
            <p v-if="form.problem(`realization.${field.id}`)" class="bad" role="alert">
              {{ form.problem(`realization.${field.id}`) }}
            </p>
          </div>
        </template>
        <p v-if="form.problem('realization.family')" class="bad" role="alert">
          {{ form.problem('realization.family') }}
        </p>
        <div class="row">
          <label for="values">Values</label>
          <ElSelect id="values" :persistent="false" :model-value="design.document?.values" @change="setValues">
            <ElOption
              v-for="v in VALUE_CHOICES"
              :key="v"
              :value="v"
              :label="v === 'exact' ? 'as computed' : `preferred, ${v}`"
            />
          </ElSelect>
        </div>
      </fieldset>
    </form>

    <MaskDiagram v-if="spec" class="mask" />
  </div>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
.specify {
  container-type: inline-size;
  display: flex;
  height: 100%;
  min-height: 0;
}

.empty {
  margin: 48px auto;
  max-width: 420px;
  color: var(--ink-soft);
}

.form {
  flex: 0 0 330px;
  overflow: hidden auto;
  padding: 10px 16px 24px;
  border-right: 1px solid var(--line);
}

.order {
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 0;
}

.narrow {
  grid-template-columns: 60px 1fr;
}

.order {
  justify-content: flex-end;
}

.order :deep(.el-radio-group) {
  flex-wrap: nowrap;
}

.order :deep(.el-input-number) {
  width: 96px;
}

.least {
  font-weight: 650;
  font-size: 17px;
}

.whole {
  margin-bottom: 8px;
  padding: 8px 10px;
  border-left: 3px solid var(--missed);
  background: var(--missed-soft);
  color: var(--missed);
  font-size: 13px;
}

.mask {
  flex: 1;
  min-width: 0;
}

@container (max-width: 620px) {
  .form {
    flex-basis: 290px;
    padding-inline: 10px;
  }
}
</style>
