import { type ApproximatedSpecInput, attenuations, type FilterSpecInput, isShaped } from './filterSpec.js'
import { atPrototypeRatio, prototypeRatio, type ResponseId, RESPONSES } from './responses.js'
import { shapes } from './shapes/index.js'

/** What a form does to a specification. Each gives another one, which need not be one that can be used. */

/** Lower passband edge of a response that has none before, Hz; the upper one against it; the order. */
const USUAL_EDGE = 1000
const USUAL_RATIO = 1.5
const USUAL_ORDER = 5
/** Attenuation of a stop band that is begun by its edge, dB. */
const USUAL_ATTENUATION = 40

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

/**
 * Another response: what it needs follows from what is there, or begins with usual values.
 *
 * @param order what the present one comes to, where it gives none
 */
export function withResponse(spec: FilterSpecInput, id: string, order = USUAL_ORDER): FilterSpecInput {
  if (shapes.some((s) => s.id === id)) return withShape(spec, id)
  const kind = RESPONSES.find((r) => r.id === id)
  if (!kind) return spec
  const { gain, requirements } = spec
  if (isShaped(spec))
    return {
      approximation: 'butterworth',
      response: kind.id,
      passband: { edges: [USUAL_EDGE, USUAL_EDGE * USUAL_RATIO].slice(0, kind.edges) },
      order,
      gain,
      requirements,
    }
  const [low = USUAL_EDGE, high = low * USUAL_RATIO] = spec.passband.edges
  const asked = spec.stopband && Math.max(...attenuations(spec.stopband))
  return {
    ...spec,
    response: kind.id,
    passband: { ...spec.passband, edges: [low, high].slice(0, kind.edges) },
    stopband: kind.stops && asked ? { attenuation: asked } : undefined,
    order: spec.order ?? order,
    pin: undefined,
    delay: undefined,
    equalizer: undefined,
  }
}

/** A shape begins with its usual values, and without a circuit made for bands. */
function withShape({ gain, requirements }: FilterSpecInput, id: string): FilterSpecInput {
  const { fields } = shapes.find((s) => s.id === id)!
  const usual = fields.flatMap((f) => ('default' in f && !('optional' in f && f.optional) ? [[f.id, f.default]] : []))
  const shape = { ...Object.fromEntries(usual), ...TYPED_STARTS[id] }
  return { response: id, shape, gain, requirements } as FilterSpecInput
}

/** A value of a shape; null leaves it out. */
export function withShapeValue(spec: FilterSpecInput, id: string, value: unknown): FilterSpecInput {
  if (!isShaped(spec)) return spec
  const { [id]: _old, ...rest } = spec.shape
  return { ...spec, shape: value === null ? rest : { ...rest, [id]: value } }
}

export const withPassbandEdge = (spec: ApproximatedSpecInput, edge: number, index = 0): ApproximatedSpecInput => ({
  ...spec,
  passband: { ...spec.passband, edges: spec.passband.edges.with(index, edge) },
})

/** Loss at the edge, dB; null leaves it to the approximation. */
export const withRipple = (spec: ApproximatedSpecInput, ripple: number | null): ApproximatedSpecInput => ({
  ...spec,
  passband: { ...spec.passband, ripple: ripple ?? undefined },
})

/** What of a stop band is changed: one edge or what it must attenuate; null takes it away. */
export interface StopbandPart {
  readonly edge?: number | null
  readonly index?: number
  readonly attenuation?: number | [number, number] | null
}

/** Another stop band. It needs its attenuation, so that emptying that takes all of it away. */
export function withStopband(
  spec: ApproximatedSpecInput,
  { edge, index = 0, attenuation = spec.stopband?.attenuation ?? USUAL_ATTENUATION }: StopbandPart,
): ApproximatedSpecInput {
  if (attenuation === null) return { ...spec, stopband: undefined }
  let edges = spec.stopband?.edges
  if (edge === null) edges = undefined
  else if (edge !== undefined) {
    // A first edge of two brings the other, as far on its own side.
    edges ??= ratioed(spec.response as ResponseId, spec.passband.edges, edge, index)
    edges = edges.with(index, edge)
  }
  return { ...spec, stopband: { attenuation, ...(edges && { edges }) } }
}

/** Stop-band edges of which one is given: the other lies as far out on its side. */
const ratioed = (response: ResponseId, passband: readonly number[], edge: number, index: number): number[] =>
  atPrototypeRatio(response, passband, prototypeRatio(response, passband, edge)).with(index, edge)

/**
 * Where a passband was typed over its stop band: the stop-band edge that would be as far out as before, by side.
 *
 * @param before the specification before it was typed
 */
export function overrunEdges(before: FilterSpecInput, now: FilterSpecInput): ReadonlyMap<number, number> {
  const edges = new Map<number, number>()
  if (isShaped(before) || isShaped(now) || before.response !== now.response) return edges
  now.stopband?.edges?.forEach((edge, k) => {
    const [pass, oldPass] = [now.passband.edges[k], before.passband.edges[k]]
    if (pass === undefined || oldPass === undefined || pass === oldPass || edge !== before.stopband?.edges?.[k]) return
    edges.set(k, Number(((pass * edge) / oldPass).toPrecision(12)))
  })
  return edges
}
