<script lang="ts">
import type { Circuit, Design } from '@voskel/core'
import { circuitTopic } from '../engine/jobs/circuit'
import { lanes } from '../engine/lanes'

/** One after the other: a newer question of its kind would take the place of an older one. */
let last: Promise<unknown> = Promise.resolve()
function inTurn<T>(step: () => Promise<T>): Promise<T> {
  const next = last.then(step)
  last = next.catch(() => undefined)
  return next
}

/** The circuit of a design that was never opened. */
async function circuitOf(document: Design): Promise<Circuit | null> {
  const outcome = await lanes.trace.ask(circuitTopic, document)
  return outcome.kind === 'done' ? (outcome.answer?.circuit ?? null) : null
}
</script>

<script setup lang="ts">
import { isDrawn, patched } from '@voskel/core'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import CircuitLayers from '../circuit/CircuitLayers.vue'
import { resistorLook } from '../circuit/look'
import { GRID, sceneOf } from '../circuit/scene'

/** A small picture of a design's circuit, fetched when it comes into view; the sign of a response where it has none. */
const { design, changed } = defineProps<{ design: string; changed: number }>()

const root = ref<HTMLElement | null>(null)
const circuit = shallowRef<Circuit | null>(null)
const seen = ref(false)

async function fetchIt() {
  const answer = await api.readDesign(design)
  if (!answer.ok) return
  const { document } = answer.value
  const own = document.circuit
  const drawn =
    own.origin === 'drawn'
      ? own.circuit
      : own.witness
        ? patched(own.witness, own.patches).circuit
        : await inTurn(() => circuitOf(document))
  circuit.value = drawn && isDrawn(drawn) ? drawn : null
}

let observer: IntersectionObserver | null = null
onMounted(() => {
  observer = new IntersectionObserver(([entry]) => {
    if (!entry?.isIntersecting) return
    observer?.disconnect()
    seen.value = true
  })
  observer.observe(root.value!)
})
onBeforeUnmount(() => observer?.disconnect())
watch([seen, () => changed], () => seen.value && void fetchIt())

const SIZE = { width: 120, height: 44 }
const scene = computed(() => circuit.value && sceneOf(circuit.value, undefined, resistorLook.value))
const placed = computed(() => {
  const bounds = scene.value?.bounds
  if (!bounds) return {}
  const [w, h] = [(bounds.right - bounds.left) * GRID, (bounds.bottom - bounds.top) * GRID]
  const k = Math.min(SIZE.width / w, SIZE.height / h, 0.5)
  const x = (SIZE.width - k * w) / 2 - k * bounds.left * GRID
  const y = (SIZE.height - k * h) / 2 - k * bounds.top * GRID
  return {
    transform: `translate(${x}px, ${y}px) scale(${k})`,
    // As thick on the screen whatever the size.
    '--wire': `${1 / k}px`,
    '--stroke': 1.1 / (k * GRID),
  }
})
</script>

<template>
  <span ref="root" class="picture" aria-hidden="true">
    <span v-if="scene" class="world" :style="placed"><CircuitLayers :scene="scene" /></span>
    <svg v-else viewBox="0 0 120 44"><path d="M20 12C60 12 64 12 72 20S84 36 100 36" /></svg>
  </span>
</template>

<style scoped>
.picture {
  position: relative;
  flex: none;
  width: 120px;
  height: 44px;
  overflow: hidden;
}

/* Too small to be read: the shape is what is known again. */
.world :deep(.words) {
  display: none;
}

.world :deep(.wires path) {
  stroke-width: var(--wire);
}

.world :deep(.symbols path) {
  stroke-width: var(--stroke);
}

.world {
  position: absolute;
  top: 0;
  left: 0;
  transform-origin: 0 0;
}

svg {
  width: 120px;
  height: 44px;
}

path {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1.5;
}
</style>
