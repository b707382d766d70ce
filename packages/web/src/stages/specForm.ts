import {
  type ApproximatedSpecInput,
  approximations,
  atPrototypeRatio,
  attenuations,
  type FilterSpecInput,
  isShaped,
  prototypeRatio,
  type RealizationField,
  type ResponseId,
  RESPONSES,
  shapeOf,
  shapes,
  topologies,
} from '@voskel/core'
import { computed } from 'vue'
import { useDesignStore } from '../stores/design'
import { useResultsStore } from '../stores/results'

type Requirement = NonNullable<FilterSpecInput['requirements']>[number]

/** Requirements on the step response that the form offers. */
export const STEP_REQUIREMENTS: readonly { kind: Requirement['kind']; name: string; unit: string }[] = [
  { kind: 'overshoot', name: 'Overshoot at most', unit: '%' },
  { kind: 'rise-time', name: 'Rise time at most', unit: 's' },
  { kind: 'settling-time', name: 'Settled to 1 % within', unit: 's' },
  { kind: 'step-delay', name: 'Delay to 50 % at most', unit: 's' },
]

/** Parameters that only some families have. */
const SHAPE_FIELDS = ['phaseRipple', 'breakDb', 'mix', 'delay', 'evenOrder'] as const

/** Families whose even orders ladders need in another form. */
export const EVEN_FORMED: readonly string[] = ['chebyshev', 'inverse-chebyshev', 'elliptic']

/** What shapes begin with that have no usual values: a second order, and the mask of a low-pass. */
const TYPED_STARTS: Readonly<Record<string, object>> = {
  free: { denominator: [1, 1000, 1e6] },
  masked: {
    levels: [
      [10, -0.5, 0.5],
      [1000, -0.5, 0.5],
      [1000, null, 0.5],
      [2200, null, 0.5],
      [2200, null, -40],
      [20000, null, -40],
    ],
  },
}

