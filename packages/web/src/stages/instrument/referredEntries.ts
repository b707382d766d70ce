import {
  type Circuit,
  type MeasuredCurve,
  networkCurves,
  referredTo,
  type TouchstoneData,
  VoskelError,
} from '@voskel/core'

/** Entries of a network as the circuit's signals have them, and what was done to them. */
export interface ReferredEntries {
  readonly curves: readonly MeasuredCurve[]
  readonly notes: readonly string[]
  /** Why it cannot be done; empty where it can. */
  readonly problem: string
}

/**
 * Each wanted entry, referred to the resistors that its signal names.
 *
 * @param signals by entry, what it was measured of
 * @param wanted by entry, whether it is taken; others stay as they are in the file
 */
export function referredEntries(
  network: TouchstoneData,
  circuit: Circuit | null,
  signals: readonly string[],
  wanted: readonly boolean[],
): ReferredEntries {
  const asRead = networkCurves(network)
  const notes = new Set<string>()
  try {
    const curves = asRead.map((curve, k) => {
      if (!circuit || !wanted[k]) return curve
      const referred = referredTo(network, circuit, signals[k] ?? '')
      if (referred === network) return curve
      for (const note of referred.notes) if (!network.notes.includes(note)) notes.add(note)
      return networkCurves(referred)[k]!
    })
    return { curves, notes: [...notes], problem: '' }
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    return { curves: asRead, notes: [], problem: `${error.message} ${error.remedy}` }
  }
}
