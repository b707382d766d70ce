<script setup lang="ts">
import { CopyDocument, Delete, Download, Moon, Plus, Printer, Sunny } from '@element-plus/icons-vue'
import { ElButton, ElDialog, ElIcon, ElInput } from 'element-plus'
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { isFromTextField } from '../components/textField'
import { api, type ProjectSummary } from '../api/client'
import { chooseFile, fileName, saveFile } from '../components/files'
import type { Unsent } from '../document/outbox'
import { useDesignStore } from '../stores/design'
import { useUnsentStore } from '../stores/unsent'
import DesignPicture from './DesignPicture.vue'
import type { Circuit } from '@voskel/core'
import SetAsideList from './SetAsideList.vue'
import StartChoice from './StartChoice.vue'
import ProjectBin from './ProjectBin.vue'
import { useProjectsStore } from '../stores/projects'
import { useViewStore } from '../stores/view'

/** All projects with their designs. */
const projects = useProjectsStore()
const view = useViewStore()
const router = useRouter()

onMounted(() => {
  document.title = 'Projects · Voskel'
  void projects.load()
  void projects.askAccess()
  void unsent.sweep().then(() => projects.load())
})

/** With their editor and their pictures they are fetched when they are first opened. */
const NetlistEntry = defineAsyncComponent(() => import('../circuit/NetlistEntry.vue'))
const ReadyCircuits = defineAsyncComponent(() => import('../circuit/ReadyCircuits.vue'))

const unsent = useUnsentStore()
const open = useDesignStore()

/** What is said beside a design whose newest state the server does not have. */
function mark(id: string): string {
  const reason = unsent.reasons.get(id)
  if (reason === 'waiting' || (open.id === id && open.saveState === 'offline'))
    return 'not saved yet: kept on this device'
  if (reason === 'differs' || (open.id === id && open.saveState === 'conflict'))
    return 'unsaved work kept on this device: open to choose'
  return ''
}
/** Unsaved work of designs that are not there any more. */
const orphans = computed(() => unsent.unsent.filter(({ why }) => why === 'gone'))

async function rescue(orphan: Unsent, project: string) {
  const made = await unsent.rescue(orphan, project)
  if (!made.ok) projects.failure = made.failure
  await projects.load()
}

async function saveProject(project: ProjectSummary) {
  const answer = await api.projectFile(project.id)
  if (answer.ok) saveFile(fileName(project.name, 'voskel.json'), JSON.stringify(answer.value, null, 2))
  else projects.failure = answer.failure
}

async function openProject() {
  const file = await chooseFile('.json,application/json')
  if (file) await projects.openProjectFile(file)
}

// --- what is shown, in which order -----------------------------------------------------------------------------------

const query = ref('')
const order = ref<'made' | 'name' | 'changed'>('made')
const listed = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  const { compare } = new Intl.Collator('en', { numeric: true })
  return (projects.projects ?? []).flatMap((p) => {
    const isNamed = p.name.toLowerCase().includes(wanted)
    const designs = p.designs.filter((d) => isNamed || d.name.toLowerCase().includes(wanted))
    if (order.value === 'name') designs.sort((a, b) => compare(a.name, b.name))
    if (order.value === 'changed') designs.sort((a, b) => b.updatedAt - a.updatedAt)
    return isNamed || designs.length > 0 ? [{ ...p, designs }] : []
  })
})

/** A design on its way to another project. */
const dragged = ref<{ design: string; from: string } | null>(null)
const over = ref<string | null>(null)

async function drop(project: string) {
  const moving = dragged.value
  dragged.value = over.value = null
  if (moving && moving.from !== project) await projects.moveDesign(moving.design, project)
}

/** The project in which a new design is about to begin. */
const starting = ref<string | null>(null)

async function start(made: Promise<string | null>, stage: string) {
  const id = await made
  if (id === null) return
  starting.value = null
  await router.push({ name: 'design', params: { id, stage } })
}

