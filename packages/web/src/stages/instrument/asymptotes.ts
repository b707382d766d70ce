import { phase, type TransferFunction } from '@voskel/core'
import type { Place } from '../../diagram/plot'

const TAU = 2 * Math.PI

/**
 * The straight lines that a response follows far from its roots, over the logarithm of the frequency: the magnitude bends
 * at each root by 20 dB a decade, the phase turns by 90° from a tenth of a root's frequency to ten times it (common
 * practice, no source).
 *
 * @returns corners in Hz and dB or degrees, the ends of the range among them
 */
export function asymptotes(
  h: TransferFunction,
  view: 'db' | 'phase',
  { from, to }: { readonly from: number; readonly to: number },
): Place[] {
  const roots = [...h.zeros.map((r) => ({ r, sign: 1 })), ...h.poles.map((r) => ({ r, sign: -1 }))]
  const sizes = roots.map(({ r }) => Math.hypot(r.re, r.im) / TAU)
  const bends = view === 'db' ? sizes : sizes.flatMap((f) => [f / 10, f * 10])
  const corners = [from, ...bends.filter((f) => f > from && f < to).sort((a, b) => a - b), to]
  const db = (f: number) =>
    roots.reduce(
      (sum, { sign }, k) => sum + sign * 20 * Math.log10(TAU * Math.max(sizes[k]!, f)),
      20 * Math.log10(Math.abs(h.gain)),
    )
  const start = (phase(h, 0) * 180) / Math.PI
  const degrees = (f: number) =>
    roots.reduce((sum, { r, sign }, k) => {
      const size = sizes[k]!
      if (size === 0) return sum
      const part = Math.min(1, Math.max(0, (Math.log10(f / size) + 1) / 2))
      // A root in the right half of the plane turns the other way.
      return sum + sign * (r.re > 0 ? -1 : 1) * 90 * part
    }, start)
  return corners.map((f) => [f, view === 'db' ? db(f) : degrees(f)])
}
