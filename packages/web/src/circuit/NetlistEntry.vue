<script setup lang="ts">
import type { Circuit } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { chooseFile } from '../components/files'
import TextEditor from '../components/TextEditor.vue'
import { type DrawnNetlist, netlistTopic } from '../engine/jobs/netlist'
import { lanes } from '../engine/lanes'
import ProblemList from './ProblemList.vue'

/** A netlist on its way to a drawing: pasted, chosen or dropped, with what cannot be read marked in its lines. */
const { begin = '' } = defineProps<{ begin?: string }>()
const emit = defineEmits<{ draw: [circuit: Circuit]; close: [] }>()

/** ms without a key after which a text is read. */
const PAUSE = 200

const HINT = `Paste a netlist here: the first line is its title, then one element a line.

Low-pass of the cable end
V1 in 0 AC 1
R1 in out 1k
C1 out 0 10n`

const text = ref(begin)
const read = shallowRef<DrawnNetlist | null>(null)
/** The text that was read last. */
const readText = ref('')
const over = ref(false)
const editor = ref<InstanceType<typeof TextEditor> | null>(null)

let timer: ReturnType<typeof setTimeout> | undefined
watch(text, () => {
  clearTimeout(timer)
  timer = setTimeout(() => void look(), PAUSE)
})
onMounted(async () => {
  void look()
  await nextTick()
  editor.value?.focus()
})

async function look(): Promise<DrawnNetlist | null> {
  const asked = text.value
  if (asked.trim() === '') {
    read.value = null
    readText.value = asked
    return null
  }
  const outcome = await lanes.trace.ask(netlistTopic, asked)
  if (outcome.kind !== 'done') return null
  read.value = outcome.answer
  readText.value = asked
  return outcome.answer
}

const problems = computed(() => read.value?.problems ?? [])
const marks = computed(() =>
  problems.value.map(({ place, message, remedy }) => ({
    line: place.line ?? 1,
    column: place.column ?? 1,
    message: `${message} ${remedy}`,
  })),
)
const count = computed(() => read.value?.circuit.parts.filter((p) => p.kind !== 'ground').length ?? 0)
const isEmpty = computed(() => text.value.trim() === '')
const state = computed(() => {
  if (isEmpty.value) return ''
  if (readText.value !== text.value) return 'Reading …'
  const parts = `${count.value} ${count.value === 1 ? 'part' : 'parts'}`
  if (count.value === 0) return 'There is no element in this text that can be read.'
  const wrong = problems.value.length
  return wrong === 0
    ? `${parts}, nothing left out.`
    : `${parts}; ${wrong} ${wrong === 1 ? 'line is' : 'lines are'} not read as written.`
})

async function draw() {
  // What waits to be read would take this question's place.
  clearTimeout(timer)
  const found = readText.value === text.value ? read.value : await look()
  if (found && found.circuit.parts.length > 0) emit('draw', found.circuit)
}

async function takeFile(file: File | undefined | null) {
  if (file) text.value = (await file.text()).replace(/^\ufeff/, '')
}

/** Puts a file's text in the place of the line that names it. */
async function include(line: number) {
  const file = await chooseFile('')
  if (!file) return
  const lines = text.value.split(/\r\n|\n|\r/)
  const own = (await file.text()).replace(/^\ufeff/, '').split(/\r\n|\n|\r/)
  // A file of models has no title of its own; `.end` would end all.
  lines.splice(line - 1, 1, `* ${file.name}`, ...own.filter((l) => !/^\s*\.end\s*$/i.test(l)))
  text.value = lines.join('\n')
}

function drop(event: DragEvent) {
  over.value = false
  void takeFile(event.dataTransfer?.files[0])
}
</script>

<template>
  <div
    class="entry"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent.capture="drop"
  >
    <TextEditor
      ref="editor"
      class="text"
      label="Netlist"
      :text="text"
      :marks="marks"
      :hint="HINT"
      @update="(next) => (text = next)"
      @done="draw"
      @leave="emit('close')"
    />
    <ul v-if="read?.files.length" class="files">
      <li v-for="f in read.files" :key="f.line">
        Line {{ f.line }} refers to <b>{{ f.name || 'a file' }}</b>.
        <ElButton size="small" @click="include(f.line)">Choose it</ElButton>
      </li>
    </ul>
    <ProblemList class="list" :problems="problems" @go="(line, column) => editor?.goTo(line, column)" />
    <ul v-if="read?.warnings.length" class="warnings">
      <li v-for="w in read.warnings" :key="w">{{ w }}</li>
    </ul>
    <footer>
      <span class="state" role="status">{{ state }}</span>
      <ElButton @click="chooseFile('').then(takeFile)">Choose a file</ElButton>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="isEmpty || (readText === text && count === 0)" @click="draw">{{
        problems.length > 0 ? 'Draw what can be read' : 'Draw it'
      }}</ElButton>
    </footer>
  </div>
</template>

<style scoped>
.entry {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}

.over {
  background: var(--accent-soft);
}

.text {
  height: 320px;
}

.list {
  max-height: 130px;
}

.files,
.warnings {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 13.5px;
}

.warnings {
  color: var(--ink-soft);
}

footer :deep(.el-button) {
  margin: 0;
}

footer {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.state {
  flex: 1;
  color: var(--ink-soft);
}
</style>
