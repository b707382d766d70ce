<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { fileName, saveFile } from '../components/files'
import type { SetAside } from '../document/keeping'
import { useProjectsStore } from '../stores/projects'
import { useUnsentStore } from '../stores/unsent'

/** Unsaved work that this device kept and that did not read: nothing of it is lost while it lies here. */
const unsent = useUnsentStore()
const projects = useProjectsStore()
const router = useRouter()
const shown = ref<string | null>(null)
const time = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

onMounted(() => unsent.sweep().then(unsent.lookAside))

const called = ({ name }: SetAside) => (name === null ? 'a design' : `“${name}”`)

const download = (set: SetAside) => saveFile(fileName(`${set.name ?? 'design'} set aside`, 'json'), set.text)

async function takeUp(set: SetAside, project: string) {
  const made = await unsent.takeUp(set, project)
  if (made.ok) await router.push({ name: 'design', params: { id: made.value.id, stage: 'specify' } })
  else projects.failure = made.failure
}
</script>

<template>
  <ul v-if="unsent.aside.length" class="aside" aria-label="Set aside on this device">
    <li v-for="set in unsent.aside" :key="set.key">
      <p>
        Unsaved work on {{ called(set) }}{{ set.at === null ? '' : ` of ${time.format(set.at)}` }} lies aside on this
        device: it could not be read when it was to be saved. {{ set.problem }}
      </p>
      <template v-if="set.design">
        <button
          v-for="p in projects.projects?.slice(0, 3) ?? []"
          :key="p.id"
          class="plain-button strong"
          @click="takeUp(set, p.id)"
        >
          Take it up again in {{ p.name }}
        </button>
      </template>
      <button
        class="plain-button"
        :aria-expanded="shown === set.key"
        @click="shown = shown === set.key ? null : set.key"
      >
        {{ shown === set.key ? 'Put it away' : 'See it' }}
      </button>
      <button class="plain-button" @click="download(set)">Save it as a file</button>
      <button class="plain-button" @click="unsent.letGo(set)">Let it go</button>
      <pre v-if="shown === set.key" tabindex="0" aria-label="What was set aside">{{ set.text }}</pre>
    </li>
  </ul>
</template>

<style scoped>
.aside {
  margin: 0 0 12px;
  padding: 0;
  list-style: none;
}

li {
  padding: 6px 14px;
  border-left: 3px solid var(--waiting);
  background: var(--raised);
}

li p {
  margin: 0 0 4px;
}

.strong {
  font-weight: 700;
}

pre {
  max-height: 40vh;
  overflow: auto;
  margin: 6px 0 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
