import {
  type ApproximatedSpecInput,
  type FilterSpecInput,
  isLimit,
  type LimitRequirement,
  isShaped,
  overrunEdges,
  type RealizationField,
  shapeOf,
  type StopbandPart,
  topologies,
  withApproximation,
  withPassbandEdge,
  withRealizationValue,
  withResponse,
  withRipple,
  withShapeValue,
  withStopband,
  withTopology,
} from '@voskel/core'
import { computed } from 'vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

type Requirement = LimitRequirement

/** The specification as the form edits it: the draft while it cannot be used, else the document's. */
export function useSpecForm() {
  const design = useDesignStore()
  const results = useResultsStore()
  const spec = computed<FilterSpecInput | null>(() => design.typedSpec)
  /** The same where it is one by an approximation, or one of a shape. */
  const banded = computed(() => (spec.value && !isShaped(spec.value) ? spec.value : null))
  const shaped = computed(() => (spec.value && isShaped(spec.value) ? spec.value : null))
  const shape = computed(() => (shaped.value ? shapeOf(shaped.value) : null))
  const topology = computed(() => topologies.find((t) => t.id === spec.value?.realization?.family) ?? null)

  /**
   * Why response or circuit cannot be had: [path, sentence] as text, so that the form is drawn anew only where that
   * changes, not with every result.
   */
  const failureText = computed(() => {
    const failure = results.failures.ideal ?? results.failures.circuit
    return failure ? JSON.stringify([failure.place.path ?? '', `${failure.message} ${failure.remedy}`]) : ''
  })
  const failure = computed(() =>
    failureText.value ? (JSON.parse(failureText.value) as [path: string, text: string]) : null,
  )

  /**
   * Sides on which the passband was typed over its stop band: told where it was typed, with the stop-band edge that would
   * be as far out as before.
   */
  const overrun = computed<ReadonlyMap<number, number>>(() => {
    const [before, draft] = [design.document?.specification, banded.value]
    const edges = before && draft ? overrunEdges(before, draft) : new Map<number, number>()
    const isIssue = (k: number) => design.draftIssues.some((i) => i.path === `stopband.edges.${k}`)
    return new Map([...edges].filter(([k]) => isIssue(k)))
  })

  /** Moves the stop band along with the passband that was typed over it. */
  function moveStopband() {
    const stopband = banded.value?.stopband
    if (!stopband?.edges) return
    const edges = stopband.edges.map((edge, k) => overrun.value.get(k) ?? edge)
    change('passband edge with its stop band', { stopband: { ...stopband, edges } })
  }

  /** The path of the field at which an issue is told. */
  const placeOf = (path: string) => {
    const side = /^stopband\.edges\.(\d)$/.exec(path)?.[1]
    return side !== undefined && overrun.value.has(Number(side)) ? `passband.edges.${side}` : path
  }

  /** What is wrong with the field at a path: with the specification itself, or with the circuit asked of it. */
  function problem(...paths: string[]): string {
    const issue = design.draftIssues.find((i) => paths.includes(placeOf(i.path)))
    if (issue) return `${issue.problem} ${issue.fix}`
    if (design.specDraft || !failure.value) return ''
    const [path, text] = failure.value
    return paths.includes(path) ? text : ''
  }

  /** Failures that belong to no field of the form. */
  const general = computed(() => (failure.value && failure.value[0] === '' ? failure.value[1] : ''))

  function change(label: string, next: Partial<ApproximatedSpecInput>, group: string | null = null) {
    if (spec.value) design.changeSpec(label, { ...spec.value, ...next } as FilterSpecInput, group)
  }

  function changeShape(id: string, value: unknown) {
    if (shaped.value) design.changeSpec(id, withShapeValue(shaped.value, id, value), `shape ${id}`)
  }

  function changeEdge(value: number | null, index = 0) {
    if (value === null || !banded.value) return
    design.changeSpec('passband edge', withPassbandEdge(banded.value, value, index), `passband edge ${index}`)
  }

  function changeRipple(value: number | null) {
    if (banded.value) design.changeSpec('passband ripple', withRipple(banded.value, value), 'ripple')
  }

  function changeStopband(part: StopbandPart) {
    if (!banded.value) return
    const group = part.edge === undefined ? 'attenuation' : `stop-band edge ${part.index ?? 0}`
    const label = part.attenuation === null ? 'no stop band' : group
    design.changeSpec(label, withStopband(banded.value, part), group)
  }

  function changeApproximation(id: string) {
    if (banded.value) design.changeSpec('approximation', withApproximation(banded.value, id))
  }

  function changeResponse(id: string) {
    if (spec.value) design.changeSpec('response', withResponse(spec.value, id, results.ideal?.ideal.order))
  }

  function changeFamily(id: string) {
    if (spec.value) design.changeSpec('circuit family', withTopology(spec.value, id))
  }

  function changeField(field: RealizationField, value: unknown) {
    if (spec.value)
      design.changeSpec(field.name.toLowerCase(), withRealizationValue(spec.value, field.id, value), field.id)
  }

  function limit(kind: Requirement['kind']): number | null {
    return spec.value?.requirements?.filter(isLimit).find((r) => r.kind === kind)?.limit ?? null
  }

  function changeLimit(kind: Requirement['kind'], value: number | null) {
    const others = (spec.value?.requirements ?? []).filter((r) => r.kind !== kind)
    const next = value === null ? others : [...others, { kind, limit: value } as Requirement]
    change('requirement', { requirements: next.length > 0 ? next : undefined }, kind)
  }

  return {
    spec,
    banded,
    shaped,
    shape,
    changeShape,
    topology,
    general,
    problem,
    overrun,
    moveStopband,
    change,
    changeEdge,
    changeResponse,
    changeRipple,
    changeStopband,
    changeApproximation,
    changeFamily,
    changeField,
    limit,
    changeLimit,
  }
}
