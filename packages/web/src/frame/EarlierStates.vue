<script setup lang="ts">
import { askedSpec, type Circuit, type Design, isDrawn, patched, specificationTitle } from '@voskel/core'
import { ElButton, ElDialog } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, type ApiFailure, type RevisionSummary } from '../api/client'
import CircuitDrawing from '../circuit/CircuitDrawing.vue'
import { useDesignStore } from '../stores/design'

/** What the design was: every saved state of the last thirty days, fewer the older they are; one can be brought back. */
const open = defineModel<boolean>({ required: true })
const design = useDesignStore()

const states = shallowRef<readonly RevisionSummary[] | null>(null)
const failure = ref<ApiFailure | null>(null)
const chosen = ref<number | null>(null)
const document = shallowRef<Design | null>(null)
const time = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'medium' })

watch(
  open,
  async (isOpen) => {
    if (!isOpen || !design.id) return
    states.value = document.value = chosen.value = failure.value = null
    // What was typed last is to be among them before it is replaced.
    await design.flush()
    const answer = await api.listRevisions(design.id)
    if (answer.ok) states.value = answer.value
    else failure.value = answer.failure
  },
  { immediate: true },
)

async function look(revision: number) {
  if (!design.id) return
  chosen.value = revision
  const answer = await api.readRevision(design.id, revision)
  if (chosen.value !== revision) return
  failure.value = answer.ok ? null : answer.failure
  document.value = answer.ok ? answer.value.document : null
}

const circuit = computed<Circuit | null>(() => {
  const own = document.value?.circuit
  if (!own) return null
  if (own.origin === 'drawn') return own.circuit
  return own.witness ? patched(own.witness, own.patches).circuit : null
})
const about = computed(() => {
  if (!document.value) return ''
  const spec = askedSpec(document.value)
  const asked = document.value.requirements?.length ?? 0
  const requirements = asked > 0 ? `, ${asked} ${asked === 1 ? 'requirement' : 'requirements'} more` : ''
  return spec ? `${specificationTitle(spec)}${requirements}` : 'A circuit without a specification'
})

function bringBack() {
  const state = states.value?.find((s) => s.revision === chosen.value)
  if (!state || !document.value) return
  if (design.document) design.edit(`as it was on ${time.format(state.savedAt)}`, document.value)
  else void design.replaceDamaged(document.value)
  open.value = false
}
</script>

<template>
  <ElDialog v-model="open" title="Earlier states" width="860px" top="8vh">
    <p v-if="failure" class="bad" role="alert">{{ failure.title }}. {{ failure.detail }}</p>
    <p v-if="!states && !failure" role="status">Fetching what there was …</p>
    <p v-else-if="states?.length === 0">
      There is no earlier state yet. Each save from now on leaves one: all of the last hour, then fewer, up to thirty
      days.
    </p>
    <div v-else-if="states" class="states">
      <ul aria-label="States">
        <li v-for="s in states" :key="s.revision">
          <button class="plain-button" :aria-pressed="s.revision === chosen" @click="look(s.revision)">
            {{ time.format(s.savedAt) }} <span class="soft">{{ s.name }}</span>
          </button>
        </li>
      </ul>
      <section class="preview" aria-label="The chosen state">
        <template v-if="document">
          <h3>{{ document.name }}</h3>
          <p>{{ about }}</p>
          <p v-if="document.notes" class="soft notes">{{ document.notes }}</p>
          <CircuitDrawing v-if="circuit && isDrawn(circuit)" class="drawing" :circuit="circuit" />
          <p v-else-if="circuit" class="soft">{{ circuit.parts.length }} parts, without a drawing.</p>
        </template>
        <p v-else class="soft">Choose a state to look at it.</p>
      </section>
    </div>
    <template #footer>
      <ElButton @click="open = false">Leave all as it is</ElButton>
      <ElButton type="primary" :disabled="!document" @click="bringBack">Bring this one back</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.states {
  display: grid;
  grid-template-columns: 300px 1fr;
  gap: 20px;
  height: 52vh;
}

ul {
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

li button {
  width: 100%;
  text-align: left;
}

li button[aria-pressed='true'] {
  background: var(--accent-soft);
  font-weight: 650;
}

li .soft {
  display: block;
  font-weight: 400;
}

.preview {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-width: 0;
}

.notes {
  max-height: 4.2em;
  overflow: auto;
}

.drawing {
  flex: 1;
  min-height: 0;
}

.bad {
  color: var(--missed);
}
</style>
