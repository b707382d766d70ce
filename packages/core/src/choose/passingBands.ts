import { abs, type Complex } from '../numeric/complex.js'
import { type FilterSpec, isShaped } from '../specification/filterSpec.js'
import type { Promised } from '../verdict/Requirement.js'

/** From where a passband that begins at DC is looked at, and to where one without end, relative to its edge. */
const [BELOW, ABOVE] = [1e-3, 10]

/** How far around its roots a response without passbands is looked at. */
const AROUND = 2

/** The band, Hz, that a response of its own values is said for, such as a slope; null of one without. */
export function ownBand(spec: FilterSpec): readonly [from: number, to: number] | null {
  const { from, to } = (isShaped(spec) ? spec.shape : {}) as { from?: number; to?: number }
  return from !== undefined && to !== undefined ? [from, to] : null
}

/** Bands that signals are meant for, Hz; none where none are promised. */
export function meantBands(promised: Promised | null): readonly (readonly [from: number, to: number])[] {
  if (!promised) return []
  const own = ownBand(promised.spec)
  return own ? [own] : promised.ideal.passbands
}

/** Where signals pass, rad/s, both ends finite and above 0. */
export function passingBands(
  bands: readonly (readonly [from: number, to: number])[],
  poles: readonly Complex[],
): [from: number, to: number][] {
  if (bands.length > 0)
    return bands.map(([from, to]) => [
      2 * Math.PI * (from === 0 ? BELOW * to : from),
      2 * Math.PI * (to === Infinity ? ABOVE * from : to),
    ])
  const sizes = poles.map(abs).filter((w) => w > 0)
  return sizes.length > 0 ? [[Math.min(...sizes) / AROUND, Math.max(...sizes) * AROUND]] : [[BELOW, ABOVE]]
}
