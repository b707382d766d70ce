import {
  type Circuit,
  circuitEdit,
  type EditCall,
  type GridPoint,
  type ResistorLook,
  VoskelError,
  wirePoints,
} from '@voskel/core'
import { pathOf, type SceneSymbol, symbolOf } from './scene'

/** What an edit would bring, drawn on the sheet as it stands. */
export interface Ghost {
  readonly symbols: readonly SceneSymbol[]
  /** Path of the wires that come, px. */
  readonly wires: string
}

/**
 * The parts and wires that come with an edit, where they will lie.
 *
 * @param fold from the document's places to those on the drawing
 * @returns null where the edit brings nothing, or is refused
 */
export function ghostOf(
  circuit: Circuit,
  call: EditCall,
  fold: (at: GridPoint) => GridPoint,
  resistors: ResistorLook,
): Ghost | null {
  let after: Circuit
  try {
    after = circuitEdit(call).apply(circuit)
  } catch (error) {
    // What is refused is said when it is asked for.
    if (error instanceof VoskelError) return null
    throw error
  }
  const had = new Set(circuit.parts.map((p) => p.id))
  const come = after.parts.filter((p) => p.at && !had.has(p.id))
  if (come.length === 0) return null
  const isNew = new Set(come.map((p) => p.id))
  const wires = after.wires.filter((w) => w.ends.some((e) => 'part' in e && isNew.has(e.part)))
  return {
    symbols: come.map((p) => symbolOf({ ...p, at: { ...p.at!, ...fold(p.at!) } }, null, resistors)),
    wires: wires.map((w) => pathOf((wirePoints(after, w) ?? []).map(fold))).join(''),
  }
}
