import {
  around,
  type Box,
  type Circuit,
  drawingOf,
  type Drawing,
  type EffectiveValue,
  effectiveValues,
  type GridPoint,
  labelBox,
  labelRows,
  type Note,
  noteBox,
  type Part,
  partKind,
  partShape,
  placedPins,
  NetMap,
  placed,
  scopeOf,
  type ResistorLook,
  type Sheet,
  strokesOf,
  symbolBox,
  tagBox,
  valueText,
  VoskelError,
  wirePoints,
} from '@voskel/core'

/** Pixels of a grid unit at zoom 1. */
export const GRID = 16

/** A part's symbol: strokes in grid units, and how they are moved, turned and mirrored, px. */
export interface SceneSymbol {
  readonly id: string
  readonly part: Part
  readonly strokes: string
  readonly filled: string
  readonly texts: readonly { readonly x: number; readonly y: number; readonly text: string }[]
  readonly transform: string
  readonly box: Box
}

/** A part's name and value. */
export interface SceneLabel {
  readonly id: string
  readonly name: string
  readonly value: string | null
  /** The value is not the computed one. */
  readonly isMarked: boolean
  readonly rows: readonly (readonly string[])[]
  readonly align: 'left' | 'center' | 'right'
  readonly box: Box
}

export interface SceneWire {
  readonly id: string
  /** Path, px. */
  readonly d: string
  /** Grid units, as it lies on the drawing. */
  readonly pieces: readonly (readonly GridPoint[])[]
}

export interface SceneName {
  readonly id: string
  readonly name: string
  readonly box: Box
  /** Where a row ends, or goes on from the one above. */
  readonly row?: 'ends' | 'begins'
  /** From the name to what it hangs on, where it stands away from it. */
  readonly lead: string | null
}

/** A circuit as it is drawn, for the screen. Boxes and points are in grid units, paths in px. */
export interface Scene {
  readonly drawing: Drawing
  readonly symbols: readonly SceneSymbol[]
  readonly labels: readonly SceneLabel[]
  readonly wires: readonly SceneWire[]
  readonly dots: readonly GridPoint[]
  /** Ends that nothing is joined to. */
  readonly openEnds: readonly GridPoint[]
  readonly names: readonly SceneName[]
  readonly notes: readonly Note[]
  /** Around everything; null where nothing is drawn. */
  readonly bounds: Box | null
}

/** The values of each part as they count; null for a part, or a circuit, whose formulas cannot be worked out. */
export function valuesIn(circuit: Circuit): (part: Part) => Readonly<Record<string, EffectiveValue>> | null {
  const known = <T>(step: () => T): T | null => {
    try {
      return step()
    } catch (error) {
      // The findings say what is wrong.
      if (error instanceof VoskelError) return null
      throw error
    }
  }
  const scope = known(() => scopeOf(circuit))
  return (part) => {
    if (!scope) return null
    const last = valuesOf.get(part)
    if (last && last.parameters === circuit.parameters && last.models === circuit.models) return last.values
    const values = known(() => effectiveValues(part, scope))
    valuesOf.set(part, { parameters: circuit.parameters, models: circuit.models, values })
    return values
  }
}

/** The values of each part, as long as it, the parameters and the models are the same. */
const valuesOf = new WeakMap<
  Part,
  Pick<Circuit, 'parameters' | 'models'> & { readonly values: Readonly<Record<string, EffectiveValue>> | null }
>()

/** What a drawing says of a part's value, the same as long as the part and its values are. */
function textIn(part: Part, values: Readonly<Record<string, EffectiveValue>> | null): string | null {
  const known = textOfPart.get(part)
  if (known && known.values === values) return known.text
  const text = valueText(part, values)
  textOfPart.set(part, { values, text })
  return text
}

const textOfPart = new WeakMap<
  Part,
  { readonly values: Readonly<Record<string, EffectiveValue>> | null; readonly text: string | null }
>()

/**
 * The circuit as it is drawn.
 *
 * @param sheet what it is folded into rows for; left out, it stays in one
 * @param resistors how a resistance is drawn
 */
