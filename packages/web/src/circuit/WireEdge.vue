<script setup lang="ts">
import { computed } from 'vue'
import type { WireData } from './scene'

/** A wire along the corners that the circuit gives it. */
const { data } = defineProps<{ data: WireData }>()
const d = computed(() => data.pieces.flatMap((piece) => piece.map((p, k) => `${k ? 'L' : 'M'}${p.x} ${p.y}`)).join(''))
</script>

<template>
  <path :d="d" class="wire" />
</template>

<style scoped>
.wire {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.75;
}
</style>
