import {
  type Circuit,
  type EffectiveValue,
  effectiveValues,
  type End,
  type GridPoint,
  type LabelPlace,
  type Part,
  partKind,
  placed,
  drawingOf,
  scopeOf,
  type Sheet,
  tagBox,
  valueText,
  VoskelError,
  wirePoints,
} from '@voskel/core'
import type { Edge, Node } from '@vue-flow/core'

/** Pixels of a grid unit at zoom 1. */
export const GRID = 16

export interface PartData {
  part: Part
  /** Null where they cannot be worked out. */
  values: Readonly<Record<string, EffectiveValue>> | null
  /** What stands after its name; null for nothing. */
  text: string | null
  label: LabelPlace | null
}

export interface WireData {
  /** Corners of the wire, px; of each of its pieces where it was cut into rows. */
  pieces: readonly (readonly GridPoint[])[]
}

export interface LabelData {
  name: string
  /** Where a row ends, or goes on from the one above. */
  row?: 'ends' | 'begins'
}

const px = ({ x, y }: GridPoint) => ({ x: x * GRID, y: y * GRID })

/** Size of a part's node, px, turned with the part. */
export function nodeSize(part: Part): { width: number; height: number } {
  const [hx, hy] = partKind(part.kind).symbol.half
  const turned = part.at?.rotation === 90 || part.at?.rotation === 270
  return { width: 2 * GRID * (turned ? hy : hx), height: 2 * GRID * (turned ? hx : hy) }
}

/** A pin's place inside its node, px from the node's corner. */
export function pinInNode(part: Part, place: readonly [number, number]): { left: number; top: number } {
  const { width, height } = nodeSize(part)
  const point = placed(part, place)
  return { left: (point.x - part.at!.x) * GRID + width / 2, top: (point.y - part.at!.y) * GRID + height / 2 }
}

/** The values of each part as they count; null for a part, or a circuit, whose formulas cannot be worked out. */
export function valuesIn(circuit: Circuit): (part: Part) => PartData['values'] {
  const known = <T>(step: () => T): T | null => {
    try {
      return step()
    } catch (error) {
      // The findings above the drawing say what is wrong.
      if (error instanceof VoskelError) return null
      throw error
    }
  }
  const scope = known(() => scopeOf(circuit))
  return (part) => scope && known(() => effectiveValues(part, scope))
}

/** What a wire ends at as a node of the drawing: a part may have a junction's name. */
const nodeId = (end: End) => ('part' in end ? `part ${end.part}` : `junction ${end.junction}`)

/** The place where a wire ends: a junction, or a pin. */
const nodeAt = (end: End) => ('part' in end ? `pin ${end.part} ${end.pin}` : nodeId(end))

/**
 * The circuit as nodes and edges of the drawing.
 *
 * @param sheet what it is folded into rows for; left out, it stays in one
 */
export function sceneOf(given: Circuit, sheet?: Sheet): { nodes: Node[]; edges: Edge[] } {
  const nodes: Node[] = []
  const known = valuesIn(given)
  const values = new Map(given.parts.map((part) => [part.id, known(part)]))
  const textOf = (part: Part) => valueText(part, values.get(part.id)!)
  // A star marks a value that is not the computed one.
  const written = (part: Part) => textOf(part) && textOf(part) + (part.exact ? '*' : '')
  const { circuit, labels, pieces, tags } = drawingOf(given, written, sheet)
  for (const part of circuit.parts) {
    if (!part.at) continue
    const { width, height } = nodeSize(part)
    const { x, y } = px(part.at)
    nodes.push({
      id: nodeId({ part: part.id, pin: '' }),
      type: 'part',
      position: { x: x - width / 2, y: y - height / 2 },
      data: {
        part,
        values: values.get(part.id)!,
        text: textOf(part),
        label: labels.get(part.id) ?? null,
      } satisfies PartData,
      selectable: part.kind !== 'ground',
      focusable: false,
      width,
      height,
    })
  }
  const ends = new Map<string, number>()
  for (const end of circuit.wires.flatMap((w) => w.ends)) ends.set(nodeAt(end), (ends.get(nodeAt(end)) ?? 0) + 1)
  const mark = (id: string, at: GridPoint, dot: boolean) => {
    const { x, y } = px(at)
    const position = { x: x - 4, y: y - 4 }
    nodes.push({ id, type: 'junction', position, data: { dot }, selectable: false, focusable: false })
  }
  // A dot marks where three or more ends meet; where two meet the line runs on.
  for (const junction of circuit.junctions) {
    const id = nodeId({ junction: junction.id })
    if (junction.at) mark(id, junction.at, (ends.get(id) ?? 0) > 2)
  }
  for (const part of circuit.parts) {
    for (const [pin, place] of Object.entries(partKind(part.kind).pinPlaces)) {
      const id = nodeAt({ part: part.id, pin })
      if (part.at && (ends.get(id) ?? 0) > 1) mark(id, placed(part, place!), true)
    }
  }
  for (const label of circuit.labels) {
    if (!label.at) continue
    const { x, y } = px(label.at)
    nodes.push({
      id: `net ${label.id}`,
      type: 'net',
      position: { x: x - 14, y: y - 34 },
      data: { name: label.name } satisfies LabelData,
      selectable: false,
      focusable: false,
    })
  }
  for (const { id, net, at, goesOn } of tags) {
    const { left, top } = tagBox({ net, at, goesOn })
    nodes.push({
      id: `row ${id}`,
      type: 'net',
      position: px({ x: left, y: top }),
      data: { name: net, row: goesOn ? 'ends' : 'begins' } satisfies LabelData,
      selectable: false,
      focusable: false,
    })
  }
  const edges = circuit.wires.flatMap((wire): Edge[] => {
    const points = wirePoints(circuit, wire)
    if (!points) return []
    const [a, b] = wire.ends
    const data: WireData = { pieces: (pieces.get(wire.id) ?? [points]).map((piece) => piece.map(px)) }
    return [
      {
        id: wire.id,
        type: 'wire',
        source: nodeId(a),
        target: nodeId(b),
        sourceHandle: 'part' in a ? a.pin : 'j',
        targetHandle: 'part' in b ? b.pin : 'j',
        data,
        selectable: false,
        focusable: false,
      },
    ]
  })
  return { nodes, edges }
}
