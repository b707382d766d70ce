<script setup lang="ts">
import { type PartKind, strokesOf } from '@voskel/core'
import { computed } from 'vue'
import { resistorLook } from './look'

/** A kind's symbol, small. */
const { kind } = defineProps<{ kind: PartKind }>()
const strokes = computed(() => strokesOf(kind.symbol, resistorLook.value).join(''))
const box = computed(() => {
  const [w, h] = kind.symbol.half
  const top = kind.symbol.top ?? -h
  return `${-w - 0.2} ${top - 0.2} ${2 * w + 0.4} ${h - top + 0.4}`
})
</script>

<template>
  <svg class="picture" :viewBox="box" aria-hidden="true">
    <path :d="strokes" />
    <path class="filled" :d="(kind.symbol.filled ?? []).join('')" />
  </svg>
</template>

<style scoped>
.picture {
  flex: none;
  width: 38px;
  height: 26px;
}

path {
  fill: none;
  stroke: currentColor;
  stroke-width: 0.16;
}

.filled {
  fill: currentColor;
}
</style>
