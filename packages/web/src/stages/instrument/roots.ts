import type { TransferFunction } from '@voskel/core'
import type { Computed } from './Over'

/** A root, or a pair of them: where it is, and how sharp. */
export interface RootRow {
  readonly kind: 'pole' | 'zero'
  /** Hz: its distance from the origin over 2π. */
  readonly frequency: number
  /** Of a pair; null of a real one, and of one on the axis. */
  readonly q: number | null
  readonly re: number
  readonly im: number
}

/** The poles and finite zeros of the output, each pair once, by frequency. */
export function rootsOf({ roots, ideal }: Computed): readonly RootRow[] {
  const h = roots?.transfer ?? ideal?.ideal.transfer
  if (!h) return []
  const rows = (kind: RootRow['kind'], list: TransferFunction['poles']) =>
    list.flatMap(({ re, im }): RootRow[] => {
      const size = Math.hypot(re, im)
      return im < 0
        ? []
        : [{ kind, frequency: size / (2 * Math.PI), q: im > 0 && re !== 0 ? size / (-2 * re) : null, re, im }]
    })
  return [...rows('pole', h.poles), ...rows('zero', h.zeros)].sort(
    (a, b) => Number(a.kind === 'zero') - Number(b.kind === 'zero') || a.frequency - b.frequency,
  )
}
