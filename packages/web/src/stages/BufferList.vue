<script setup lang="ts">
import { type BufferCost, bufferText } from '@voskel/core'
import { computed, onScopeDispose } from 'vue'
import { useBuffersStore } from '../stores/followed'
import { useSheetStore } from '../stores/sheet'
import { useSpecForm } from './specForm'

/** Amplifiers that only buffer: one amplifier each, against the error of doing without. */
const form = useSpecForm()
const sheet = useSheetStore()
const buffers = useBuffersStore()
onScopeDispose(buffers.look())

const found = computed(() => buffers.answer ?? [])
/** Which field of the family puts a follower at the output. */
const field = computed(() => form.topology.value?.fields.find((f) => f.id === 'buffer') ?? null)

const leave = ({ part, isOut }: BufferCost) =>
  sheet.act({ edit: 'set-aside', args: { parts: [part!], as: isOut ? null : 'short' } })
</script>

<template>
  <section aria-labelledby="buffers-title" class="buffers">
    <h4 id="buffers-title">Amplifiers that only buffer</h4>
    <p v-if="buffers.failure" class="bad" role="status">{{ buffers.failure }}</p>
    <p v-else-if="buffers.answer && found.length === 0" class="hint">None: every stage takes the next one as it is.</p>
    <ul v-else>
      <li v-for="b in found" :key="b.part ?? b.place">
        <span>
          <b>{{ b.part ?? 'None' }}</b> {{ b.place }}.
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
h4 {
  margin: 4px 0 2px;
  color: var(--ink-soft);
  font-size: 13px;
  font-weight: 400;
}

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