/** Stop-band edges of which one is given: the other lies as far out on its side. */
function ratioed(response: string | undefined, passband: readonly number[], edge: number, index: number): number[] {
  const id = (response ?? 'lowpass') as ResponseId
  return atPrototypeRatio(id, passband, prototypeRatio(id, passband, edge)).with(index, edge)
}

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
    const before = design.document?.specification
    const draft = banded.value
    const edges = new Map<number, number>()
    if (!before || isShaped(before) || !draft?.stopband?.edges || before.response !== draft.response) return edges
    draft.stopband.edges.forEach((edge, k) => {
      const [pass, oldPass] = [draft.passband.edges[k], before.passband.edges[k]]
      const isIssue = design.draftIssues.some((i) => i.path === `stopband.edges.${k}`)
      if (!isIssue || pass === undefined || oldPass === undefined || edge !== before.stopband?.edges?.[k]) return
      edges.set(k, Number(((pass * edge) / oldPass).toPrecision(12)))
    })
    return edges
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

  /** A value of a shape; what is emptied is left out. */
  function changeShape(id: string, value: unknown) {
    if (!shaped.value) return
    const { [id]: _old, ...rest } = shaped.value.shape
    const next = value === null ? rest : { ...rest, [id]: value }
    design.changeSpec(id, { ...shaped.value, shape: next }, `shape ${id}`)
  }

  function changeEdge(value: number | null, index = 0) {
    if (value === null || !banded.value) return
    const edges = banded.value.passband.edges.with(index, value)
    change('passband edge', { passband: { ...banded.value.passband, edges } }, `passband edge ${index}`)
  }

  function changeRipple(value: number | null) {
    if (banded.value)
      change('passband ripple', { passband: { ...banded.value.passband, ripple: value ?? undefined } }, 'ripple')
  }

  /** Edge or attenuation; a stop band needs its attenuation, so that emptying it takes the stop band away. */
  function changeStopband(part: {
    edge?: number | null
    index?: number
    attenuation?: number | [number, number] | null
  }) {
    const current = banded.value?.stopband
    const attenuation = part.attenuation === undefined ? (current?.attenuation ?? 40) : part.attenuation
    const group = part.edge === undefined ? 'attenuation' : `stop-band edge ${part.index ?? 0}`
    if (attenuation === null) return change('no stop band', { stopband: undefined }, group)
    let edges = current?.edges
    if (part.edge === null) edges = undefined
    else if (part.edge !== undefined) {
      // A first edge of two brings the other, as far on its own side.
      edges ??= ratioed(banded.value?.response, banded.value?.passband.edges ?? [], part.edge, part.index ?? 0)
      edges = edges.with(part.index ?? 0, part.edge)
    }
    change(group, { stopband: { attenuation, ...(edges && { edges }) } }, group)
  }

  /** Another family; what it needs is filled in, what only the old one has is taken out. */
  function changeApproximation(id: string) {
    const family = approximations.find((a) => a.id === id)
    if (!banded.value || !family) return
    const passband = { ...banded.value.passband }
    if (family.defaultRippleDb === null) passband.ripple ??= 0.5
    const own = family.fields?.map((f) => f.id as string) ?? []
    const kept = [...own, ...(family.unscaled ? ['delay'] : []), ...(EVEN_FORMED.includes(id) ? ['evenOrder'] : [])]
    const gone = SHAPE_FIELDS.filter((f) => !kept.includes(f))
    change('approximation', {
      approximation: id,
      passband,
      ...(family.shapesStopband && !banded.value.stopband && { stopband: { attenuation: 40 } }),
      ...Object.fromEntries(gone.map((f) => [f, undefined])),
    })
  }

  /** Another response: what it needs follows from what is there, or begins with usual values. */
  function changeResponse(id: string) {
    const wanted = shapes.find((s) => s.id === id)
    if (wanted) return changeToShape(id)
    const kind = RESPONSES.find((r) => r.id === id)
    if (!spec.value || !kind) return
    const current = banded.value
    const [low = 1000, high = low * 1.5] = current?.passband.edges ?? []
    const edges = kind.edges === 2 ? [low, high] : [low]
    const asked = current?.stopband && Math.max(...attenuations(current.stopband))
    const { gain, requirements, realization } = spec.value
    const next: ApproximatedSpecInput = {
      ...(current ?? { approximation: 'butterworth', gain, requirements }),
      approximation: current?.approximation ?? 'butterworth',
      response: kind.id,
      passband: { ...current?.passband, edges },
      stopband: kind.stops && asked ? { attenuation: asked } : undefined,
      order: current?.order ?? results.ideal?.ideal.order ?? 5,
      pin: undefined,
      delay: undefined,
      equalizer: undefined,
      realization: current ? realization : undefined,
    }
    design.changeSpec('response', next)
  }

  /** A shape begins with its usual values, and without a circuit made for bands. */
  function changeToShape(id: string) {
    if (!spec.value) return
    const { gain, requirements } = spec.value
    const fields = shapes.find((s) => s.id === id)!.fields
    const values = fields.flatMap((f) =>
      'default' in f && !('optional' in f && f.optional) ? [[f.id, f.default]] : [],
    )
    const start = { ...Object.fromEntries(values), ...TYPED_STARTS[id] }
    design.changeSpec('response', { response: id, shape: start, gain, requirements } as FilterSpecInput)
  }

  function changeFamily(id: string) {
    const next = topologies.find((t) => t.id === id)
    if (!next) return
    const defaults: Record<string, unknown> = {}
    const before = spec.value?.realization as Record<string, unknown> | undefined
    for (const field of next.fields) {
      const kept = before?.[field.id]
      if (field.kind === 'choice') continue
      if (typeof kept === 'number') defaults[field.id] = kept
      else if (!field.optional) defaults[field.id] = field.default
    }
    // A passive ladder has no gain of its own and no room for an open load.
    if (next.family === 'passive' && defaults.source === 0)
      defaults.source = next.fields.find((f) => f.id === 'source')?.default
    change('circuit family', { realization: { family: id, ...defaults } })
  }

  function changeField(field: RealizationField, value: number | string | null) {
    if (!spec.value?.realization) return
    const { [field.id]: _old, ...rest } = spec.value.realization as Record<string, unknown> & { family: string }
    const empty = value === null || value === ''
    change(
      field.name.toLowerCase(),
      { realization: { ...rest, family: spec.value.realization.family, ...(!empty && { [field.id]: value }) } },
      field.id,
    )
  }

  function limit(kind: Requirement['kind']): number | null {
    return spec.value?.requirements?.find((r) => r.kind === kind)?.limit ?? null
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
