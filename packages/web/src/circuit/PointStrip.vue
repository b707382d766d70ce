<script setup lang="ts">
import { type Circuit, type GridPoint, NetMap, partKind, type Spot } from '@voskel/core'
import { computed } from 'vue'
import type { Chosen } from './hit'

/** What can be seen of what is pointed at: a net, a pair of nets, a part, a source. */
const { circuit, tip, chosen, shown, output, input } = defineProps<{
  circuit: Circuit
  tip: Spot
  chosen: Chosen
  /** Signals that are drawn in the diagrams. */
  shown: ReadonlySet<string>
  output: string
  /** The source that is the input. */
  input: string | null
}>()
const emit = defineEmits<{
  show: [signal: string]
  output: [signal: string]
  input: [source: string]
  /** The loop is to be opened where the tip is, for its gain. */
  loop: [wire: string, at: GridPoint]
}>()

const quoted = (net: string) => (/^[A-Za-z_]\w*$/.test(net) ? net : `"${net}"`)
const nets = computed(() => NetMap.of(circuit))
const net = computed(() => {
  const end = 'wire' in tip ? circuit.wires.find((w) => w.id === tip.wire)?.ends[0] : 'at' in tip ? undefined : tip
  const found = end ? nets.value.netAt(end) : null
  return found === '0' ? null : found
})
const pair = computed(() => {
  const names = [...chosen.labels].flatMap((id) => circuit.labels.filter((l) => l.id === id).map((l) => l.name))
  return names.length === 2 && names[0] !== names[1] ? names : null
})
const part = computed(() => {
  const [id, more] = [...chosen.parts]
  const found = more === undefined ? circuit.parts.find((p) => p.id === id) : undefined
  return found && partKind(found.kind).pins.length > 1 ? found : null
})

/** Signals that can be shown of what is pointed at. */
const signals = computed(() => {
  if (pair.value) {
    const of = pair.value.map(quoted).join(',')
    return [`v(${of})`, `z(${of})`]
  }
  if (part.value) {
    const { id, kind } = part.value
    const source = partKind(kind).takesWaveform ? [`z(${id})`] : []
    return [`i(${id})`, `p(${id})`, ...source]
  }
  return net.value === null ? [] : [`v(${quoted(net.value)})`, `z(${quoted(net.value)})`]
})
const outputs = computed(() => signals.value.filter((s) => s.startsWith('v(') || (part.value && s.startsWith('i('))))
const isSource = computed(() => part.value !== null && partKind(part.value.kind).takesWaveform === true)
</script>

<template>
  <div v-if="signals.length" class="strip" role="group" aria-label="What is seen here" @pointerdown.stop>
    <button
      v-for="s in signals"
      :key="s"
      type="button"
      class="pill"
      :aria-pressed="shown.has(s)"
      :title="shown.has(s) ? 'Take it out of the diagrams' : 'Show it over frequency and time'"
      @click="emit('show', s)"
    >
      {{ s }}
    </button>
    <button
      v-for="s in outputs"
      :key="`output ${s}`"
      type="button"
      class="pill role"
      :aria-pressed="output === s"
      @click="emit('output', s)"
    >
      {{ output === s ? 'is the output' : 'make it the output' }}
    </button>
    <button v-if="'wire' in tip" type="button" class="pill role" @click="emit('loop', tip.wire, tip.at)">
      open a loop here
    </button>
    <button
      v-if="isSource && part"
      type="button"
      class="pill role"
      :aria-pressed="input === part.id"
      @click="emit('input', part.id)"
    >
      {{ input === part.id ? 'is the input' : 'make it the input' }}
    </button>
  </div>
</template>

<style scoped>
.role {
  border-style: dashed;
}
</style>
