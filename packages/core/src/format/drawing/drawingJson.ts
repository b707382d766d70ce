import type { Part } from '../../circuit/circuit.js'
import { type Box, placed, stretchesOf, symbolBox, wirePoints } from '../../circuit/drawing/geometry.js'
import type { Drawing } from '../../circuit/drawing/index.js'
import { labelBox, labelRows, tagBox } from '../../circuit/drawing/labels.js'
import { NetMap } from '../../circuit/NetMap.js'
import { partShape } from '../../circuit/parts/index.js'

type Corners = readonly [x0: number, y0: number, x1: number, y1: number]
type Place = readonly [x: number, y: number]

/** A drawing as numbers, in grid units; y points down. */
export interface DrawingJson {
  readonly parts: readonly {
    readonly id: string
    readonly kind: string
    readonly box: Corners
    readonly pins: Readonly<Record<string, Place>>
    readonly labels: readonly { readonly text: string; readonly box: Corners }[]
  }[]
  readonly wires: readonly { readonly net: string; readonly points: readonly Place[] }[]
  /** Where three or more ends meet. */
  readonly junctions: readonly Place[]
  readonly nets: readonly { readonly name: string; readonly at: Place; readonly box: Corners }[]
}

const corners = ({ left, top, right, bottom }: Box): Corners => [left, top, right, bottom]

/**
 * A drawing as JSON: every part, wire and name with its place. A wire without length joins two pins that meet.
 *
 * @param textOf what stands after a part's name; null for nothing
 */
export function drawingJson(drawing: Drawing, textOf: (part: Part) => string | null): DrawingJson {
  const { circuit, labels, names, tags, pieces } = drawing
  const nets = NetMap.of(circuit)
  const wires = circuit.wires.flatMap((wire) => {
    const points = wirePoints(circuit, wire)
    const net = nets.netAt(wire.ends[0]) ?? ''
    return (points ? (pieces.get(wire.id) ?? [points]) : []).map((piece) => ({
      net,
      points: piece.map(({ x, y }): Place => [x, y]),
    }))
  })
  const parts = circuit.parts.flatMap((part) => {
    const box = symbolBox(part)
    if (!box) return []
    const place = labels.get(part.id)
    const text = textOf(part)
    const label = place && labelBox(part, text, place)
    return [
      {
        id: part.id,
        kind: part.kind,
        box: corners(box),
        pins: Object.fromEntries(
          Object.entries(partShape(part).pinPlaces).map(([pin, at]) => {
            const { x, y } = placed(part, at)
            return [pin, [x, y] as const]
          }),
        ),
        labels: label
          ? [
              {
                text: labelRows(part.id, text, place.lines)
                  .map((row) => row.join(' '))
                  .join('\n'),
                box: corners(label),
              },
            ]
          : [],
      },
    ]
  })
  const named = circuit.labels.flatMap(({ id, name, end }) => {
    const box = names.get(id)
    const wire = wirePoints(circuit, { id, ends: [end, end] })
    return box && wire ? [{ name, at: [wire[0].x, wire[0].y] as const, box: corners(box) }] : []
  })
  const folded = tags.map((tag) => ({ name: tag.net, at: [tag.at.x, tag.at.y] as const, box: corners(tagBox(tag)) }))
  return { parts, wires, junctions: meetings(circuit, wires), nets: [...named, ...folded] }
}

/** Where three or more ends of wires and pins meet. */
function meetings(circuit: Drawing['circuit'], wires: DrawingJson['wires']): Place[] {
  const counts = new Map<string, { at: Place; ends: number }>()
  const count = ([x, y]: Place) => {
    const key = `${x} ${y}`
    const known = counts.get(key)
    if (known) known.ends++
    else counts.set(key, { at: [x, y], ends: 1 })
  }
  for (const { points } of wires) {
    const [a, b] = [points[0], points.at(-1)!]
    if (stretchesOf(points.map(([x, y]) => ({ x, y }))).every(([p, q]) => p.x === q.x && p.y === q.y)) continue
    count(a)
    count(b)
  }
  for (const part of circuit.parts)
    if (part.at)
      for (const at of Object.values(partShape(part).pinPlaces)) {
        const { x, y } = placed(part, at)
        count([x, y])
      }
  return [...counts.values()].filter((c) => c.ends > 2).map((c) => c.at)
}