/** A blank sheet shows at once what the circuit does. */
async function startSheet(project: string) {
  view.beside ??= 'frequency+time'
  await start(projects.createFromSheet(project), 'circuit')
}

/** A netlist on its way to a design, and the project that is to have it. */
const entering = ref<{ project: string; text: string } | null>(null)
/** The project that a ready circuit is being chosen for. */
const choosing = ref<string | null>(null)

async function startFrom(project: string, circuit: Circuit, name?: string) {
  entering.value = choosing.value = null
  view.beside ??= 'frequency+time'
  await start(projects.createFromCircuit(project, circuit, name), 'circuit')
}

/** N begins a design in the first project. */
function key(event: KeyboardEvent) {
  const [first] = projects.projects ?? []
  if (event.key !== 'n' || event.ctrlKey || event.metaKey || event.altKey) return
  if (isFromTextField(event) || !first || asking.value || entering.value || choosing.value) return
  event.preventDefault()
  starting.value = first.id
}
onMounted(() => window.addEventListener('keydown', key))
onBeforeUnmount(() => window.removeEventListener('keydown', key))

const asking = ref(false)
const name = ref('')
const problem = ref('')
const day = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
})
const looks = computed(() => ({ light: Sunny, dark: Moon, print: Printer })[view.appearance])

function ask() {
  name.value = ''
  problem.value = ''
  asking.value = true
}

function rename(project: ProjectSummary, field: HTMLInputElement) {
  const typed = field.value.trim()
  if (typed && typed !== project.name) void projects.renameProject(project.id, typed)
  else field.value = project.name
}

async function create() {
  const typed = name.value.trim()
  if (!typed) {
    problem.value = 'Type a name first.'
    return
  }
  if (typed.length > 200) {
    problem.value = `The name has ${typed.length} characters; at most 200 are kept.`
    return
  }
  const made = await projects.createProject(typed)
  if (!made.ok) problem.value = `${made.failure.title}. ${made.failure.detail}`
  else asking.value = false
}
</script>

