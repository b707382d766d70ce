<script setup lang="ts">
import { computed } from 'vue'

/** A curve the size of a word, to be told from its neighbours at a glance; what it says in numbers stands beside it. */
const { y, from, to } = defineProps<{
  /** Evenly spaced. */
  y: readonly number[]
  /** What the lower and the upper edge are. */
  from: number
  to: number
}>()

const [WIDTH, HEIGHT, EDGE] = [76, 26, 1.5]

const path = computed(() =>
  y
    .map((value, k) => {
      const share = Math.min(1, Math.max(0, (value - from) / (to - from || 1)))
      const at = [(WIDTH * k) / (y.length - 1), HEIGHT - EDGE - (HEIGHT - 2 * EDGE) * share]
      return `${k === 0 ? 'M' : 'L'}${at.map((v) => v.toFixed(1)).join(' ')}`
    })
    .join(''),
)
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" :width="WIDTH" :height="HEIGHT" aria-hidden="true">
    <path :d="path" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}

path {
  fill: none;
  stroke: currentColor;
  stroke-linejoin: round;
  stroke-width: 1.4;
}
</style>
