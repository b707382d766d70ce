import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, Part } from '../circuit.js'
import { type LabelPlace, namePlaces, placeLabels } from './labels.js'
import { withPlaces } from './place.js'
import { withRoutes } from './route.js'
import { type Folded, inRows, unfolded } from './rows.js'

/** A circuit as it is drawn. */
export interface Drawing extends Folded {
  readonly labels: ReadonlyMap<string, LabelPlace>
}

/** A sheet that a drawing is made for: its width and height in grid units at the size at which it can just be read. */
export interface Sheet {
  readonly width: number
  readonly height: number
}

/**
 * The circuit with a place for all that is new in it, and a way for every wire whose ends have moved; as it stands where its
 * wires do not hang together, which the findings tell.
 */
export const laidOut = (circuit: Circuit): Circuit => whereWhole(() => withRoutes(withPlaces(circuit))) ?? circuit

/** null where a wire or a name ends at what is not there. */
function whereWhole<T>(step: () => T): T | null {
  try {
    return step()
  } catch (error) {
    if (error instanceof VoskelError && error.code === 'CIRCUIT_INVALID') return null
    throw error
  }
}

/**
 * A circuit as it is drawn, on screen and on paper: places and wires, labels, and rows where it is too long for the sheet.
 *
 * @param textOf what stands after a part's name; null for nothing
 * @param sheet left out, the drawing stays in one row
 */
export function drawingOf(circuit: Circuit, textOf: (part: Part) => string | null, sheet?: Sheet): Drawing {
  const laid = laidOut(circuit)
  const names = namePlaces(laid)
  const labels = placeLabels(laid, textOf, [...names.values()])
  const one: Drawing = { ...unfolded(laid, names), labels }
  if (!sheet) return one
  const written = new Map(
    laid.parts.flatMap((part) => {
      const place = labels.get(part.id)
      return place ? [[part.id, { place, text: textOf(part) }] as const] : []
    }),
  )
  const folded = whereWhole(() => inRows(laid, written, names, sheet))
  return folded ? { ...folded, labels } : one
}
