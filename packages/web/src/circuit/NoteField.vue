<script setup lang="ts">
import type { Note } from '@voskel/core'
import { onMounted, ref } from 'vue'

/** A text on the sheet, typed where it stands: Enter begins a line, leaving takes it. */
const { note } = defineProps<{ note: Note }>()
const emit = defineEmits<{ text: [text: string]; done: [] }>()

const input = ref<HTMLTextAreaElement | null>(null)
const text = ref(note.text)
const MOST = 4000
let isOver = false

onMounted(() => {
  input.value?.focus()
  input.value?.select()
})

function keep() {
  if (isOver) return
  isOver = true
  const next = text.value.trim()
  // A text without letters could not be seen: what stood there stays until it is deleted.
  if (next !== '' && next !== note.text) emit('text', next)
  emit('done')
}

function leave() {
  isOver = true
  emit('done')
}
</script>

<template>
  <div class="field" @pointerdown.stop @keydown.stop @wheel.stop>
    <textarea
      ref="input"
      v-model="text"
      class="text-field"
      :maxlength="MOST"
      :rows="Math.min(8, text.split('\n').length + 1)"
      :aria-label="note.as === 'title' ? 'Title on the sheet' : 'Text on the sheet'"
      @keydown.enter.ctrl.prevent="keep"
      @keydown.escape.prevent="leave"
      @blur="keep"
    />
    <p>Enter begins a line; Ctrl+Enter or a click elsewhere keeps it, Esc leaves it as it was.</p>
  </div>
</template>

<style scoped>
.field {
  position: absolute;
  z-index: 5;
  width: 280px;
}

textarea {
  border-color: var(--accent);
  background: var(--raised);
  resize: vertical;
}

p {
  padding: 2px 8px;
  margin: 0;
  background: var(--raised);
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
