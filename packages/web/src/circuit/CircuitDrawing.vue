<script setup lang="ts">
import '@vue-flow/core/dist/style.css'
import type { Circuit } from '@voskel/core'
import { ConnectionMode, useVueFlow, VueFlow } from '@vue-flow/core'
import { computed, nextTick, watch } from 'vue'
import JunctionNode from './JunctionNode.vue'
import NetNode from './NetNode.vue'
import PartNode from './PartNode.vue'
import { GRID, sceneOf } from './scene'
import WireEdge from './WireEdge.vue'

/** The circuit, drawn. Drag moves the sheet, the wheel zooms; values are typed on the parts. */
const { circuit, fixed } = defineProps<{
  circuit: Circuit
  /** It is only looked at. */
  fixed?: boolean
}>()
const emit = defineEmits<{ value: [part: string, field: string, value: number]; select: [part: string | null] }>()

const flow = useVueFlow()
/** Pixels beside the drawing: names and values stand beyond the parts' own outlines. */
const MARGIN = { x: 140, y: 100 }

/** The zoom below which names and values are too small to read. */
const READABLE = 0.72

/** The sheet as it can be read at, in grid units; unknown until it is laid out. */
const sheet = computed(() => {
  const { width, height } = flow.dimensions.value
  const unit = GRID * READABLE
  return width > 0 ? { width: (width - MARGIN.x) / unit, height: (height - MARGIN.y) / unit } : undefined
})
const scene = computed(() => sceneOf(circuit, sheet.value))
/** What decides where things lie: a change of it shows the whole drawing again, a change of values does not. */
const layout = computed(() => scene.value.nodes.map((n) => `${n.id}@${n.position.x},${n.position.y}`).join())

const fit = () => flow.fitView({ padding: { x: '60px', y: '50px', right: '80px' }, maxZoom: 1.6, minZoom: 0.2 })
watch(layout, async () => {
  await nextTick()
  // Nodes are measured in the frame after they are laid down.
  requestAnimationFrame(() => void fit())
})
flow.onNodesInitialized(() => void fit())

/** Brings a part into the middle and marks it. */
function look(part: string) {
  const node = flow.findNode(`part ${part}`)
  if (!node) return
  flow.removeSelectedElements()
  flow.addSelectedNodes([node])
  void flow.fitView({ nodes: [node.id], maxZoom: 1.6, padding: 2, duration: 200 })
  emit('select', part)
}
defineExpose({ fit, look })
</script>

<template>
  <VueFlow
    :nodes="scene.nodes"
    :edges="scene.edges"
    :nodes-draggable="false"
    :nodes-connectable="false"
    :edges-focusable="false"
    :nodes-focusable="false"
    :connection-mode="ConnectionMode.Loose"
    :min-zoom="0.2"
    :max-zoom="4"
    :delete-key-code="null"
    aria-label="Circuit drawing"
    @node-click="({ node }) => emit('select', node.type === 'part' ? node.data.part.id : null)"
    @pane-click="emit('select', null)"
  >
    <template #node-part="node">
      <PartNode
        :data="node.data"
        :fixed="fixed"
        :selected="node.selected"
        @value="(part, field, value) => emit('value', part, field, value)"
      />
    </template>
    <template #node-junction="node"><JunctionNode :data="node.data" /></template>
    <template #node-net="node"><NetNode :data="node.data" /></template>
    <template #edge-wire="edge"><WireEdge :data="edge.data" /></template>
  </VueFlow>
</template>
