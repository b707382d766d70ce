<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import type { Command } from './commands'

/** What the keys do. */
const { commands } = defineProps<{ commands: readonly Command[] }>()
const open = defineModel<boolean>({ required: true })

const rows = computed(() => [
  ...commands.filter((c) => c.keys).map((c) => ({ keys: c.keys!, does: c.name.split(':')[0]! })),
  { keys: '← →', does: 'In a diagram: move the cursor; with Shift in larger steps' },
  { keys: 'Ctrl+wheel', does: 'In a diagram: zoom along x; Shift+drag pans; a double click shows all' },
  { keys: 'Enter, Esc', does: 'In a value: take it, or leave it as it was' },
  { keys: 'characters', does: 'On the sheet: say what comes at the ring (4k7, 100nF, opamp, out)' },
  { keys: '← → ↑ ↓', does: 'On the sheet: walk the ring; where nothing leads, the way of the next part' },
  { keys: 'Tab', does: 'While saying: the next reading; the arrows turn the way' },
  { keys: 'Shift+arrows', does: 'On the sheet: move what is chosen' },
  { keys: 'Enter', does: 'On the sheet: type the chosen part’s value, or say what comes' },
  { keys: 'Delete', does: 'On the sheet: take out, the wire closes; with Shift it stays open' },
  { keys: 'Ctrl+C X V', does: 'On the sheet: copy, cut, put in; in the parts table a column' },
  { keys: 'Space+drag', does: 'On the sheet: move it; the wheel zooms, Shift adds to what is chosen' },
])
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="500px" top="10vh">
    <table>
      <tbody>
        <tr v-for="r in rows" :key="r.keys">
          <th scope="row">
            <kbd>{{ r.keys }}</kbd>
          </th>
          <td>{{ r.does }}</td>
        </tr>
      </tbody>
    </table>
  </ElDialog>
</template>

<style scoped>
table {
  display: block;
  max-height: 68vh;
  overflow: auto;
}

th {
  padding: 3px 20px 3px 0;
  text-align: left;
  white-space: nowrap;
}

kbd {
  font: inherit;
  font-weight: 600;
}
</style>
