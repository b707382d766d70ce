import { type FilterSpec, isShaped, shapeOf } from '@voskel/core'

type Root = readonly [re: number, im: number]
type Kind = 'poles' | 'zeros'

/** The roots of a free response, rad/s: as typed, or those of its typed coefficients; null of any other response. */
export function freeRoots(
  spec: FilterSpec | null,
): (Record<Kind, readonly Root[]> & { readonly factor: number }) | null {
  if (!spec || !isShaped(spec) || spec.response !== 'free') return null
  const { poles, zeros = [], factor = 1 } = spec.shape as Partial<Record<Kind, readonly Root[]>> & { factor?: number }
  if (poles) return { poles, zeros, factor }
  const h = shapeOf(spec).transfer(spec.shape)
  const listed = (roots: typeof h.poles) => roots.map(({ re, im }): Root => [re, im])
  return { poles: listed(h.poles), zeros: listed(h.zeros), factor: h.gain }
}

/** A pole stays so far left of the axis, by its size. */
const LEFT = 1e-3

/**
 * A free response with one root at another place, its conjugate with it; a real one stays real.
 *
 * @param place rad/s
 */
export function withRootAt(spec: FilterSpec, kind: Kind, index: number, place: Root): FilterSpec {
  const roots = freeRoots(spec)!
  const list = roots[kind]
  const [re0, im0] = list[index]!
  const size = Math.hypot(...place)
  const re = kind === 'poles' ? Math.min(place[0], -LEFT * size) : place[0]
  const im = im0 === 0 ? 0 : Math.max(Math.abs(place[1]), LEFT * size)
  const twin = list.findIndex(([a, b], k) => k !== index && a === re0 && b === -im0)
  const moved = list.map((root, k): Root => {
    if (k === index) return [re, Math.sign(im0) * im]
    return im0 !== 0 && k === twin ? [re, -Math.sign(im0) * im] : root
  })
  return { ...spec, shape: { ...roots, [kind]: moved } } as FilterSpec
}
