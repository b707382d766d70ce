<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed, nextTick, ref, watch } from 'vue'
import type { Command } from './commands'

/** Finds any command by a part of its name. */
const { commands } = defineProps<{ commands: readonly Command[] }>()
const open = defineModel<boolean>({ required: true })

const text = ref('')
const at = ref(0)
const input = ref<HTMLInputElement | null>(null)
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return commands.filter(
    (c) => c.id !== 'search' && c.id !== 'redo-2' && words.every((w) => c.name.toLowerCase().includes(w)),
  )
})

const activeId = computed(() => {
  const command = found.value[at.value]
  return command && `command-${command.id}`
})

watch(text, () => (at.value = 0))
// Emptied as it opens, not when it has finished to: whoever types at once loses nothing.
watch(open, async (isOpen) => {
  if (!isOpen) return
  text.value = ''
  at.value = 0
  await nextTick()
  input.value?.focus()
})

function run(command: Command | undefined) {
  if (!command || command.enabled?.() === false) return
  // Keys pressed right after it go to the page, not into the field that is fading away.
  input.value?.blur()
  open.value = false
  command.run()
}

function key(event: KeyboardEvent | Event) {
  const { key } = event as KeyboardEvent
  if (key === 'ArrowDown') at.value = Math.min(found.value.length - 1, at.value + 1)
  else if (key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (key === 'Enter') run(found.value[at.value])
  else return
  event.preventDefault()
}
</script>

<template>
  <ElDialog v-model="open" title="Find a command" width="440px" top="12vh" @opened="input?.focus()">
    <!-- Not the library's input: that one keeps the role to itself. -->
    <input
      ref="input"
      v-model="text"
      class="field"
      placeholder="Type a part of its name"
      role="combobox"
      aria-label="Command"
      aria-expanded="true"
      aria-controls="command-list"
      :aria-activedescendant="activeId"
      @keydown="key"
    />
    <ul id="command-list" class="list" role="listbox" aria-label="Commands">
      <li
        v-for="(c, k) in found"
        :id="`command-${c.id}`"
        :key="c.id"
        role="option"
        :aria-selected="k === at"
        :aria-disabled="c.enabled?.() === false"
        :class="{ at: k === at, off: c.enabled?.() === false }"
        @click="run(c)"
      >
        <span>{{ c.name }}</span><kbd v-if="c.keys">{{ c.keys }}</kbd>
      </li>
      <li v-if="!found.length" class="off">No command has this in its name.</li>
    </ul>
  </ElDialog>
</template>

<style scoped>
.field {
  width: 100%;
  padding: 6px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 5px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
}

.list {
  max-height: 46vh;
  margin: 10px 0 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

li {
  display: flex;
  justify-content: space-between;
  padding: 5px 10px;
  border-radius: 5px;
  cursor: pointer;
}

li.at {
  background: var(--accent-soft);
}

li.off {
  color: var(--ink-soft);
  cursor: default;
}

kbd {
  color: var(--ink-soft);
  font: inherit;
}
</style>
