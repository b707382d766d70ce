<script setup lang="ts">
import { computed } from 'vue'
import type { Gesture } from './gesture'
import {
  boxBetween,
  followingPath,
  handlesOf,
  labelledBox,
  type MovingShapes,
  pullPath,
  rectOf,
  textsBox,
} from './gestureShapes'
import type { Chosen } from './hit'
import { GRID, type Scene } from './scene'

/** What a hand does with the sheet, while it does: the only thing that is rendered at each of its moves. */
const { scene, gesture, chosen, moving } = defineProps<{
  scene: Scene
  gesture: Gesture
  chosen: Chosen
  moving: MovingShapes | null
}>()

const following = computed(() => (gesture.kind === 'moving' ? followingPath(scene, gesture) : ''))
const pull = computed(() => (gesture.kind === 'pulling' ? pullPath(gesture) : ''))
const isJoining = computed(
  () => gesture.kind === 'pulling' && gesture.over !== null && ['pin', 'wire', 'name'].includes(gesture.over.kind),
)
const frame = computed(() => {
  if (gesture.kind === 'framing') return rectOf(boxBetween(gesture.from, gesture.to))
  return gesture.kind === 'labelling' ? rectOf(labelledBox(scene, gesture)) : null
})
const handles = computed(() => handlesOf(scene, chosen.wires, gesture))
const texts = computed(() => {
  const box = textsBox(scene, chosen.notes)
  return box && rectOf(box, 4)
})
</script>

<template>
  <svg class="layer" aria-hidden="true">
    <path v-if="following" class="wire" :d="following" />
    <g
      v-if="moving && gesture.kind === 'moving'"
      :transform="`translate(${gesture.by.x * GRID} ${gesture.by.y * GRID})`"
    >
      <path v-for="w in moving.wires" :key="w.id" class="wire" :d="w.d" />
      <g v-for="s in moving.symbols" :key="s.id" class="symbol" :transform="s.transform">
        <path :d="s.strokes" />
        <path class="filled" :d="s.filled" />
      </g>
      <text v-for="n in moving.notes" :key="n.id" :x="n.at.x * GRID" :y="(n.at.y + 1) * GRID">{{ n.text }}</text>
    </g>
    <path v-if="pull" class="pull" :class="{ joining: isJoining }" :d="pull" />
    <circle
      v-if="gesture.kind === 'pulling'"
      class="pull-end"
      :class="{ joining: isJoining }"
      :cx="gesture.to.x * GRID"
      :cy="gesture.to.y * GRID"
      r="6"
    />
    <rect v-if="frame" class="frame" v-bind="frame" />
    <rect v-for="h in handles" :key="h.key" class="handle" :x="h.x - 5" :y="h.y - 5" width="10" height="10" />
    <rect v-if="texts" class="frame" v-bind="texts" />
  </svg>
</template>

<style scoped>
.wire {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.7;
}

.symbol path {
  fill: none;
  stroke: var(--accent);
  stroke-width: 0.14;
}

.symbol .filled {
  fill: var(--accent);
}

.pull {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2;
  stroke-dasharray: 6 4;
}

.pull.joining {
  stroke-dasharray: none;
}

.pull-end {
  fill: var(--paper);
  stroke: var(--accent);
  stroke-width: 1.5;
}

.pull-end.joining {
  fill: var(--accent);
}

.frame {
  fill: var(--accent-soft);
  fill-opacity: 0.35;
  stroke: var(--accent);
  stroke-dasharray: 5 4;
}

.handle {
  fill: var(--raised);
  stroke: var(--accent);
  stroke-width: 1.6;
}
</style>
