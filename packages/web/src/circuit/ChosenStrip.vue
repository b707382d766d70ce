<script setup lang="ts">
import type { Circuit, EditCall } from '@voskel/core'
import { computed } from 'vue'

/** What can be done to several chosen parts at once. */
const { circuit, chosen } = defineProps<{ circuit: Circuit; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{ edit: [call: EditCall]; scale: []; block: [] }>()

const parts = computed(() => [...chosen])
const areAside = computed(() => circuit.parts.every((p) => !chosen.has(p.id) || p.aside !== undefined))

const ALIGN = [
  { to: 'row', name: 'row', title: 'Put them in a row' },
  { to: 'column', name: 'column', title: 'Put them in a column' },
  { to: 'even-row', name: 'even →', title: 'Space them evenly along a row' },
  { to: 'even-column', name: 'even ↓', title: 'Space them evenly along a column' },
] as const

const align = (to: (typeof ALIGN)[number]['to']) =>
  emit('edit', { edit: 'align-parts', args: { parts: parts.value, to } })
const turn = (by: 90 | 'mirror') => emit('edit', { edit: 'turn-parts', args: { parts: parts.value, turn: by } })
const aside = (as: 'open' | 'short' | null) => emit('edit', { edit: 'set-aside', args: { parts: parts.value, as } })
</script>

<template>
  <div class="strip" role="group" :aria-label="`${parts.length} parts chosen`" @pointerdown.stop>
    <span class="count">{{ parts.length }} parts</span>
    <button v-for="a in ALIGN" :key="a.to" type="button" class="pill" :title="a.title" @click="align(a.to)">
      {{ a.name }}
    </button>
    <button type="button" class="pill" @click="turn(90)">turn</button>
    <button type="button" class="pill" @click="turn('mirror')">mirror</button>
    <button v-if="areAside" type="button" class="pill" @click="aside(null)">put back</button>
    <template v-else>
      <button type="button" class="pill" title="Set them aside, their pins open" @click="aside('open')">aside</button>
      <button type="button" class="pill" title="Set them aside, their pins joined" @click="aside('short')">
        short
      </button>
    </template>
    <button type="button" class="pill" @click="emit('scale')">scale</button>
    <button type="button" class="pill" title="Make a block of them" @click="emit('block')">block</button>
  </div>
</template>

<style scoped>
.strip {
  justify-content: flex-end;
}

.count {
  padding: 1px 4px;
  color: var(--ink-soft);
}
</style>
