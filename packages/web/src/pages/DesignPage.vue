<script setup lang="ts">
import type { Verdict } from '@voskel/core'
import { ElButton, ElDialog, ElSplitter, ElSplitterPanel } from 'element-plus'
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { isFromTextField } from '../components/textField'
import { keyOf, useCommands } from '../frame/commands'
import CommandSearch from '../frame/CommandSearch.vue'
import KeptOffers from '../frame/KeptOffers.vue'
import KeySheet from '../frame/KeySheet.vue'
import StageTabs from '../frame/StageTabs.vue'
import TopBar from '../frame/TopBar.vue'
import LedgerBar from '../ledger/LedgerBar.vue'
import { besides, type StageId, stageOfVerdict, stages } from '../stages'
import { useDesignStore } from '../stores/design'
import { useProjectsStore } from '../stores/projects'
import { useResultsStore } from '../stores/results'
import { useViewStore } from '../stores/view'

/** One design: the frame with its stages and its ledger. */
const { id, stage } = defineProps<{ id: string; stage?: string }>()
const router = useRouter()
const design = useDesignStore()
const projects = useProjectsStore()
const view = useViewStore()
useResultsStore()

const searching = ref(false)
const sheet = ref(false)
const earlier = ref(false)
/** It draws circuits: fetched when it is first opened. */
const EarlierStates = defineAsyncComponent(() => import('../frame/EarlierStates.vue'))
const hasLookedBack = ref(false)
watch(earlier, () => (hasLookedBack.value = true))
const commands = useCommands({
  search: () => (searching.value = true),
  sheet: () => (sheet.value = true),
  earlier: () => (earlier.value = true),
})

const current = computed<StageId>(() => stages.find((s) => s.id === stage)?.id ?? 'specify')
const shown = computed(() => stages.find((s) => s.id === current.value)!)
const beside = computed(() => besides(view.beside).filter((s) => s.id !== current.value))

for (const next of beside.value) void next.load()
watch(
  () => id,
  (next) => void design.open(next),
  { immediate: true },
)
watch(
  () => design.document?.name,
  (name) => (document.title = name ? `${name} · Voskel` : 'Voskel'),
  { immediate: true },
)
onMounted(() => {
  if (!projects.projects) void projects.load()
  void projects.askAccess()
  window.addEventListener('keydown', key)
  window.addEventListener('pagehide', leave)
  window.addEventListener('beforeunload', mayLeave)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', key)
  window.removeEventListener('pagehide', leave)
  window.removeEventListener('beforeunload', mayLeave)
})
/** The list of designs is to show what was typed last; a slow server keeps nobody waiting for it. */
const MOST_WAIT = 800
onBeforeRouteLeave(async () => {
  await Promise.race([design.flush(), new Promise((done) => setTimeout(done, MOST_WAIT))])
})

const leave = () => design.leave()

/** What lies nowhere but on this page is not left without a question. */
function mayLeave(event: BeforeUnloadEvent) {
  if (!design.isKept && design.saveState !== 'saved') event.preventDefault()
}

function go(next: StageId) {
  void router.push({ name: 'design', params: { id, stage: next } })
}

/** To the place that decides a verdict. */
function follow(verdict: Verdict) {
  if (verdict.at !== null && verdict.atUnit !== null) view.cursor = { unit: verdict.atUnit, at: verdict.at }
  const wanted = stageOfVerdict(verdict)
  if (!beside.value.some((s) => s.id === wanted)) go(wanted)
}

function key(event: KeyboardEvent) {
  const pressed = keyOf(event)
  if (
    isFromTextField(event) &&
    (!pressed.includes('Ctrl+') || pressed === 'Ctrl+Z' || pressed === 'Ctrl+Y' || pressed === 'Ctrl+Shift+Z')
  )
    return
  if (searching.value || sheet.value || earlier.value) return
  const command = commands.value.find((c) => c.keys === pressed)
  if (!command) return
  event.preventDefault()
  if (command.enabled?.() !== false) command.run()
}

async function keepBoth() {
  const copy = await design.keepBoth()
  if (copy) await router.push({ name: 'design', params: { id: copy, stage: current.value } })
}

const split = computed(() => view.split)
</script>

<template>
  <div class="page">
    <TopBar @search="searching = true" @earlier="earlier = true" />
    <KeptOffers />
    <StageTabs :current="current" @go="go" />
    <main class="work" :aria-label="shown.name">
      <div v-if="design.failure" class="message" role="alert">
        <h1>{{ design.failure.title }}</h1>
        <p>{{ design.failure.detail }}</p>
        <p>
          <ElButton type="primary" @click="design.open(id)">Try again</ElButton>
          <ElButton v-if="design.failure.revision !== undefined" @click="earlier = true">Earlier states</ElButton>
          <ElButton @click="router.push({ name: 'projects' })">All projects</ElButton>
        </p>
      </div>
      <div v-else-if="!design.document" class="message" role="status">Opening the design …</div>
      <ElSplitter
        v-else-if="beside.length"
        class="split"
        @resize-end="(_index: number, sizes: number[]) => (view.split = (100 * sizes[0]!) / (sizes[0]! + sizes[1]!))"
      >
        <ElSplitterPanel :size="`${split}%`" min="300px"
          ><component :is="shown.component" :key="shown.id" v-bind="shown.props"
        /></ElSplitterPanel>
        <ElSplitterPanel min="300px"
          ><div class="beside">
            <component :is="s.component" v-for="s in beside" :key="s.id" v-bind="s.props" /></div
        ></ElSplitterPanel>
      </ElSplitter>
      <component :is="shown.component" v-else :key="shown.id" v-bind="shown.props" />
    </main>
    <LedgerBar @go="follow" />
    <CommandSearch v-model="searching" :commands="commands" />
    <EarlierStates v-if="hasLookedBack" v-model="earlier" />
    <KeySheet v-model="sheet" :commands="commands" />
    <ElDialog
      :model-value="design.saveState === 'conflict'"
      title="This design was changed elsewhere too"
      width="520px"
      :show-close="false"
      :close-on-click-modal="false"
      :close-on-press-escape="false"
    >
      <p>Another window or person has saved a newer version. Neither is lost: choose which one this design is to be.</p>
      <p v-if="design.saveFailure && design.saveFailure.status !== 412" class="bad">
        {{ design.saveFailure.title }}. {{ design.saveFailure.detail }}
      </p>
      <template #footer>
        <ElButton @click="design.takeTheirs()">Take the newer version; Undo brings mine back</ElButton>
        <ElButton @click="design.keepMine()">Save mine over it</ElButton>
        <ElButton type="primary" @click="keepBoth">Keep both</ElButton>
      </template>
    </ElDialog>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.work {
  flex: 1;
  min-height: 0;
}

.split {
  height: 100%;
}

.beside {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.beside > * {
  flex: 1;
  min-height: 0;
}

.beside > * + * {
  border-top: 1px solid var(--line);
}

.message {
  display: grid;
  gap: 12px;
  max-width: 460px;
  margin: 80px auto;
  text-align: center;
}

.bad {
  margin-top: 8px;
  color: var(--missed);
}
</style>
