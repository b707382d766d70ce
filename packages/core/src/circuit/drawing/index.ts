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
export function laidOut(circuit: Circuit): Circuit {
  const known = lying.get(circuit.wires)
  if (known && liesAlike(known, circuit)) return circuit
  const laid = whereWhole(() => withRoutes(withPlaces(circuit))) ?? circuit
  if (laid === circuit) lying.set(circuit.wires, circuit)
  return laid
}

/** The last circuit with each list of wires that needed nothing laid out. */
const lying = new WeakMap<Circuit['wires'], Circuit>()

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
 * Another value costs nothing as long as it takes the same room: then parts, labels and all that lies still stay the same
 * objects.
 *
 * @param textOf what stands after a part's name; null for nothing
 * @param sheet left out, the drawing stays in one row
 */
export function drawingOf(circuit: Circuit, textOf: (part: Part) => string | null, sheet?: Sheet): Drawing {
  // All digits are of one width.
  const room = circuit.parts.map((part) => textOf(part)?.replace(/\d/g, '0') ?? null)
  const known = kept.get(circuit.wires)
  const last =
    known &&
    sameSheet(known.sheet, sheet) &&
    liesAlike(known.circuit, circuit) &&
    room.every((n, k) => n === known.room[k])
      ? known
      : null
  const drawing = last ? withParts(last.drawing, last.circuit, circuit) : drawn(circuit, textOf, sheet)
  kept.set(circuit.wires, { circuit, room, sheet, drawing })
  return drawing
}

/** The last drawing of each list of wires. */
const kept = new WeakMap<
  Circuit['wires'],
  {
    readonly circuit: Circuit
    readonly room: readonly (string | null)[]
    readonly sheet: Sheet | undefined
    readonly drawing: Drawing
  }
>()

const sameSheet = (a?: Sheet, b?: Sheet) => a?.width === b?.width && a?.height === b?.height

/** Whether two circuits with the same wires are drawn alike, but for what their parts say. */
const liesAlike = (a: Circuit, b: Circuit): boolean =>
  a.junctions === b.junctions &&
  a.labels === b.labels &&
  a.notes === b.notes &&
  a.parts.length === b.parts.length &&
  a.parts.every((part, k) => {
    const other = b.parts[k]
    if (part === other) return true
    return part.id === other.id && part.kind === other.kind && part.at === other.at && part.label === other.label
  })

/** A drawing with the parts of a circuit that is drawn alike. */
function withParts(drawing: Drawing, before: Circuit, circuit: Circuit): Drawing {
  const parts = drawing.circuit.parts.map((lying, k) => {
    const part = circuit.parts[k]
    return part === before.parts[k] ? lying : { ...part, ...(lying.at && { at: lying.at }) }
  })
  const { wires, junctions, labels, notes } = drawing.circuit
  return { ...drawing, circuit: { ...circuit, parts, wires, junctions, labels, ...(notes && { notes }) } }
}

function drawn(circuit: Circuit, textOf: (part: Part) => string | null, sheet?: Sheet): Drawing {
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
