<script setup lang="ts">
import {
  type Circuit,
  type EditCall,
  type Failure,
  surveyNetlist,
  toFailure,
  VoskelError,
  writeNetlist,
} from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import TextEditor from '../components/TextEditor.vue'
import ProblemList from './ProblemList.vue'

/** The circuit as a netlist: it follows the drawing until it is changed, and then is applied to it. */
const { circuit, title } = defineProps<{ circuit: Circuit; title: string }>()
const emit = defineEmits<{ edit: [call: EditCall] }>()

/** ms without a key after which a text is read. */
const PAUSE = 250

const written = computed((): { text: string; losses: readonly string[]; failure: Failure | null } => {
  try {
    return { ...writeNetlist({ ...circuit, title }, [], 'scaled'), failure: null }
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    return { text: '', losses: [], failure: toFailure(error) }
  }
})
/** The text that is being changed, and what it was made of; null while it follows the drawing. */
const typed = ref<{ text: string; from: string } | null>(null)
const text = computed(() => typed.value?.text ?? written.value.text)
const survey = ref<ReturnType<typeof surveyNetlist> | null>(null)
const editor = ref<InstanceType<typeof TextEditor> | null>(null)

function type(next: string) {
  if (next === (typed.value?.from ?? written.value.text)) typed.value = null
  else typed.value = { text: next, from: typed.value?.from ?? written.value.text }
}

let timer: ReturnType<typeof setTimeout> | undefined
watch(typed, (now) => {
  clearTimeout(timer)
  if (now) timer = setTimeout(() => (survey.value = surveyNetlist(now.text)), PAUSE)
  else survey.value = null
})

const problems = computed(() => survey.value?.problems.map(toFailure) ?? [])
const marks = computed(() =>
  problems.value.map(({ place, message, remedy }) => ({
    line: place.line ?? 1,
    column: place.column ?? 1,
    message: `${message} ${remedy}`,
  })),
)
/** The drawing has gone on since typing began: only what was typed is applied. */
const isBehind = computed(() => typed.value !== null && typed.value.from !== written.value.text)

function apply() {
  if (!typed.value) return
  const to = surveyNetlist(typed.value.text)
  survey.value = to
  if (to.problems.length > 0) return
  const from = surveyNetlist(typed.value.from)
  emit('edit', { edit: 'take-circuit', args: { from: from.circuit, to: to.circuit } })
}

/** What was typed is on the drawing, or is let go. */
const follow = () => (typed.value = null)
defineExpose({ follow })
</script>

<template>
  <section class="panel" aria-label="Netlist">
    <p v-if="written.failure" class="failed" role="alert">{{ written.failure.message }} {{ written.failure.remedy }}</p>
    <div v-else class="both">
      <TextEditor
        ref="editor"
        class="text"
        label="Netlist of this circuit"
        :text="text"
        :marks="marks"
        @update="type"
        @done="apply"
      />
      <div class="side">
        <p v-if="!typed" class="soft">
          Follows the drawing. Type in it, then apply: what did not change stays in its place.
        </p>
        <p v-else-if="isBehind" class="soft">The drawing has changed since: only what you typed is applied.</p>
        <p v-else class="soft">Changed, not applied yet.</p>
        <div class="buttons">
          <ElButton type="primary" size="small" :disabled="!typed || problems.length > 0" @click="apply"
            >Apply to the drawing</ElButton
          >
          <ElButton size="small" :disabled="!typed" @click="follow">Let the changes go</ElButton>
        </div>
        <ProblemList class="list" :problems="problems" @go="(line, column) => editor?.goTo(line, column)" />
        <ul v-if="written.losses.length" class="soft losses">
          <li v-for="l in written.losses" :key="l">{{ l }}</li>
        </ul>
      </div>
    </div>
  </section>
</template>

<style scoped>
.panel {
  container-type: inline-size;
}

.both {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  padding: 8px 10px;
}

.text {
  flex: 2;
  min-width: 0;
  min-height: 80px;
}

.side {
  display: flex;
  flex-direction: column;
  gap: 6px;
  max-height: 50%;
  min-width: 0;
}

/* Under the drawing it is wide and low. */
@container (min-width: 500px) {
  .both {
    flex-direction: row;
  }

  .text {
    min-height: 0;
  }

  .side {
    flex: 1;
    max-height: none;
    min-width: 210px;
    overflow: auto;
  }
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.buttons :deep(.el-button) {
  margin: 0;
}

.side p {
  margin: 0;
}

.soft {
  color: var(--ink-soft);
  font-size: 13.5px;
}

.losses {
  padding-left: 16px;
}

.list {
  flex: 1;
  max-height: 150px;
}

.failed {
  color: var(--missed);
}
</style>
