import {
  askedSpec,
  type Circuit,
  type Design,
  type FilterSpecInput,
  parseSpec,
  type SpecIssue,
  specIssues,
  withSpecification,
  witnessed,
} from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type ApiFailure, type StoredDesign } from '../api/client'
import { device } from '../document/device'
import { emptyHistory, type History, recorded, redone, undone, ungrouped } from '../document/history'
import type { Kept } from '../document/keeping'
import { Saver, type SaveState } from '../document/saver'
import { settled } from '../document/settle'
import { useUnsentStore } from './unsent'

/** ms after which a tab that was being closed is closed */
const CLOSING_MS = 1500

/** The open design on the screen: its document, history, draft and way to the server. */
export const useDesignStore = defineStore('design', () => {
  const here = device()
  const unsent = useUnsentStore()
  const id = ref<string | null>(null)
  const document = shallowRef<Design | null>(null)
  const loading = ref(false)
  const failure = ref<ApiFailure | null>(null)
  const history = shallowRef<History<Design>>(emptyHistory)
  /** A specification as it is being typed, while it cannot be used; null while it can. */
  const specDraft = shallowRef<FilterSpecInput | null>(null)
  const draftIssues = shallowRef<readonly SpecIssue[]>([])
  /** Work that other tabs have left unsaved and that differs from what is here: to be taken, copied or let go. */
  const offers = shallowRef<readonly Kept[]>([])
  const saveState = ref<SaveState>('saved')
  const saveFailure = ref<ApiFailure | null>(null)
  const savedAt = ref<number | null>(null)
  /** What is unsaved lies on this device. */
  const isKept = ref(true)

  let saver: Saver | null = null
  const ending = new Map<string, Promise<void>>()
  let opened = 0
  let project: string | null = null
  /** The circuit that was computed of a document, to be kept with it. */
  let shownOf: { document: Design; base: Circuit } | null = null
  /** A document that was sent before its circuit was there. */
  let unwitnessed: Design | null = null

  here.hear(({ design, revision }) => {
    if (design === id.value) void saver?.heard(revision)
  })

  const past = computed(() => history.value.past)
  const future = computed(() => history.value.future)
  const canUndo = computed(() => past.value.length > 0 || specDraft.value !== null)
  const canRedo = computed(() => future.value.length > 0)
  /** What is asked as the form shows it: the draft while it cannot be used. */
  const typedSpec = computed<FilterSpecInput | null>(
    () => specDraft.value ?? (document.value && askedSpec(document.value)),
  )

  async function open(design: string) {
    const run = ++opened
    leaveBehind()
    id.value = design
    unsent.open = design
    document.value = null
    history.value = emptyHistory
    offers.value = []
    specDraft.value = null
    draftIssues.value = []
    failure.value = null
    shownOf = unwitnessed = null
    show()
    loading.value = true
    await ending.get(design)
    const keeping = unsent.leftOf(design)
    const answer = await api.readDesign(design)
    if (run !== opened) return
    // What the server has is shown at once; what this device keeps besides comes a moment later.
    if (answer.ok) begin(design, answer.value)
    const { left, inOpenTabs } = await keeping
    if (run !== opened) return
    loading.value = false
    if (!answer.ok) {
      const kept = keptInstead(answer.failure, left)
      if (!kept) {
        failure.value = answer.failure
        return
      }
      begin(design, kept)
    }
    await resume({ revision: saver!.seen }, left)
    if (inOpenTabs) setTimeout(() => void lookAgain(run), CLOSING_MS)
  }

  /** Saves an earlier state over one that cannot be read, and opens it. */
  async function replaceDamaged(state: Design): Promise<void> {
    const [damaged, seen] = [id.value, failure.value?.revision]
    if (damaged === null || seen === undefined) return
    const answer = await api.saveDesign(damaged, seen, state)
    if (answer.ok) await open(damaged)
    else if (id.value === damaged) failure.value = answer.failure
  }

  function begin(design: string, stored: Omit<StoredDesign, 'id' | 'projectId'> & { projectId?: string }) {
    project = stored.projectId ?? null
    saver = saverOf(design, stored)
    document.value = stored.document
    show()
  }

  /** A tab that was being closed when this one opened is closed by now: what it left is offered, or taken. */
  async function lookAgain(run: number) {
    if (run !== opened || id.value === null || !saver) return
    const { left } = await unsent.leftOf(id.value)
    const others = left.filter((k) => k.tab !== here.tab && !offers.value.some((o) => o.tab === k.tab))
    if (run === opened && others.length > 0) await resume({ revision: saver.seen }, others)
  }

  /** What is kept here of a design that the server does not hand out now. */
  function keptInstead({ status }: ApiFailure, left: readonly Kept[]): Omit<StoredDesign, 'id' | 'projectId'> | null {
    const newest = left.findLast((k) => k.document)
    if (!newest || (status !== 0 && status < 500)) return null
    return { revision: newest.revision, updatedAt: newest.at, document: newest.base ?? newest.document! }
  }

  /** Goes on with what was left unsaved: as edits, so that undo tells it from what the server has. */
  async function resume(stored: Pick<StoredDesign, 'revision'>, left: readonly Kept[]) {
    const done: Kept[] = []
    const open: Kept[] = []
    const draft = left.findLast((k) => k.draft)?.draft ?? null
    let untouched = !saver?.isUnsaved
    for (const kept of left) {
      if (kept.draft && kept.draft !== draft) open.push(kept)
      else if (!kept.document) done.push(kept)
      else {
        // After a first one the document is no longer the server's: a second has to be merged.
        const edited = { ...kept, document: kept.document, revision: untouched ? kept.revision : -1 }
        const next = settled(edited, { revision: stored.revision, document: document.value! })
        if (next.kind === 'differs') open.push(kept)
        else done.push(kept)
        if (next.kind !== 'send') continue
        untouched = false
        edit('what was not saved yet', next.document)
      }
    }
    offers.value = [...offers.value, ...open]
    if (draft && !specDraft.value) changeSpec('specification', draft)
    if (done.length === 0 || !(await saver?.settleKept())) return
    for (const kept of done) if (kept.tab !== here.tab) await here.keeping.remove(kept)
  }

  function saverOf(design: string, stored: Omit<StoredDesign, 'id' | 'projectId'>): Saver {
    const own: Saver = new Saver(design, stored, {
      save: api.saveDesign,
      read: api.readDesign,
      keeping: here.keeping,
      tab: here.tab,
      now: Date.now,
      stamped,
      take: (next, why) => saver === own && follow(next, why),
      announce: (of, revision) => here.tell({ design: of, revision }),
      changed: () => saver === own && show(),
    })
    return own
  }

  /** Lets the design that was open go; what of it is unsaved is sent when that can be. */
  function leaveBehind() {
    const [before, design] = [saver, id.value]
    saver = null
    if (!before || design === null) return
    const end = before.end().finally(() => {
      ending.delete(design)
      if (before.isUnsaved) void unsent.sweep()
    })
    ending.set(design, end)
  }

  function show() {
    saveState.value = saver?.state ?? 'saved'
    saveFailure.value = saver?.failure ?? null
    savedAt.value = saver?.savedAt ?? null
    isKept.value = saver?.isKept ?? true
  }

  /** Changes the document; the change can be undone. */
  function edit(label: string, after: Design, group: string | null = null) {
    const before = document.value
    if (!before || after === before) return
    history.value = recorded(history.value, { label, group, before, after })
    put(after)
  }

  /** Another version takes the place of this one, which undo brings back. A draft that is being typed stays. */
  function follow(after: Design, label: string) {
    const before = document.value
    if (before) history.value = recorded(history.value, { label, group: null, before, after })
    document.value = after
  }

  /** Ends a group: the next edit is one of its own. */
  function endGroup() {
    history.value = ungrouped(history.value)
  }

  /** Takes back what is being typed, else the last edit. */
  function undo() {
    if (specDraft.value) return dropDraft()
    travel(undone(history.value))
  }

  function redo() {
    travel(redone(history.value))
  }

  function travel(to: { history: History<Design>; document: Design } | null) {
    if (!to) return
    history.value = to.history
    dropDraft()
    put(to.document)
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
      saver?.drafted(typed)
      return
    }
    dropDraft()
    edit(label, withSpecification(document.value, parseSpec(typed)), group)
  }

  function dropDraft() {
    specDraft.value = null
    draftIssues.value = []
    saver?.drafted(null)
  }

  function put(next: Design) {
    document.value = next
    saver?.edited(next)
  }

  /** What was computed of a document, to be kept with it as its witness. */
  function shown(of: Design, base: Circuit) {
    shownOf = { document: of, base }
    if (unwitnessed === of) saver?.again()
  }

  function stamped(next: Design): Design {
    const known = shownOf?.document === next
    unwitnessed = known || next.circuit.origin === 'drawn' ? null : next
    return known ? witnessed(next, shownOf!.base) : next
  }

  /** Ends a conflict with both: this version becomes a design of its own. Returns the copy's id. */
  async function keepBoth(): Promise<string | null> {
    if (!document.value) return null
    const copy = await copyOf(document.value, 'mine')
    if (copy) await saver?.takeTheirs()
    return copy
  }

  /** Puts work of another tab in the place of this document, or what it was typing into the form; undo takes it back. */
  async function takeOffer(offer: Kept) {
    if (offer.document) edit('unsaved work of another tab', offer.document)
    if (offer.draft) changeSpec('specification', offer.draft)
    if (await saver?.settleKept()) await dropOffer(offer)
  }

  /** Makes a design of its own of work of another tab. Returns the copy's id. */
  async function copyOffer(offer: Kept): Promise<string | null> {
    const copy = offer.document && (await copyOf(offer.document, 'kept'))
    if (copy) await dropOffer(offer)
    return copy
  }

  async function dropOffer(offer: Kept) {
    await here.keeping.remove(offer)
    offers.value = offers.value.filter((o) => o !== offer)
  }

  /** A design of its own beside the open one; null where it could not be made, which is said. */
  async function copyOf(content: Design, suffix: string): Promise<string | null> {
    if (!id.value) return null
    const home = await homeOf(id.value)
    const name = `${content.name.slice(0, 190)} (${suffix})`
    const made = home === null ? null : await api.createDesign(home, { ...content, name })
    if (made && !made.ok) saveFailure.value = made.failure
    return made?.ok ? made.value.id : null
  }

  /** The project of the open design; null where nobody says it. */
  async function homeOf(design: string | null): Promise<string | null> {
    return project ?? (design === null ? null : await projectOf(design))
  }

  async function projectOf(design: string): Promise<string | null> {
    const answer = await api.readDesign(design)
    if (!answer.ok) saveFailure.value = answer.failure
    return answer.ok ? answer.value.projectId : null
  }

  return {
    id,
    document,
    copyOf,
    loading,
    failure,
    saveState,
    saveFailure,
    savedAt,
    isKept,
    offers,
    past,
    future,
    specDraft,
    typedSpec,
    draftIssues,
    canUndo,
    canRedo,
    open,
    replaceDamaged,
    edit,
    endGroup,
    undo,
    redo,
    changeSpec,
    dropDraft,
    shown,
    flush: async () => saver?.flush(),
    leave: () => saver?.leave(),
    takeTheirs: async () => saver?.takeTheirs(),
    keepMine: async () => saver?.keepMine(),
    keepBoth,
    takeOffer,
    copyOffer,
    dropOffer,
    home: () => homeOf(id.value),
  }
})
