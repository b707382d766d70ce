<script setup lang="ts">
import { useProjectsStore } from '../stores/projects'

/** What was deleted, to be brought back. */
const projects = useProjectsStore()
const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

const open = (event: Event) => (event.target as HTMLDetailsElement).open && void projects.loadBin()
</script>

<template>
  <details class="bin" @toggle="open">
    <summary>Deleted projects and designs</summary>
    <p v-if="!projects.bin" class="soft" role="status">Fetching what was deleted …</p>
    <p v-else-if="projects.bin.projects.length + projects.bin.designs.length === 0" class="soft">
      Nothing has been deleted.
    </p>
    <ul v-else>
      <li v-for="p in projects.bin.projects" :key="p.id">
        <span
          ><b>{{ p.name }}</b> <span class="soft">project, with its designs</span></span
        >
        <span class="soft">deleted {{ day.format(p.deletedAt) }}</span>
        <button
          class="plain-button strong"
          :aria-label="`Restore project ${p.name}`"
          @click="projects.restoreProject(p.id)"
        >
          Restore
        </button>
      </li>
      <li v-for="d in projects.bin.designs" :key="d.id">
        <span
          >{{ d.name }} <span class="soft">in {{ d.project }}</span></span
        >
        <span class="soft">deleted {{ day.format(d.deletedAt) }}</span>
        <button class="plain-button strong" :aria-label="`Restore ${d.name}`" @click="projects.restoreDesign(d.id)">
          Restore
        </button>
      </li>
    </ul>
  </details>
</template>

<style scoped>
summary {
  padding: 4px 2px;
  color: var(--ink-soft);
  cursor: pointer;
}

ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 16px;
  align-items: baseline;
  padding: 4px 18px;
  border-top: 1px solid var(--line);
}

p {
  padding: 6px 18px;
}

.strong {
  font-weight: 650;
}
</style>