<template>
  <div class="page">
    <header class="bar">
      <span class="mark">voskel</span>
      <span class="soft">from a filter’s promise to a circuit, and its proof</span>
      <span class="space" />
      <ElButton v-if="projects.canSignOut" size="small" @click="projects.signOut">Sign out</ElButton>
      <button
        class="plain-button"
        :aria-label="`Appearance: ${view.appearance}; change`"
        @click="view.nextAppearance()"
      >
        <ElIcon><component :is="looks" /></ElIcon>
      </button>
      <ElButton @click="openProject">Open a project file</ElButton>
      <ElButton type="primary" :icon="Plus" @click="ask">New project</ElButton>
    </header>
    <main class="list">
      <div v-if="projects.failure" class="failure" role="alert">
        <b>{{ projects.failure.title }}.</b> {{ projects.failure.detail }}
        <button class="plain-button" @click="projects.load()">Try again</button>
      </div>
      <div v-for="o in orphans" :key="`${o.kept.design} ${o.kept.tab}`" class="undo" role="status">
        Unsaved work on “{{ o.kept.document?.name }}” is kept on this device; the design itself is not there any more.
        <button
          v-for="p in projects.projects?.slice(0, 3) ?? []"
          :key="p.id"
          class="plain-button strong"
          @click="rescue(o, p.id)"
        >
          Make a design of it in {{ p.name }}
        </button>
        <button class="plain-button" @click="unsent.drop(o.kept)">Let it go</button>
      </div>
      <SetAsideList />
      <div v-if="projects.deleted" class="undo" role="status">
        “{{ projects.deleted.name }}” is deleted.
        <button class="plain-button strong" @click="projects.deleted?.restore()">Undo</button>
      </div>
      <p v-if="!projects.projects && !projects.failure" class="empty" role="status">Fetching the projects …</p>
      <p v-else-if="projects.projects?.length === 0" class="empty">
        There is no project yet. A project holds the designs of one job; begin with <b>New project</b>.
      </p>
      <div v-if="projects.projects?.length" class="find">
        <input v-model="query" type="search" placeholder="Find a design" aria-label="Find a design" />
        <label class="soft"
          >in the order
          <select v-model="order">
            <option value="made">they were made</option>
            <option value="name">of their names</option>
            <option value="changed">last changed first</option>
          </select>
        </label>
      </div>
      <p v-if="projects.projects?.length && listed.length === 0" class="empty" role="status">
        No design and no project is called so.
      </p>
      <section
        v-for="p in listed"
        :key="p.id"
        class="project"
        :class="{ over: over === p.id }"
        :aria-label="p.name"
        @dragover="dragged && ($event.preventDefault(), (over = p.id))"
        @dragleave="over = null"
        @drop.prevent="drop(p.id)"
      >
        <div class="head">
          <div class="about">
            <h2 class="visually-hidden">{{ p.name }}</h2>
            <input
              class="name"
              :value="p.name"
              aria-label="Name of the project"
              maxlength="200"
              @change="rename(p, $event.target as HTMLInputElement)"
              @keydown.enter="($event.target as HTMLInputElement).blur()"
            />
            <p class="soft">{{ p.description }}</p>
          </div>
          <ElButton :icon="Plus" :aria-expanded="starting === p.id" @click="starting = starting === p.id ? null : p.id"
            >New design</ElButton
          >
          <button
            class="plain-button"
            :aria-label="`Save project ${p.name} as a file`"
            title="Save as file"
            @click="saveProject(p)"
          >
            <ElIcon><Download /></ElIcon>
          </button>
          <button
            class="plain-button"
            :aria-label="`Duplicate project ${p.name}`"
            title="Duplicate project"
            @click="projects.duplicateProject(p.id)"
          >
            <ElIcon><CopyDocument /></ElIcon>
          </button>
          <button
            class="plain-button"
            :aria-label="`Delete project ${p.name}`"
            title="Delete project"
            @click="projects.deleteProject(p.id, p.name)"
          >
            <ElIcon><Delete /></ElIcon>
          </button>
        </div>
        <StartChoice
          v-if="starting === p.id"
          @requirement="start(projects.createFromRequirement(p.id), 'specify')"
          @sheet="startSheet(p.id)"
          @file="(file) => start(projects.openDesignFile(p.id, file), 'specify')"
          @netlist="(text) => (entering = { project: p.id, text })"
          @ready="choosing = p.id"
          @close="starting = null"
        />
        <ul v-if="p.designs.length">
          <li
            v-for="d in p.designs"
            :key="d.id"
            draggable="true"
            @dragstart="dragged = { design: d.id, from: p.id }"
            @dragend="dragged = over = null"
          >
            <DesignPicture :design="d.id" :changed="d.updatedAt" />
            <RouterLink :to="{ name: 'design', params: { id: d.id, stage: 'specify' } }">{{ d.name }}</RouterLink>
            <span v-if="mark(d.id)" class="mark-unsaved">{{ mark(d.id) }}</span>
            <select
              v-if="projects.projects && projects.projects.length > 1"
              class="move"
              :aria-label="`Move ${d.name} to another project`"
              :value="p.id"
              @change="projects.moveDesign(d.id, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="q in projects.projects" :key="q.id" :value="q.id">{{ q.name }}</option>
            </select>
            <span class="soft when">changed {{ day.format(d.updatedAt) }}</span>
            <button
              class="plain-button"
              :aria-label="`Duplicate ${d.name}`"
              title="Duplicate"
              @click="projects.duplicateDesign(d.id)"
            >
              <ElIcon><CopyDocument /></ElIcon>
            </button>
            <button
              class="plain-button"
              :aria-label="`Delete ${d.name}`"
              title="Delete"
              @click="projects.deleteDesign(d.id, d.name)"
            >
              <ElIcon><Delete /></ElIcon>
            </button>
          </li>
        </ul>
        <p v-else class="soft none">
          No design yet. <b>New design</b> starts one, from a requirement, a blank sheet or a file.
        </p>
      </section>
      <ProjectBin />
      <p class="made-of"><a href="/licences.txt" target="_blank">What Voskel is made of, and its licences</a></p>
    </main>
    <ElDialog
      :model-value="entering !== null"
      title="A netlist"
      width="min(860px, 94vw)"
      destroy-on-close
      @close="entering = null"
    >
      <NetlistEntry
        v-if="entering"
        :begin="entering.text"
        @draw="(circuit) => startFrom(entering!.project, circuit)"
        @close="entering = null"
      />
    </ElDialog>
    <ElDialog
      :model-value="choosing !== null"
      title="A ready circuit"
      width="min(980px, 96vw)"
      destroy-on-close
      @close="choosing = null"
    >
      <ReadyCircuits v-if="choosing" @take="(circuit, name) => startFrom(choosing!, circuit, name)" />
    </ElDialog>
    <ElDialog :model-value="asking" title="New project" width="400px" @close="asking = false">
      <form @submit.prevent="create">
        <ElInput v-model="name" autofocus aria-label="Name" placeholder="Its name" :aria-invalid="problem !== ''" />
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      </form>
      <template #footer>
        <ElButton @click="asking = false">Cancel</ElButton>
        <ElButton type="primary" @click="create">Create</ElButton>
      </template>
    </ElDialog>
  </div>
