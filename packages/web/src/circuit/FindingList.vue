<script setup lang="ts">
import { circuitEdit, type EditCall, type Finding } from '@voskel/core'
import { computed, ref } from 'vue'

/** What the checks found, the worst first: one line, the rest at a click; each with its remedy. */
const { findings, canMend } = defineProps<{ findings: readonly Finding[]; canMend: boolean }>()
const emit = defineEmits<{ edit: [call: EditCall]; look: [part: string] }>()

const isOpen = ref(false)
/** The worst first, and what each is called. */
const SEVERITIES = { error: 'Cannot be solved', fault: 'Will not work', warning: 'Worth a look' } as const
const order = Object.keys(SEVERITIES)
const sorted = computed(() => findings.toSorted((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity)))
const shown = computed(() => (isOpen.value ? sorted.value : sorted.value.slice(0, 1)))
const capital = (text: string) => text[0]!.toUpperCase() + text.slice(1)
</script>

<template>
  <div v-if="findings.length" class="findings" :class="{ shut: !isOpen }" @pointerdown.stop @wheel.stop>
    <ul aria-label="Findings">
      <li v-for="f in shown" :key="f.message" :class="f.severity">
        <p>
          <strong>{{ SEVERITIES[f.severity] }}</strong>
          {{ f.message }} <span class="soft">{{ f.fix }}</span>
        </p>
        <template v-if="f.remedy && canMend">
          <button v-if="'edit' in f.remedy" type="button" class="pill" @click="emit('edit', f.remedy)">
            {{ capital(circuitEdit(f.remedy).label) }}
          </button>
          <button v-else type="button" class="pill" @click="emit('look', f.remedy.look)">
            Show {{ f.remedy.look }}
          </button>
        </template>
      </li>
    </ul>
    <button type="button" class="more" :aria-expanded="isOpen" @click="isOpen = !isOpen">
      {{ isOpen ? 'less' : findings.length > 1 ? `in full, and ${findings.length - 1} more` : 'in full' }}
    </button>
  </div>
</template>

<style scoped>
.findings {
  max-height: 45%;
  overflow: auto;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--raised);
  cursor: default;
}

ul {
  padding: 0;
  margin: 0;
  list-style: none;
}

li {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 5px 10px;
  border-left: 3px solid var(--waiting);
}

li.error,
li.fault {
  border-left-color: var(--missed);
  background: var(--missed-soft);
}

li p {
  flex: 1;
}

li button {
  flex: none;
  border-color: var(--accent);
  color: var(--accent);
}

/* The whole of it is a click away, so that the drawing is not covered. */
.shut p {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}

.more {
  display: block;
  padding: 1px 10px 3px;
  border: 0;
  background: none;
  color: var(--accent);
  font-size: 13px;
  cursor: pointer;
}
</style>
