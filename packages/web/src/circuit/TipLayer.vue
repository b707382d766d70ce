<script setup lang="ts">
import type { GridPoint, GrowWay } from '@voskel/core'
import type { Ghost } from './ghost'
import { GRID } from './scene'

/** The tip of the drawing, and what would grow from it. */
defineProps<{ at: GridPoint | null; way: GrowWay | null; ghost: Ghost | null }>()
</script>

<template>
  <svg class="layer" aria-hidden="true">
    <g v-if="ghost" class="ghost">
      <path class="wire" :d="ghost.wires" />
      <g v-for="s in ghost.symbols" :key="s.id" :transform="s.transform">
        <path :d="s.strokes" />
        <path class="filled" :d="s.filled" />
      </g>
    </g>
    <g v-if="at" class="tip" :transform="`translate(${at.x * GRID} ${at.y * GRID})`">
      <circle r="7" />
      <circle class="core" r="2.2" />
      <path v-if="way" class="way" :class="way" d="M12 0H24M19 -4L24 0L19 4" />
    </g>
  </svg>
</template>

<style scoped>
.ghost path {
  fill: none;
  stroke: var(--accent);
  stroke-width: 0.14;
  stroke-dasharray: 0.3 0.2;
}

.ghost .wire {
  stroke-width: 1.7;
  stroke-dasharray: 4 3;
}

.tip circle {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2.2;
}

.tip .core {
  fill: var(--accent);
  stroke: none;
}

.tip .way {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2;
}

.tip .ground {
  transform: rotate(90deg);
}

.tip .back {
  transform: rotate(180deg);
}

.tip .supply {
  transform: rotate(-90deg);
}
</style>
