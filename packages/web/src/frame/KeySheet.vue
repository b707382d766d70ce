<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import type { Command } from './commands'

/** What the keys do. */
const { commands } = defineProps<{ commands: readonly Command[] }>()
const open = defineModel<boolean>({ required: true })

const groups = computed(() => [
  {
    where: 'Everywhere',
    rows: commands.filter((c) => c.keys).map((c) => ({ keys: c.keys!, does: c.name.split(':')[0]! })),
  },
  {
    where: 'On the sheet of a circuit',
    rows: [
      { keys: 'characters', does: 'say what comes at the ring: 4k7, 100nF, opamp, out' },
      { keys: '← → ↑ ↓', does: 'walk the ring; where nothing leads, the way of the next part' },
      { keys: 'Tab', does: 'while saying: the next reading; arrows turn the way' },
      { keys: 'Enter', does: 'type the chosen part’s value or the chosen text; else say what comes' },
      { keys: 'Shift+arrows', does: 'move what is chosen' },
      { keys: 'Delete', does: 'take out, and the wire closes; with Shift it stays open' },
      { keys: 'Ctrl+C X V', does: 'copy, cut, put in; in the table of parts a column' },
      { keys: 'Space+drag', does: 'move the sheet; the wheel zooms' },
      { keys: 'Shift+click', does: 'add to what is chosen, or take from it' },
      { keys: 'Esc', does: 'give up what the hand is doing; choose nothing' },
    ],
  },
  {
    where: 'In a diagram',
    rows: [
      { keys: '← →', does: 'move the cursor; with Shift in larger steps' },
      { keys: 'Ctrl+wheel', does: 'zoom along x; Shift+drag pans, a double click shows all' },
    ],
  },
  {
    where: 'In a value or a text',
    rows: [
      { keys: 'Enter', does: 'take a value; in a text Ctrl+Enter takes it, Enter begins a line' },
      { keys: 'Esc', does: 'leave it as it was' },
    ],
  },
  {
    where: 'In the list of projects',
    rows: [{ keys: 'N', does: 'a new design; then B a sheet, R a requirement, F a file' }],
  },
])
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="880px" top="8vh">
    <div class="groups">
      <table v-for="g in groups" :key="g.where">
        <caption>
          {{
            g.where
          }}
        </caption>
        <tbody>
          <tr v-for="r in g.rows" :key="r.keys">
            <th scope="row">
              <kbd>{{ r.keys }}</kbd>
            </th>
            <td>{{ r.does }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </ElDialog>
</template>

<style scoped>
.groups {
  max-height: 74vh;
  overflow: auto;
  columns: 2 340px;
  column-gap: 28px;
}

table {
  width: 100%;
  margin-bottom: 14px;
  border-collapse: collapse;
}

caption {
  padding-bottom: 4px;
  color: var(--accent);
  font-weight: 650;
  text-align: left;
}

tr {
  break-inside: avoid;
}

th {
  width: 108px;
  padding: 2px 12px 2px 0;
  text-align: left;
  vertical-align: top;
  white-space: nowrap;
}

kbd {
  font: inherit;
  font-weight: 600;
}
</style>
