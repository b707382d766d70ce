<script setup lang="ts">
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { type Diagnostic, lintGutter, setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers, placeholder } from '@codemirror/view'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

/** Something wrong at a place of the text, both 1-based. */
export interface TextMark {
  readonly line: number
  readonly column: number
  readonly message: string
}

/** A text of many lines with what is wrong marked where it stands. */
const { text, label, marks, hint } = defineProps<{
  text: string
  label: string
  marks: readonly TextMark[]
  hint?: string
}>()
const emit = defineEmits<{ update: [text: string]; done: []; leave: [] }>()

const root = ref<HTMLElement | null>(null)
let view: EditorView | null = null
/** What was told last, so that it does not come back as news. */
let told = text

onMounted(() => {
  view = new EditorView({
    parent: root.value!,
    state: EditorState.create({
      doc: text,
      extensions: [
        lineNumbers(),
        lintGutter(),
        history(),
        drawSelection(),
        highlightActiveLine(),
        keymap.of([
          { key: 'Mod-Enter', run: () => (emit('done'), true) },
          // Tab leads on: a form is not to be a trap.
          { key: 'Escape', run: () => (emit('leave'), true) },
          ...defaultKeymap,
          ...historyKeymap,
        ]),
        placeholder(hint ?? ''),
        EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
        EditorView.updateListener.of((update) => {
          if (!update.docChanged) return
          told = update.state.doc.toString()
          emit('update', told)
        }),
      ],
    }),
  })
  mark()
})
onBeforeUnmount(() => view?.destroy())

watch(
  () => text,
  (next) => {
    if (!view || next === told) return
    told = next
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: next } })
  },
)
watch(() => marks, mark)

function mark() {
  if (!view) return
  const { doc } = view.state
  const diagnostics = marks.flatMap(({ line, column, message }): Diagnostic[] => {
    if (line < 1 || line > doc.lines) return []
    const at = doc.line(line)
    const from = Math.min(at.to, at.from + Math.max(0, column - 1))
    const word = /^\S*/.exec(at.text.slice(from - at.from))![0].length
    return [{ from, to: Math.min(at.to, from + Math.max(1, word)), severity: 'error', message }]
  })
  view.dispatch(setDiagnostics(view.state, diagnostics))
}

/** To a place of the text, both 1-based. */
function goTo(line: number, column: number) {
  if (!view) return
  const at = view.state.doc.line(Math.min(view.state.doc.lines, Math.max(1, line)))
  const anchor = Math.min(at.to, at.from + Math.max(0, column - 1))
  view.dispatch({ selection: { anchor }, effects: EditorView.scrollIntoView(anchor, { y: 'center' }) })
  view.focus()
}

defineExpose({ goTo, focus: () => view?.focus() })
</script>

<template>
  <div ref="root" class="editor" />
</template>

<style scoped>
.editor {
  min-height: 0;
  overflow: hidden;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--paper);
}

.editor:focus-within {
  border-color: var(--accent);
}

.editor :deep(.cm-editor) {
  height: 100%;
  outline: none;
  color: var(--ink);
  font-size: 14px;
}

.editor :deep(.cm-scroller) {
  font-family: inherit;
  font-variant-numeric: tabular-nums;
  line-height: 1.45;
}

.editor :deep(.cm-gutters) {
  border-right: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink-soft);
}

.editor :deep(.cm-activeLine),
.editor :deep(.cm-activeLineGutter) {
  background: var(--accent-soft);
}

.editor :deep(.cm-cursor) {
  border-left-color: var(--ink);
}

.editor :deep(.cm-selectionBackground) {
  background: var(--accent-soft) !important;
}

.editor :deep(.cm-placeholder) {
  color: var(--ink-soft);
  white-space: pre;
}

.editor :deep(.cm-lintRange-error) {
  background: none;
  text-decoration: underline wavy var(--missed);
  text-underline-offset: 3px;
}

.editor :deep(.cm-tooltip) {
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
}

.editor :deep(.cm-diagnostic-error) {
  border-left-color: var(--missed);
}
</style>