export function sceneOf(given: Circuit, sheet?: Sheet, resistors: ResistorLook = 'box'): Scene {
  const valuesOf = valuesIn(given)
  const known = new Map(given.parts.map((part) => [part.id, valuesOf(part)]))
  const texts = new Map(given.parts.map((part) => [part.id, textIn(part, known.get(part.id) ?? null)]))
  const textOf = (part: Part) => texts.get(part.id) ?? null
  // A star marks a value that is not the computed one.
  const written = (part: Part) => textOf(part) && textOf(part) + (part.exact ? '*' : '')
  const drawing = drawingOf(given, written, sheet)
  const { circuit } = drawing
  const symbols = circuit.parts.flatMap((part) =>
    part.at ? [knownSymbol(part, known.get(part.id) ?? null, resistors)] : [],
  )
  const sceneLabels = circuit.parts.flatMap((part): SceneLabel[] => {
    const place = drawing.labels.get(part.id)
    const box = place && labelBox(part, written(part), place)
    return box ? [labelOf(part, textOf(part), place, box)] : []
  })
  const { wires, names, dots, openEnds } = lines(drawing)
  const { notes = NO_NOTES } = circuit
  const boxes = [
    ...symbols.map((s) => s.box),
    ...sceneLabels.map((l) => l.box),
    ...names.map((n) => n.box),
    ...wires.flatMap((w) => w.pieces.flat().map((p) => ({ left: p.x, right: p.x, top: p.y, bottom: p.y }))),
    ...notes.map(noteBox),
  ]
  return {
    drawing,
    symbols,
    wires,
    labels: sceneLabels,
    names,
    notes,
    dots,
    openEnds,
    bounds: boxes.length === 0 ? null : boxes.reduce(around),
  }
}

const NO_NOTES: readonly Note[] = []

type Lines = Pick<Scene, 'wires' | 'names' | 'dots' | 'openEnds'>

/** What of a drawing depends on how it lies alone, worked out once a drawing: another value leaves it. */
function lines({ circuit, pieces, tags, names, labels }: Drawing): Lines {
  const known = linesOf.get(labels)
  if (known) return known
  const sceneNames: SceneName[] = circuit.labels.flatMap((label) => {
    const box = names.get(label.id)
    return box ? [{ id: label.id, name: label.name, box, lead: leadOf(circuit, label, box) }] : []
  })
  for (const tag of tags)
    sceneNames.push({
      id: `row ${tag.id}`,
      name: tag.net,
      box: tagBox(tag),
      row: tag.goesOn ? 'ends' : 'begins',
      lead: null,
    })
  const wires = circuit.wires.flatMap((wire): SceneWire[] => {
    const points = wirePoints(circuit, wire)
    if (!points) return []
    const own = pieces.get(wire.id) ?? [points]
    return [{ id: wire.id, pieces: own, d: own.map(pathOf).join('') }]
  })
  const made = { wires, names: sceneNames, ...endsOf(circuit) }
  linesOf.set(labels, made)
  return made
}

/** By the places of a drawing's labels, which drawings that lie alike have in common. */
const linesOf = new WeakMap<Drawing['labels'], Lines>()

/** Nothing drawn. */
export const EMPTY_SCENE: Scene = sceneOf({ parts: [], wires: [], junctions: [], labels: [] })

export const pathOf = (points: readonly GridPoint[]): string =>
  points.map(({ x, y }, k) => `${k === 0 ? 'M' : 'L'}${x * GRID} ${y * GRID}`).join('')

/** How a part's symbol is moved, turned and mirrored, px. */
function transformOf({ at }: Pick<Part, 'at'>): string {
  const { x, y, rotation, mirrored } = at!
  return `translate(${x * GRID} ${y * GRID}) rotate(${rotation}) scale(${mirrored ? -GRID : GRID} ${GRID})`
}

const symbolOfPart = new WeakMap<Part, { readonly symbol: SceneSymbol; readonly resistors: ResistorLook }>()

/** A part's symbol, the same as long as the part is: what did not change need not be rendered. */
function knownSymbol(
  part: Part,
  values: Readonly<Record<string, EffectiveValue>> | null,
  resistors: ResistorLook,
): SceneSymbol {
  const known = symbolOfPart.get(part)
  // One that shows how it is thrown may be thrown by a parameter.
  if (known && known.resistors === resistors && !partKind(part.kind).symbolFor) return known.symbol
  const symbol = symbolOf(part, values, resistors)
  symbolOfPart.set(part, { symbol, resistors })
  return symbol
}

