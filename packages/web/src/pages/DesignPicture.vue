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
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import SmallPicture from '../circuit/SmallPicture.vue'

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
</script>

<template>
  <span ref="root" class="picture" aria-hidden="true">
    <SmallPicture v-if="circuit" :circuit="circuit" :width="120" :height="44" />
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
