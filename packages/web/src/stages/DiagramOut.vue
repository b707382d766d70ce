<script setup lang="ts">
import { type Diagram, MOST_FIGURES } from '@voskel/core'
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import { fileName, saveFile } from '../components/files'
import { onceOutside } from '../components/onceOutside'
import type { Palette } from '../diagram/palette'
import type { Plot } from '../diagram/plot'
import { touchstoneTopic } from '../engine/jobs/touchstone'
import { lanes } from '../engine/lanes'
import { useDesignStore } from '../stores/design'
import { printPalette } from '../stores/palette'
import type { Computed } from './instrument/Over'
import { portResistors } from './instrument/portSignals'
import { columnsOf, csvOf, jsonOf, nameOfDiagram, rowsOf, type TableForm } from './instrument/table'

/** A diagram taken out: as a picture on white paper or as on the screen, as a table, as text for other programs. */
const { diagram, plot, known, palette } = defineProps<{
  diagram: Diagram
  plot: Plot
  known: Computed
  palette: Palette
}>()
const emit = defineEmits<{ place: [] }>()
const design = useDesignStore()

const onPaper = ref(true)
const form = ref<TableForm>('db')
const isOpen = ref(false)
onceOutside('root', () => (isOpen.value = false))

const colors = () => (onPaper.value ? printPalette() : palette)
const named = (ending: string) => fileName(`${design.document?.name ?? ''} ${nameOfDiagram(diagram)}`, ending)
/** Drawing to files is fetched when it is wanted. */
const picture = () => import('../diagram/picture')
const columns = () => columnsOf(diagram, plot, known, form.value)
const isComplex = computed(() => diagram.over === 'frequency')

const ports = computed(() => {
  const [source, load] = portResistors(known.circuit?.circuit ?? null, known.time?.source ?? 'V1')
  return isComplex.value && source !== undefined && load !== undefined ? ([source, load] as const) : null
})

async function done(what: () => Promise<void>, said: string) {
  try {
    await what()
    if (said) ElMessage.success(said)
    isOpen.value = false
  } catch (error) {
    ElMessage.error(`That did not work: ${(error as Error).message}`)
  }
}
const savePng = async () => saveFile(named('png'), await (await picture()).pngOf(plot, colors()))
const saveSvg = async () => saveFile(named('svg'), (await picture()).svgOf(plot, colors()), 'image/svg+xml')
const saveCsv = async () => saveFile(named('csv'), csvOf(columns()), 'text/csv')
const saveJson = async () => saveFile(named('json'), jsonOf(diagram, columns()))
const copyTable = () => navigator.clipboard.writeText(rowsOf(columns()))
async function copyPicture() {
  const { pngOf } = await picture()
  // Handed over as a promise: the press of the button must still count when the picture is there.
  await navigator.clipboard.write([new ClipboardItem({ 'image/png': pngOf(plot, colors()) })])
}
async function saveTouchstone() {
  const { document } = design
  if (!document || !ports.value) return
  const [from, to] = diagram.x ?? [known.range.from, known.range.to]
  const outcome = await lanes.trace.ask(touchstoneTopic, { ...document, ports: ports.value, from, to })
  if (outcome.kind === 'failed') throw new Error(`${outcome.failure.message} ${outcome.failure.remedy}`)
  if (outcome.kind === 'done') saveFile(named('s2p'), outcome.answer, 'text/plain')
}
</script>

<template>
  <div ref="root" class="out">
    <button type="button" class="plain-button" :aria-expanded="isOpen" @click="isOpen = !isOpen">picture, data</button>
    <div
      v-if="isOpen"
      class="sheet"
      role="group"
      aria-label="Take this diagram out"
      @keydown.escape.stop="isOpen = false"
    >
      <label
        >picture
        <select v-model="onPaper" class="text-field" aria-label="Picture">
          <option :value="true">on white paper</option>
          <option :value="false">as on the screen</option>
        </select></label
      >
      <button type="button" class="plain-button" @click="done(saveSvg, '')">Save as SVG</button>
      <button type="button" class="plain-button" @click="done(savePng, '')">Save as PNG</button>
      <button type="button" class="plain-button" @click="done(copyPicture, 'The picture is on the clipboard.')">
        Copy the picture
      </button>
      <button
        type="button"
        class="plain-button"
        :disabled="!known.circuit?.circuit || (design.document?.figures?.length ?? 0) >= MOST_FIGURES"
        @click="(emit('place'), (isOpen = false))"
      >
        Place it on the drawing
      </button>
      <label v-if="isComplex"
        >table
        <select v-model="form" class="text-field" aria-label="Table">
          <option value="db">dB and degrees</option>
          <option value="complex">real and imaginary</option>
        </select></label
      >
      <button type="button" class="plain-button" @click="done(saveCsv, '')">Save the table as CSV</button>
      <button type="button" class="plain-button" @click="done(copyTable, 'The table is on the clipboard.')">
        Copy the table
      </button>
      <button type="button" class="plain-button" @click="done(saveJson, '')">Save as JSON</button>
      <button v-if="ports" type="button" class="plain-button" @click="done(saveTouchstone, '')">
        Save the two-port {{ ports.join(' to ') }} as Touchstone
      </button>
    </div>
  </div>
</template>

<style scoped src="./sheet.css"></style>
<style scoped>
.out {
  position: relative;
}

.out > button {
  color: var(--ink-soft);
}

.sheet button {
  text-align: left;
}

select {
  width: auto;
  padding: 1px 6px;
}
</style>
