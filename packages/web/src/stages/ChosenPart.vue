<script setup lang="ts">
import { bufferText, type Circuit, formatQuantity, type Part } from '@voskel/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import PartPanel from '../circuit/PartPanel.vue'
import { roleOf } from '../circuit/sectionLayer'
import { seesTopic } from '../engine/jobs/sees'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'
import { useAmplifiersStore } from '../stores/followed'
import { useResultsStore } from '../stores/results'
import { useSheetStore } from '../stores/sheet'
import { useShelfStore } from '../stores/shelf'
import { useViewStore } from '../stores/view'

/** The chosen part in detail: what it says, what it sees of the circuit, and what it is there for. */
const { part, circuit } = defineProps<{ part: Part; circuit: Circuit }>()
const emit = defineEmits<{ close: [] }>()
const design = useDesignStore()
const results = useResultsStore()
const sheet = useSheetStore()
const shelf = useShelfStore()
const view = useViewStore()
const amplifiers = useAmplifiersStore()

if (part.kind === 'opamp') onScopeDispose(amplifiers.look())

const does = computed(() => {
  // A block has names of its own.
  if (sheet.inside !== null) return ''
  const buffer = amplifiers.answer?.buffers.find((b) => b.part === part.id)
  return buffer ? `only buffers, ${buffer.place}. ${bufferText(buffer)}` : roleOf(results.sectionSteps, part.id)
})

const sees = ref<string | null>(null)
watch(
  () => design.document,
  async (document) => {
    sees.value = null
    if (!document) return
    const outcome = await lanes.trace.ask(seesTopic, { ...document, part: part.id })
    if (outcome.kind !== 'done' || !outcome.answer || document !== design.document) return
    const { impedance, openVoltage, corner } = outcome.answer
    const q = formatQuantity
    const behind = corner === null ? '' : `, corner ${q(corner, 'Hz')}`
    sees.value = `sees ${q(impedance, 'Ω')}, and ${q(100 * openVoltage, '%')} of the input without it${behind}`
  },
  { immediate: true },
)
</script>

<template>
  <PartPanel
    :part="part"
    :circuit="circuit"
    :shelf="shelf.modelsOf(part.kind)"
    :matches="view.pinMatches"
    :sees="sees"
    :does="does"
    @edit="(call) => sheet.act(call)"
    @turn="sheet.turn"
    @close="emit('close')"
    @open="sheet.openBlock"
    @match="(key, over) => (view.pinMatches = { ...view.pinMatches, [key]: over })"
    @look="shelf.look"
    @shelf="(index) => sheet.takeModel(part.id, shelf.modelsOf(part.kind)[index]!.piece)"
  />
</template>
