<script setup lang="ts">
import { formatQuantity, type Part, partKind } from '@voskel/core'
import { computed } from 'vue'

/** What a hand sets on a part: a switch is thrown, a potentiometer turned. */
const { part, value } = defineProps<{ part: Part; value: number | null }>()
const emit = defineEmits<{ turn: [part: string, field: string, value: number, group: string] }>()

const hand = computed(() => partKind(part.kind).hand!)
const STEPS = 100
/** From one hold to the next. */
let holds = 0
const group = `${part.id} held at ${performance.now()}`
const set = (value: number) => emit('turn', part.id, hand.value.field, value, `${group} ${holds}`)
const turned = (event: Event) => set(Number((event.target as HTMLInputElement).value))
</script>

<template>
  <div class="hand" @pointerdown.stop>
    <template v-if="hand.positions">
      <button
        v-for="p in hand.positions"
        :key="p.value"
        type="button"
        class="pill"
        :aria-label="`${part.id} ${p.name}`"
        :aria-pressed="value === p.value"
        @click="(holds++, set(p.value))"
      >
        {{ p.name }}
      </button>
    </template>
    <label v-if="hand.way">
      <input
        type="range"
        :aria-label="`${part.id} turned to`"
        :min="hand.way[0]"
        :max="hand.way[1]"
        :step="(hand.way[1] - hand.way[0]) / STEPS"
        :value="value ?? hand.way[0]"
        @input="turned"
        @change="holds++"
      />
      <output>{{ value === null ? 'not known' : formatQuantity(value, '', 3) }}</output>
    </label>
  </div>
</template>

<style scoped>
.hand {
  display: flex;
  gap: 4px;
}

label {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 6px;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--raised);
}

input {
  width: 96px;
  accent-color: var(--accent);
}

output {
  min-width: 34px;
  font-variant-numeric: tabular-nums;
}
</style>
