import {
  type Circuit,
  type Compared,
  formatQuantity,
  type KeptCurve,
  type KeptCurves,
  packKept,
  partKind,
  unpackKept,
  VoskelError,
  withCompared,
  withoutCompared,
} from '@voskel/core'
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { api, type ApiFailure, type KeptSummary } from '../api/client'
import { type ComparedCurves, comparedCurves } from '../engine/kept'
import { useDesignStore } from './design'

/** What is kept under a name: its curves, why they cannot be had, or null while they are fetched. */
type Fetched = { readonly kept: KeptCurves } | { readonly failure: string } | null

/** A pinned run or measured data in the list of what stands beside the curves. */
export interface ComparedItem {
  readonly entry: Compared
  readonly failure: string | null
  readonly isLoading: boolean
}

const sentence = ({ title, detail }: ApiFailure) => `${title}. ${detail}`

/** Pinned runs and measured data beside the curves of the open design. What is kept never changes, so that it is fetched once. */
export const useComparedStore = defineStore('compared', () => {
  const design = useDesignStore()
  const fetched = shallowRef<ReadonlyMap<string, Fetched>>(new Map())
  const entries = computed(() => design.document?.compared ?? [])

  const put = (id: string, what: Fetched) => (fetched.value = new Map(fetched.value).set(id, what))

  async function fetchOne(id: string) {
    put(id, null)
    const answer = await api.readCurves(id)
    if (!answer.ok) return put(id, { failure: sentence(answer.failure) })
    try {
      put(id, { kept: unpackKept(answer.value) })
    } catch (error) {
      if (!(error instanceof VoskelError)) throw error
      put(id, { failure: `${error.message} ${error.remedy}` })
    }
  }

  watch(
    entries,
    (all) => {
      for (const { id } of all) if (!fetched.value.has(id)) void fetchOne(id)
    },
    { immediate: true },
  )

  const items = computed<ComparedItem[]>(() =>
    entries.value.map((entry) => {
      const found = fetched.value.get(entry.id)
      return {
        entry,
        failure: found && 'failure' in found ? found.failure : null,
        isLoading: found === null || found === undefined,
      }
    }),
  )

  const drawable = new Map<KeptCurves, ComparedCurves>()
  /** Everything that is there, hidden or not. */
  const curves = computed<readonly ComparedCurves[]>(() =>
    entries.value.flatMap((entry) => {
      const found = fetched.value.get(entry.id)
      if (!found || !('kept' in found)) return []
      let known = drawable.get(found.kept)
      if (!known || known.entry !== entry) {
        known = known ? { ...known, entry } : comparedCurves(entry, found.kept)
        drawable.set(found.kept, known)
      }
      return [known]
    }),
  )
  const shown = computed(() => curves.value.filter(({ entry }) => !entry.hidden))

  /** Keeps curves with the project and puts them beside the design's own. @returns why not, or null */
  async function keep(kept: KeptCurves, label: string): Promise<string | null> {
    const project = await design.home()
    if (project === null) return 'The project of this design is not known. Reload the page.'
    const before = design.id
    const answer = await api.keepCurves(project, packKept(kept))
    if (!answer.ok) return sentence(answer.failure)
    if (!design.document || design.id !== before)
      return 'Another design has been opened meanwhile; it is kept with the project.'
    put(answer.value.id, { kept })
    const { kind, name, note } = kept
    design.edit(label, withCompared(design.document, { id: answer.value.id, kind, name, ...(note && { note }) }))
    return null
  }

  /** What of the project is kept and not shown here. @returns a sentence where that cannot be said */
  async function others(): Promise<readonly KeptSummary[] | string> {
    const project = await design.home()
    if (project === null) return 'The project of this design is not known. Reload the page.'
    const answer = await api.keptCurves(project)
    if (!answer.ok) return sentence(answer.failure)
    return answer.value.filter(({ id }) => !entries.value.some((e) => e.id === id))
  }

  /** Shows what was kept in another design, or was let go in this one. */
  function take({ id, facts }: KeptSummary) {
    if (!design.document || !facts) return
    const name =
      facts.from && facts.from !== design.document.name ? `${facts.name}, ${facts.from}`.slice(0, 80) : facts.name
    const entry = { id, kind: facts.kind, name, ...(facts.note && { note: facts.note }) }
    design.edit(`${name} beside the curves`, withCompared(design.document, entry))
  }

  /** Of what is kept and shown in no design. @returns why not, or null */
  async function throwAway({ id }: KeptSummary): Promise<string | null> {
    const answer = await api.throwCurvesAway(id)
    return answer.ok || answer.failure.status === 404 ? null : sentence(answer.failure)
  }

  function change(entry: Compared, label: string) {
    if (design.document) design.edit(label, withCompared(design.document, entry))
  }
  function letGo({ id, name }: Compared) {
    if (design.document) design.edit(`${name} no longer compared`, withoutCompared(design.document, id))
  }

  return { items, curves, shown, keep, others, take, throwAway, change, letGo, again: fetchOne }
})

/** The main values of a circuit's parts, as they are written. */
export function partTexts(circuit: Circuit | null | undefined): Record<string, string> {
  const rows = (circuit?.parts ?? []).flatMap((part): [string, string][] => {
    const { mainValue, values } = partKind(part.kind, part.id)
    const field = values.find((f) => f.id === mainValue)
    const value = field && (part.values[field.id] ?? field.default)
    return value === undefined ? [] : [[part.id, formatQuantity(value, field!.unit)]]
  })
  return Object.fromEntries(rows)
}

/** Curves of a run as they are kept. */
export const keptRun = (
  facts: Pick<KeptCurves, 'name' | 'note' | 'from' | 'measures' | 'parts'>,
  curves: readonly KeptCurve[],
): KeptCurves => ({ kind: 'run', ...facts, curves })
