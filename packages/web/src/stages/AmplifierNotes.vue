<script setup lang="ts">
import { amplifierNeedText, type BufferCost, bufferText } from '@voskel/core'
import { computed, onScopeDispose } from 'vue'
import { useAmplifiersStore } from '../stores/followed'
import { useSheetStore } from '../stores/sheet'
import { useSpecForm } from './specForm'

/** What the amplifiers of a circuit have to be; those that only buffer against the error of doing without. */
const form = useSpecForm()
const sheet = useSheetStore()
const amplifiers = useAmplifiersStore()
onScopeDispose(amplifiers.look())

const found = computed(() => amplifiers.answer?.buffers ?? [])
const need = computed(() => amplifiers.answer?.need ?? null)
/** Which field of the family puts a follower at the output. */
const field = computed(() => form.topology.value?.fields.find((f) => f.id === 'buffer') ?? null)

const leave = ({ part, isOut }: BufferCost) =>
  sheet.act({ edit: 'set-aside', args: { parts: [part!], as: isOut ? null : 'short' } })
</script>

<template>
  <section aria-label="What the amplifiers are for" class="amplifiers">
    <p v-if="amplifiers.failure" class="bad">{{ amplifiers.failure }}</p>
    <p v-else-if="need" class="hint">{{ amplifierNeedText(need) }}</p>
    <p v-for="text in amplifiers.answer?.exceeded ?? []" :key="text" class="bad">{{ text }}</p>
    <ul v-if="found.length > 0">
      <li v-for="b in found" :key="b.part ?? b.place">
        <span>
          <b>{{ b.part ?? 'No follower' }}</b> {{ b.part === null ? b.place : `only buffers, ${b.place}` }}.
          <span :class="{ bad: b.isOut && b.breaks.length > 0 }">{{ bufferText(b) }}</span>
        </span>
        <button v-if="b.part !== null" type="button" class="plain-button" @click="leave(b)">
          {{ b.isOut ? 'Put back' : 'Leave out' }}<span class="visually-hidden"> {{ b.part }}</span>
        </button>
        <button v-else-if="field" type="button" class="plain-button" @click="form.changeField(field, true)">
          Put one in
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped src="./specifyForm.css"></style>
<style scoped>
ul {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  font-size: 13px;
  list-style: none;
}

li {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
}

li button {
  flex: none;
}
</style>