</template>

<style scoped>
.page {
  min-height: 100%;
}

.bar {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 56px;
  padding: 0 24px;
  border-bottom: 1px solid var(--line);
}

.mark {
  color: var(--accent);
  font-size: 20px;
  font-weight: 750;
  letter-spacing: 0.02em;
}

.space {
  flex: 1;
}

.list {
  display: grid;
  gap: 20px;
  max-width: 920px;
  margin: 28px auto;
  padding: 0 24px;
}

.find {
  display: flex;
  gap: 18px;
  align-items: baseline;
}

.find input,
select {
  padding: 3px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--raised);
  color: var(--ink);
  font: inherit;
}

.find input {
  width: 260px;
}

.move {
  max-width: 130px;
  font-size: 13px;
}

.project.over {
  border-color: var(--accent);
  background: var(--accent-soft);
}

.project {
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--raised);
}

.head {
  display: flex;
  align-items: flex-start;
  gap: 8px;
  padding: 16px 18px 12px;
}

.about {
  flex: 1;
}

input.name {
  width: 100%;
  max-width: 520px;
  padding: 2px 6px;
  border: 1px solid transparent;
  border-radius: 5px;
  margin-left: -7px;
  background: none;
  color: inherit;
  font: inherit;
  font-size: 18px;
  font-weight: 700;
}

input.name:hover,
input.name:focus {
  border-color: var(--line-strong);
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 6px 18px;
  border-top: 1px solid var(--line);
}

li a {
  flex: 1;
  padding: 4px 0;
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}

li a:hover {
  color: var(--accent);
  text-decoration: underline;
}

.made-of {
  font-size: 13px;
}

.mark-unsaved {
  color: var(--waiting);
  font-size: 13px;
  font-weight: 600;
}

.when {
  font-size: 13px;
}

.none,
.empty {
  padding: 14px 18px;
}

.empty {
  color: var(--ink-soft);
  text-align: center;
}

.failure,
.undo {
  padding: 10px 14px;
  border-left: 3px solid var(--missed);
  background: var(--missed-soft);
}

.undo {
  border-color: var(--accent);
  background: var(--accent-soft);
}

.strong {
  font-weight: 700;
  text-decoration: underline;
}

.problem {
  margin-top: 6px;
  color: var(--missed);
}
</style>
