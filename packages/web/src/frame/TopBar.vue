<script setup lang="ts">
import { Moon, Printer, RefreshLeft, RefreshRight, Search, Sunny } from '@element-plus/icons-vue'
import { ElIcon } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useDesignStore } from '../stores/design'
import { useProjectsStore } from '../stores/projects'
import { type Appearance, useViewStore } from '../stores/view'

/** Project and design, saved state, undo and redo, search, appearance. */
const emit = defineEmits<{ search: []; earlier: [] }>()
const design = useDesignStore()
const projects = useProjectsStore()
const view = useViewStore()

const project = computed(
  () => projects.projects?.find((p) => p.designs.some((d) => d.id === design.id))?.name ?? 'Project',
)
const name = ref('')
watch(
  () => design.document?.name,
  (n) => (name.value = n ?? ''),
  { immediate: true },
)

function rename() {
  const typed = name.value.trim().slice(0, 200)
  if (design.document && typed && typed !== design.document.name)
    design.edit('name', { ...design.document, name: typed })
  else name.value = design.document?.name ?? ''
}

/** Why the server does not take a save now. */
function reason(): string {
  const title = design.saveFailure?.title ?? 'The server does not answer'
  return title.charAt(0).toLowerCase() + title.slice(1)
}

/** Where what is unsaved lies meanwhile. */
const where = () =>
  design.isKept ? 'kept on this device' : 'this browser does not keep it either, so leave the page open'

const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const saved = computed(() => {
  switch (design.saveState) {
    case 'saved':
      return { text: design.savedAt ? `saved ${time.format(design.savedAt)}` : 'saved', bad: false }
    case 'saving':
    case 'unsaved':
      return design.isKept
        ? { text: 'saving …', bad: false }
        : { text: 'saving …; this browser keeps nothing, so leave the page open', bad: true }
    case 'offline':
      return { text: `not saved: ${reason()}; ${where()}, tried again`, bad: true }
    case 'refused':
      return { text: `not saved: ${design.saveFailure?.title ?? 'the server refuses it'}; ${where()}`, bad: true }
    case 'conflict':
      return { text: 'not saved: changed elsewhere too', bad: true }
  }
  return { text: '', bad: false }
})

const looks: Record<Appearance, { icon: typeof Sunny; name: string }> = {
  light: { icon: Sunny, name: 'light' },
  dark: { icon: Moon, name: 'dark' },
  print: { icon: Printer, name: 'print' },
}
</script>

<template>
  <header class="bar">
    <RouterLink class="mark" :to="{ name: 'projects' }" title="All projects">voskel</RouterLink>
    <template v-if="design.document">
      <span class="project">{{ project }}</span>
      <span class="soft" aria-hidden="true">›</span>
      <input
        v-model="name"
        class="name"
        aria-label="Name of the design"
        :size="Math.max(8, Math.min(36, name.length))"
        @change="rename"
        @keydown.enter="rename"
      />
      <button class="plain-button saved" :class="{ bad: saved.bad }" title="Earlier states" @click="emit('earlier')">
        <span role="status" data-testid="saved">{{ saved.text }}</span>
      </button>
    </template>
    <span class="space" />
    <button class="search" @click="emit('search')">
      <ElIcon><Search /></ElIcon><span>Find a command</span><kbd>Ctrl K</kbd>
    </button>
    <button
      class="plain-button"
      :disabled="!design.canUndo"
      aria-label="Undo"
      :title="`Undo ${design.past.at(-1)?.label ?? ''}`"
      @click="design.undo()"
    >
      <ElIcon><RefreshLeft /></ElIcon>
    </button>
    <button
      class="plain-button"
      :disabled="!design.canRedo"
      aria-label="Redo"
      :title="`Redo ${design.future.at(-1)?.label ?? ''}`"
      @click="design.redo()"
    >
      <ElIcon><RefreshRight /></ElIcon>
    </button>
    <button
      class="plain-button"
      :aria-label="`Appearance: ${looks[view.appearance].name}; change`"
      :title="`Appearance: ${looks[view.appearance].name}`"
      @click="view.nextAppearance()"
    >
      <ElIcon><component :is="looks[view.appearance].icon" /></ElIcon>
    </button>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 9px;
  height: 44px;
  padding: 0 14px;
  border-bottom: 1px solid var(--line);
  background: var(--paper);
}

.mark {
  margin-right: 10px;
  color: var(--accent);
  font-size: 18px;
  font-weight: 750;
  letter-spacing: 0.02em;
  text-decoration: none;
}

.project {
  overflow: hidden;
  color: var(--ink-soft);
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name {
  min-width: 60px;
  padding: 3px 6px;
  border: 1px solid transparent;
  border-radius: 5px;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 650;
}

.name:hover,
.name:focus {
  border-color: var(--line-strong);
}

.saved {
  overflow: hidden;
  color: var(--ink-soft);
  font-size: 13px;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.saved.bad {
  color: var(--missed);
  font-weight: 600;
}

.space {
  flex: 1;
}

.search {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 210px;
  flex: 0 0 auto;
  padding: 4px 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--raised);
  color: var(--ink-soft);
  cursor: pointer;
}

.search span {
  flex: 1;
  text-align: left;
}

kbd {
  font: inherit;
  font-size: 13px;
}

@media (max-width: 1100px) {
  .search span,
  .search kbd {
    display: none;
  }

  .search {
    width: auto;
  }
}
</style>
