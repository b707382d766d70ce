import { type Circuit, type Design, type FilterSpecInput, parseSpec, type SpecIssue, specIssues } from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type ApiFailure } from '../api/client'

/**
 * `saved`: the server has it. `unsaved`: it will be saved in a moment. `offline`: the server does not answer; tried
 * again by itself. `refused`: the server will not take it. `conflict`: somebody else has saved in between.
 */
export type SaveState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'refused' | 'conflict'

/** An edit with what was before and after it: its own inverse. */
interface Edit {
  label: string
  /** Edits of the same group that follow each other are one. */
  group: string | null
  before: Design
  after: Design
}

/** What is kept on this device until the server has it. */
interface Unsaved {
  revision: number
  document: Design
}

const SAVE_AFTER_MS = 500
const RETRY_AFTER_MS = 3000
const MOST_EDITS = 500

const unsavedKey = (id: string) => `voskel.unsaved.${id}`
const draftKey = (id: string) => `voskel.draft.${id}`

/** The open design: the document, its history, and its way to the server. */
export const useDesignStore = defineStore('design', () => {
  const id = ref<string | null>(null)
  const document = shallowRef<Design | null>(null)
  const loading = ref(false)
  const failure = ref<ApiFailure | null>(null)
  const saveState = ref<SaveState>('saved')
  const saveFailure = ref<ApiFailure | null>(null)
  const savedAt = ref<number | null>(null)
  const past = shallowRef<readonly Edit[]>([])
  const future = shallowRef<readonly Edit[]>([])
  /** A specification as it is being typed, while it cannot be used; null while it can. */
  const specDraft = shallowRef<FilterSpecInput | null>(null)
  const draftIssues = shallowRef<readonly SpecIssue[]>([])
  let revision = 0
  let timer: ReturnType<typeof setTimeout> | undefined
  let opened = 0
  const channel = typeof BroadcastChannel === 'function' ? new BroadcastChannel('voskel.designs') : null
  channel?.addEventListener(
    'message',
    (event: MessageEvent<{ id: string; revision: number }>) => void heardOf(event.data),
  )

  const canUndo = computed(() => past.value.length > 0)
  const canRedo = computed(() => future.value.length > 0)

  async function open(design: string) {
    const run = ++opened
    if (id.value !== null && id.value !== design) await flush()
    id.value = design
    document.value = null
    past.value = []
    future.value = []
    specDraft.value = null
    draftIssues.value = []
    failure.value = null
    loading.value = true
    const answer = await api.readDesign(design)
    if (run !== opened) return
    loading.value = false
    if (!answer.ok) {
      failure.value = answer.failure
      return
    }
    take(answer.value.document, answer.value.revision, answer.value.updatedAt)
    const kept = readKept<Unsaved>(unsavedKey(design))
    if (kept) {
      document.value = kept.document
      // A save that was under way when the page went may have arrived: then nobody else has changed anything.
      const own = kept.revision === revision || continues(kept.document, answer.value.document)
      saveState.value = own ? 'unsaved' : 'conflict'
      if (saveState.value === 'unsaved') schedule(0)
    }
    const draft = readKept<FilterSpecInput>(draftKey(design))
    if (draft) changeSpec('specification', draft)
  }

  function take(next: Design, seen: number, when: number) {
    document.value = next
    revision = seen
    savedAt.value = when
    saveState.value = 'saved'
    saveFailure.value = null
  }

  /** Changes the document; the change can be undone. */
  function edit(label: string, next: Design, group: string | null = null) {
    const before = document.value
    if (!before || next === before) return
    const last = past.value.at(-1)
    past.value =
      last && group !== null && last.group === group
        ? [...past.value.slice(0, -1), { ...last, after: next }]
        : [...past.value.slice(-MOST_EDITS), { label, group, before, after: next }]
    future.value = []
    put(next)
  }

  /** Ends a group: the next edit is one of its own. */
  function endGroup() {
    const last = past.value.at(-1)
    if (last?.group) past.value = [...past.value.slice(0, -1), { ...last, group: null }]
  }

  /** The circuit that was computed for the document as it stands: part of the last edit, not an edit of its own. */
  function adopt(circuit: Circuit) {
    const current = document.value
    if (!current || current.circuit) return
    const next = { ...current, circuit }
    const last = past.value.at(-1)
    if (last?.after === current) past.value = [...past.value.slice(0, -1), { ...last, after: next }]
    put(next)
  }

  function undo() {
    const last = past.value.at(-1)
    if (!last) return
    past.value = past.value.slice(0, -1)
    future.value = [...future.value, { ...last, group: null }]
    dropDraft()
    put(last.before)
  }

  function redo() {
    const next = future.value.at(-1)
    if (!next) return
    future.value = future.value.slice(0, -1)
    past.value = [...past.value, next]
    dropDraft()
    put(next.after)
  }

  /**
   * Takes a specification as typed. Where it can be used it becomes the document's; where not it is kept as a draft,
   * on this device too, and the document stays as it is.
   */
  function changeSpec(label: string, typed: FilterSpecInput, group: string | null = null) {
    const issues = specIssues(typed)
    draftIssues.value = issues
    if (issues.length > 0 || !document.value) {
      specDraft.value = typed
      if (id.value) keep(draftKey(id.value), typed)
      return
    }
    dropDraft()
    const { circuit: _gone, ...rest } = document.value
    edit(label, { ...rest, specification: parseSpec(typed) }, group)
  }

  function dropDraft() {
    specDraft.value = null
    draftIssues.value = []
    if (id.value) forget(draftKey(id.value))
  }

  function put(next: Design) {
    document.value = next
    if (!id.value) return
    keep(unsavedKey(id.value), { revision, document: next } satisfies Unsaved)
    if (saveState.value === 'conflict') return
    saveState.value = 'unsaved'
    schedule(SAVE_AFTER_MS)
  }

  function schedule(ms: number) {
    clearTimeout(timer)
    timer = setTimeout(() => void save(), ms)
  }

  async function save(): Promise<void> {
    const design = id.value
    const sent = document.value
    if (!design || !sent || saveState.value === 'saving' || saveState.value === 'conflict') return
    clearTimeout(timer)
    saveState.value = 'saving'
    const answer = await api.saveDesign(design, revision, sent)
    if (id.value !== design) return
    if (answer.ok) {
      revision = answer.value.revision
      savedAt.value = answer.value.updatedAt
      saveFailure.value = null
      channel?.postMessage({ id: design, revision })
      if (document.value === sent) {
        saveState.value = 'saved'
        forget(unsavedKey(design))
      } else {
        saveState.value = 'unsaved'
        if (document.value) keep(unsavedKey(design), { revision, document: document.value } satisfies Unsaved)
        schedule(SAVE_AFTER_MS)
      }
      return
    }
    saveFailure.value = answer.failure
    if (answer.failure.status === 412) await meet(design)
    else if (answer.failure.status === 0 || answer.failure.status >= 500) {
      saveState.value = 'offline'
      schedule(RETRY_AFTER_MS)
    } else saveState.value = 'refused'
  }

  /** The server has another revision: a conflict, unless it is this version's own, sent before the page was loaded anew. */
  async function meet(design: string) {
    const theirs = await api.readDesign(design)
    if (id.value !== design) return
    if (!theirs.ok || !document.value || !continues(document.value, theirs.value.document)) {
      saveState.value = 'conflict'
      return
    }
    revision = theirs.value.revision
    saveFailure.value = null
    saveState.value = 'unsaved'
    schedule(0)
  }

  /** Saves at once what still waits. */
  async function flush() {
    if (saveState.value === 'unsaved') await save()
  }

  /** Another window has saved this design: follow it, unless something of ours is not saved yet. */
  async function heardOf(news: { id: string; revision: number }) {
    if (news.id !== id.value || news.revision <= revision) return
    if (saveState.value === 'saved') await takeTheirs()
  }

  /** Ends a conflict with the server's version. */
  async function takeTheirs() {
    if (!id.value) return
    const answer = await api.readDesign(id.value)
    if (!answer.ok) {
      saveFailure.value = answer.failure
      return
    }
    forget(unsavedKey(id.value))
    past.value = []
    future.value = []
    dropDraft()
    take(answer.value.document, answer.value.revision, answer.value.updatedAt)
  }

  /** Ends a conflict with this version: it is saved over the server's. */
  async function keepMine() {
    if (!id.value) return
    const answer = await api.readDesign(id.value)
    if (!answer.ok) {
      saveFailure.value = answer.failure
      return
    }
    revision = answer.value.revision
    saveState.value = 'unsaved'
    await save()
  }

  /** Ends a conflict with both: this version becomes a design of its own. Returns the copy's id. */
  async function keepBoth(): Promise<string | null> {
    if (!id.value || !document.value) return null
    const answer = await api.readDesign(id.value)
    if (!answer.ok) {
      saveFailure.value = answer.failure
      return null
    }
    const mine = { ...document.value, name: `${document.value.name} (mine)`.slice(0, 200) }
    const made = await api.createDesign(answer.value.projectId, mine)
    if (!made.ok) {
      saveFailure.value = made.failure
      return null
    }
    await takeTheirs()
    return made.value.id
  }

  return {
    id,
    document,
    loading,
    failure,
    saveState,
    saveFailure,
    savedAt,
    past,
    future,
    specDraft,
    draftIssues,
    canUndo,
    canRedo,
    open,
    edit,
    endGroup,
    adopt,
    undo,
    redo,
    changeSpec,
    dropDraft,
    save,
    flush,
    takeTheirs,
    keepMine,
    keepBoth,
  }
})

function readKept<T>(key: string): T | null {
  try {
    const text = localStorage.getItem(key)
    return text === null ? null : (JSON.parse(text) as T)
  } catch {
    return null
  }
}

function keep(key: string, value: unknown) {
  try {
    localStorage.setItem(key, JSON.stringify(value))
  } catch {
    // A full or forbidden storage only costs the safety net; the server still gets everything.
  }
}

function forget(key: string) {
  try {
    localStorage.removeItem(key)
  } catch {
    // As above.
  }
}

/** As text in which the order of keys does not count. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_key, entry: unknown) =>
    entry && typeof entry === 'object' && !Array.isArray(entry)
      ? Object.fromEntries(Object.entries(entry).sort(([a], [b]) => (a < b ? -1 : 1)))
      : entry,
  )

/** Whether a document is another one, or that with the circuit that was computed for it. */
function continues(next: Design, before: Design): boolean {
  const without = ({ circuit: _circuit, ...rest }: Design) => canonical(rest)
  if (without(next) !== without(before)) return false
  return before.circuit === undefined || canonical(before.circuit) === canonical(next.circuit)
}
