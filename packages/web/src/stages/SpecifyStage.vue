<script lang="ts">
/** Once the page is there, a form comes with its stage. */
let isPageThere = false
</script>

<script setup lang="ts">
import {
  approximation,
  formatQuantity,
  isShaped,
  parseSpec,
  REQUIREMENT_KINDS,
  RESPONSES,
  shapes,
  topologies,
  VALUE_CHOICES,
  type ValueChoice,
  withSpecification,
  withValueChoice,
} from '@voskel/core'
import { ElButton, ElOption, ElOptionGroup, ElSelect } from 'element-plus'
import { computed, onMounted, ref, watch } from 'vue'
import QuantityField from '../components/QuantityField.vue'
import MaskDiagram from './MaskDiagram.vue'
import { useDesignStore } from '../stores/design'
import { useWhatItIsStore, whatItIsText } from '../stores/whatItIs'
import AdviceLine from './AdviceLine.vue'
import AmplifierNotes from './AmplifierNotes.vue'
import BandFields from './BandFields.vue'
import EqualizerFields from './EqualizerFields.vue'
import FieldRow from './FieldRow.vue'
import RequirementList from './RequirementList.vue'
import ShapeFields from './ShapeFields.vue'
import { useSpecForm } from './specForm'

/** What the filter must do: the form, and the tolerance mask over the ideal response. */
const design = useDesignStore()
const form = useSpecForm()
const { spec, banded, shape, topology, general } = form

/** Of a page that is being opened the chart is drawn first, and the form in the frame after it. */
const isFormDue = ref(isPageThere)
onMounted(() => requestAnimationFrame(() => setTimeout(() => (isPageThere = isFormDue.value = true))))

/** What a drawn circuit is, and could promise: what it does today. */
const whatItIs = useWhatItIsStore()
watch(
  () => design.document,
  (document) => {
    if (document?.circuit.origin === 'drawn' && !document.specification) void whatItIs.ask()
  },
  { immediate: true },
)
const first = computed(() => whatItIs.answer?.proposed ?? null)
const firstText = computed(() => {
  if (!first.value || isShaped(first.value)) return ''
  const { approximation: family, order, response, passband, stopband, gain } = first.value
  const edges = passband.edges?.map((f) => formatQuantity(f, 'Hz', 3)).join(' to ')
  return [
    `${approximation(family).name} ${RESPONSES.find((r) => r.id === response)!.name.toLowerCase()} of order ${order}`,
    edges,
    passband.ripple !== undefined && `ripple ${formatQuantity(passband.ripple, 'dB', 3)}`,
    stopband?.attenuation !== undefined && `attenuation ${formatQuantity(stopband.attenuation as number, 'dB', 3)}`,
    `gain ${formatQuantity(gain ?? 0, 'dB', 3)}`,
  ]
    .filter(Boolean)
    .join(', ')
})

function promise() {
  if (design.document && first.value)
    design.edit('what it does today promised', withSpecification(design.document, parseSpec(first.value)))
}

/** What the form has a field for at once. */
const usual = REQUIREMENT_KINDS.filter((k) => k.usual)

const realization = computed(() => (spec.value?.realization ?? {}) as Record<string, unknown>)

/** Ways to make the circuit: with coils, and with amplifiers. */
const GROUPS = [
  { name: 'Coils, capacitors and resistors', topologies: topologies.filter((t) => t.family === 'passive') },
  { name: 'Amplifiers', topologies: topologies.filter((t) => t.family === 'active') },
]

/** Shapes' names stand inside sentences; in the list they begin with a capital. */
const capital = (name: string) => name[0]!.toUpperCase() + name.slice(1)

const responseName = computed(() =>
  capital((RESPONSES.find((r) => r.id === spec.value?.response) ?? shape.value)?.name ?? ' '),
)

function setValues(choice: ValueChoice) {
  if (design.document) design.edit('series of values', withValueChoice(design.document, choice))
}

const wholeProblem = computed(() => form.problem('', 'realization', 'requirements', 'evenOrder') || general.value)
</script>