export function symbolOf(
  part: Part,
  values: Readonly<Record<string, EffectiveValue>> | null = null,
  resistors: ResistorLook = 'box',
): SceneSymbol {
  const kind = partKind(part.kind)
  const numbers = values && Object.fromEntries(Object.entries(values).map(([id, { value }]) => [id, value]))
  const symbol = (numbers && kind.symbolFor?.(numbers)) ?? partShape(part).symbol
  const texts = (symbol.texts ?? []).map((t) => {
    const { x, y } = placed(part, [t.x, t.y])
    return { ...t, x: x * GRID, y: y * GRID }
  })
  return {
    id: part.id,
    part,
    strokes: strokesOf(symbol, resistors).join(''),
    filled: (symbol.filled ?? []).join(''),
    texts,
    transform: transformOf(part),
    box: symbolBox(part)!,
  }
}

function labelOf(
  part: Part,
  value: string | null,
  { side, lines }: NonNullable<ReturnType<Drawing['labels']['get']>>,
  box: Box,
): SceneLabel {
  return {
    id: part.id,
    name: part.id,
    value,
    isMarked: part.exact !== undefined && Object.keys(part.exact).length > 0,
    rows: labelRows(part.id, value, lines),
    align: side === 'left' ? 'right' : side === 'right' ? 'left' : 'center',
    box,
  }
}

/** Grid units from a name's frame to what it hangs on beyond which a line leads there. */
const NEAR = 0.6

function leadOf(circuit: Circuit, label: Circuit['labels'][number], box: Box): string | null {
  const wire = wirePoints(circuit, { id: '?', ends: [label.end, label.end] })
  const end = wire?.[0]
  if (!end) return null
  const x = Math.min(box.right, Math.max(box.left, end.x))
  const y = Math.min(box.bottom, Math.max(box.top, end.y))
  const nets = NetMap.of(circuit)
  const net = nets.netAt(label.end)
  const isOnWire = circuit.wires.some((w) => {
    if (nets.netAt(w.ends[0]) !== net) return false
    const points = wirePoints(circuit, w) ?? []
    return points.slice(1).some((b, k) => isNear(points[k]!, b, box))
  })
  return isOnWire || Math.hypot(end.x - x, end.y - y) <= NEAR ? null : pathOf([{ x, y }, end])
}

const isNear = (a: GridPoint, b: GridPoint, box: Box) =>
  Math.max(a.x, b.x) >= box.left - NEAR &&
  Math.min(a.x, b.x) <= box.right + NEAR &&
  Math.max(a.y, b.y) >= box.top - NEAR &&
  Math.min(a.y, b.y) <= box.bottom + NEAR

/** A dot marks where three or more ends meet; where two meet the line runs on. */
function endsOf(circuit: Circuit): Pick<Scene, 'dots' | 'openEnds'> {
  const counts = new Map<string, { at: GridPoint; ends: number }>()
  const count = (at: GridPoint, ends: number) => {
    const key = `${at.x} ${at.y}`
    const known = counts.get(key)
    if (known) known.ends += ends
    else counts.set(key, { at, ends })
  }
  const pins = placedPins(circuit, NetMap.of(circuit))
  for (const { at } of pins) count(at, 1)
  for (const wire of circuit.wires) {
    const points = wirePoints(circuit, wire)
    // A wire without length joins two pins that touch: it has no end to be seen.
    if (!points || points.every((p) => p.x === points[0]!.x && p.y === points[0]!.y)) continue
    count(points[0]!, 1)
    count(points.at(-1)!, 1)
  }
  const all = [...counts.values()]
  const named = new Set(circuit.labels.flatMap((l) => ('part' in l.end ? [`${l.end.part} ${l.end.pin}`] : [])))
  const alone = pins.filter(({ part, pin, net }) => net.startsWith('\u0000') && !named.has(`${part} ${pin}`))
  return { dots: all.filter((c) => c.ends > 2).map((c) => c.at), openEnds: alone.map((p) => p.at) }
}
