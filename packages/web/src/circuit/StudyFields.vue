<script setup lang="ts">
import type { Circuit, StudySettings, TypedValue } from '@voskel/core'
import TypedField from './TypedField.vue'

/** How the circuit is looked at: temperature, what a run over time begins from, voltages of nets then. */
const { study, circuit } = defineProps<{ study: StudySettings; circuit: Circuit; nets: readonly string[] }>()
const emit = defineEmits<{ change: [study: Partial<StudySettings>]; initial: [net: string, voltage: number | null] }>()

const voltageOf = (net: string) => circuit.initial?.[net] ?? null
const setInitial = (net: string, typed: TypedValue | null) => emit('initial', net, typed && typed.value)
</script>

<template>
  <div class="study">
    <div class="column">
      <TypedField
        label="Temperature, °C"
        unit=""
        :value="study.temperature ?? null"
        :circuit="circuit"
        optional="27"
        @typed="(v) => emit('change', { temperature: v?.value })"
      />
      <fieldset>
        <legend>A run over time begins from</legend>
        <label
          ><input
            type="radio"
            name="start"
            :checked="study.start === undefined || study.start === 'op'"
            @change="emit('change', { start: undefined })"
          />
          the operating point</label
        >
        <label
          ><input
            type="radio"
            name="start"
            :checked="study.start === 'zero'"
            @change="emit('change', { start: 'zero' })"
          />
          rest: nothing stored, but for the voltages typed here</label
        >
        <label
          ><input
            type="radio"
            name="start"
            :checked="study.start === 'settled'"
            @change="emit('change', { start: 'settled' })"
          />
          where it settles: after any number of periods of its sources</label
        >
      </fieldset>
    </div>
    <div class="column">
      <p class="soft">Voltages at the start</p>
      <TypedField
        v-for="net in nets"
        :key="net"
        :label="net"
        unit="V"
        :value="voltageOf(net)"
        :circuit="circuit"
        optional="as it rests"
        @typed="(v) => setInitial(net, v)"
      />
      <p v-if="nets.length === 0" class="soft">No net has a name yet.</p>
    </div>
  </div>
</template>

<style scoped>
.study {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 40px;
  padding: 8px 14px;
  overflow: auto;
}

.column {
  display: grid;
  flex: 1;
  gap: 4px;
  align-content: start;
  min-width: 250px;
  max-width: 360px;
}

fieldset {
  display: grid;
  padding: 4px 0;
  border: 0;
}

legend {
  padding: 0;
  color: var(--ink-soft);
}

p {
  margin: 0;
}
</style>