<template>
  <div class="specify">
    <div v-if="!spec" class="empty">
      <p>Nothing is required of this circuit yet: it was drawn, and its curves are under Frequency and Time.</p>
      <p v-if="whatItIs.answer">What it is: {{ whatItIsText(whatItIs.answer.recognised) }}.</p>
      <p v-else-if="whatItIs.failure" role="status">What it is cannot be said: {{ whatItIs.failure }}</p>
      <template v-if="first">
        <p>
          What it does today can be promised: {{ firstText }}. The circuit stays as it is drawn; what is asked and what
          it does then stand side by side.
        </p>
        <ElButton type="primary" @click="promise">Promise what it does today</ElButton>
      </template>
      <p v-else>As soon as it has a cutoff, that can be promised here.</p>
    </div>
    <div v-else-if="!isFormDue" class="form" aria-busy="true" />
    <form v-else class="form" aria-label="Specification" @submit.prevent @focusout="design.endGroup()">
      <p v-if="wholeProblem" class="whole" role="alert">{{ wholeProblem }}</p>

      <fieldset>
        <legend>Response</legend>
        <div class="row narrow">
          <label for="response">Kind</label>
          <ElSelect id="response" :persistent="false" :model-value="spec.response" @change="form.changeResponse">
            <template #label>{{ responseName }}</template>
            <ElOptionGroup label="By an approximation">
              <ElOption v-for="r in RESPONSES" :key="r.id" :value="r.id" :label="capital(r.name)" />
            </ElOptionGroup>
            <ElOptionGroup label="By its own values">
              <ElOption v-for="s in shapes" :key="s.id" :value="s.id" :label="capital(s.name)" />
            </ElOptionGroup>
          </ElSelect>
        </div>
        <p v-if="shape" class="hint">{{ shape.character }}</p>
        <ShapeFields v-if="shape" />
        <QuantityField
          label="Gain"
          unit="dB"
          :model-value="spec.gain ?? 0"
          :problem="form.problem('gain')"
          @update:model-value="(v) => v !== null && form.change('gain', { gain: v }, 'gain')"
        />
      </fieldset>

      <BandFields v-if="banded" />
      <EqualizerFields v-if="banded && banded.response !== 'allpass'" />

      <fieldset>
        <legend>Step response</legend>
        <QuantityField
          v-for="r in usual"
          :key="r.kind"
          :label="`${r.name} ${r.sense}`"
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
        <div class="row narrow">
          <label for="family">Made as</label>
          <ElSelect
            id="family"
            :persistent="false"
            filterable
            :model-value="spec.realization?.family"
            placeholder="choose"
            @change="form.changeFamily"
          >
            <template #label>{{ topology?.name }}</template>
            <ElOptionGroup v-for="g in GROUPS" :key="g.name" :label="g.name">
              <ElOption v-for="t in g.topologies" :key="t.id" :value="t.id" :label="t.name" />
            </ElOptionGroup>
          </ElSelect>
        </div>
        <!-- What a family cannot make is told where the family is chosen: with who can. -->
        <p v-if="form.problem('realization.family', 'response')" class="bad" role="alert">
          {{ form.problem('realization.family', 'response') }}
        </p>
        <p v-if="topology" class="hint">{{ topology.character }}</p>
        <FieldRow
          v-for="field in topology?.fields ?? []"
          :key="`${topology?.id} ${field.id}`"
          :field="field"
          :value="realization[field.id]"
          :problem="form.problem(`realization.${field.id}`)"
          @change="(v) => form.changeField(field, v)"
        />
        <AmplifierNotes v-if="topology?.family === 'active'" />
        <div class="row narrow">
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

    <div v-if="spec" class="mask">
      <MaskDiagram class="diagram" />
      <AdviceLine />
    </div>
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

.empty p {
  margin: 0 0 10px;
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

.whole {
  margin-bottom: 8px;
  padding: 8px 10px;
  border-left: 3px solid var(--missed);
  background: var(--missed-soft);
  color: var(--missed);
  font-size: 13px;
}

.mask {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}

.diagram {
  flex: 1;
  min-height: 0;
}

@container (max-width: 620px) {
  .form {
    flex-basis: 290px;
    padding-inline: 10px;
  }
}
</style>
