import { z } from 'zod'
import { type Circuit, GridSchema, type GridPoint, type Part } from '../circuit.js'
import { wirePoints } from '../drawing/geometry.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { clearShift } from './room.js'
import { endsOf, fewestBends, joinTouching, samePoint, wireOf } from './spots.js'

const schema = z.strictObject({
  parts: z.array(z.string()),
  /** Of junctions, names of nets and notes that are moved by themselves; those between moved parts go with them. */
  junctions: z.array(z.string()).optional(),
  labels: z.array(z.string()).optional(),
  notes: z.array(z.string()).optional(),
  by: GridSchema,
})

/**
 * Moves parts with the wires between them; wires to others follow, with their bends as long as these can stay. A place that
 * is taken is changed for the nearest that is free, and what pins come to touch they are joined to.
 */
export const moveThings: CircuitEdit<z.output<typeof schema>, 'move-things'> = {
  id: 'move-things',
  schema,
  label: ({ parts, labels = [], notes = [] }) =>
    parts.length === 1
      ? `${parts[0]} moved`
      : parts.length > 1
        ? `${parts.length} parts moved`
        : labels.length > 0
          ? 'name moved'
          : notes.length > 0
            ? 'text moved'
            : 'joint moved',
  apply(circuit, { parts, junctions = [], labels = [], notes = [], by }) {
    const moving = parts.map((id) => partOf(circuit, id))
    const shift = moving.length > 0 ? clearShift(circuit, moving, by) : by
    const places = new Map(moving.flatMap((p) => (p.at ? [[p.id, shifted(p.at, shift)] as const] : [])))
    const joints = new Set([...junctions, ...junctionsAmong(circuit, new Set(parts))])
    const next = withMoved(circuit, places, joints, shift)
    const moved = {
      ...next,
      labels: next.labels.map((l) => {
        if (!labels.includes(l.id)) return l
        const at = l.at ?? wireEnd(circuit, l)
        return at ? { ...l, at: shifted(at, shift) } : l
      }),
      ...(next.notes && {
        notes: next.notes.map((n) => (notes.includes(n.id) ? { ...n, at: shifted(n.at, shift) } : n)),
      }),
    }
    return joinTouching(moved, endsOf(parts, joints))
  },
  says: ({ parts, junctions = [], labels = [], notes = [], by }, circuit) => {
    if (junctions.length + labels.length + notes.length > 0) return null
    const moving = parts.map((id) => partOf(circuit, id))
    const shift = clearShift(circuit, moving, by)
    const touches = joinTouching(withMoved(circuit, placesOf(moving, shift), new Set(), shift), endsOf(parts))
    // What comes to touch is wired anew, which no patch says.
    if (touches.wires.length !== circuit.wires.length) return null
    return moving.map(({ id, at }) => ({
      part: id,
      patch: (before) => ({ ...before, ...(at && { at: shifted(at, shift) }) }),
    }))
  },
}

const placesOf = (parts: readonly Part[], by: GridPoint) =>
  new Map(parts.flatMap((p) => (p.at ? [[p.id, shifted(p.at, by)] as const] : [])))

const shifted = <P extends GridPoint>(p: P, { x, y }: GridPoint): P => ({ ...p, x: p.x + x, y: p.y + y })

const wireEnd = (circuit: Circuit, { end }: Circuit['labels'][number]) =>
  wirePoints(circuit, { id: '?', ends: [end, end] })?.[0] ?? null

/** Junctions that only wires from the parts lead to. */
function junctionsAmong(circuit: Circuit, parts: ReadonlySet<string>): string[] {
  const found = new Set<string>()
  const inside = new Set(circuit.junctions.map((j) => j.id))
  // A junction is outside as soon as a wire leads from it to an outside part or junction.
  for (let before = -1; before !== inside.size;) {
    before = inside.size
    for (const { ends } of circuit.wires)
      for (const [one, other] of [ends, [ends[1], ends[0]]])
        if ('junction' in one && inside.has(one.junction)) {
          const goes = 'part' in other ? parts.has(other.part) : inside.has(other.junction)
          if (!goes) inside.delete(one.junction)
        }
  }
  // What hangs on no part at all stays where it is.
  for (let before = -1; before !== found.size;) {
    before = found.size
    for (const { ends } of circuit.wires)
      for (const [one, other] of [ends, [ends[1], ends[0]]])
        if ('junction' in one && inside.has(one.junction) && ('part' in other || found.has(other.junction)))
          found.add(one.junction)
  }
  return [...found]
}

/** The circuit with parts at other places; wires follow, and names of nets go with what they hang on. */
export function withMoved(
  circuit: Circuit,
  places: ReadonlyMap<string, NonNullable<Part['at']>>,
  junctions: ReadonlySet<string>,
  by: GridPoint,
): Circuit {
  const before = new Map(circuit.wires.map((w) => [w.id, wirePoints(circuit, w)]))
  const moved: Circuit = {
    ...circuit,
    parts: circuit.parts.map((p) => (places.has(p.id) ? { ...p, at: places.get(p.id) } : p)),
    junctions: circuit.junctions.map((j) => (junctions.has(j.id) && j.at ? { ...j, at: shifted(j.at, by) } : j)),
  }
  const isMoved = (end: Circuit['wires'][number]['ends'][number]) =>
    'part' in end ? places.has(end.part) : junctions.has(end.junction)
  const wires = moved.wires.map((wire) => {
    const points = before.get(wire.id)
    const [a, b] = wire.ends.map(isMoved)
    if (!points || (!a && !b)) return wire
    const now = wirePoints(moved, { ...wire, bends: [] })!
    if (a && b && samePoint(shifted(points[0], by), now[0]) && samePoint(shifted(points.at(-1)!, by), now[1]))
      return wireOf(
        wire.id,
        wire.ends,
        (wire.bends ?? []).map((p) => shifted(p, by)),
      )
    return wireOf(wire.id, wire.ends, following(points, now[0], now[1]))
  })
  return { ...moved, wires }
}

/** Where wires from parts that move lie while they follow, before ways are found anew; those between them left out. */
export function followingWires(circuit: Circuit, parts: ReadonlySet<string>, by: GridPoint): Map<string, GridPoint[]> {
  const joints = new Set(junctionsAmong(circuit, parts))
  const goes = (end: Circuit['wires'][number]['ends'][number]) =>
    'part' in end ? parts.has(end.part) : joints.has(end.junction)
  const wires = circuit.wires.filter((w) => goes(w.ends[0]) !== goes(w.ends[1]))
  const moving = circuit.parts.filter((p) => parts.has(p.id))
  const moved = withMoved({ ...circuit, wires }, placesOf(moving, by), joints, by)
  return new Map(moved.wires.map((w) => [w.id, wirePoints(moved, w) ?? []]))
}

/** Bends of a wire whose ends have moved: the first and last stretch grow or shrink, those beside them slide. */
function following(points: readonly GridPoint[], from: GridPoint, to: GridPoint): GridPoint[] {
  if (points.length < 3) return []
  const way = [from, ...points.slice(1, -1), to]
  const slide = (end: number, next: number, before: GridPoint) => {
    const [p, q] = [way[end], way[next]]
    // A stretch stays as it lay: its bend slides along the other axis.
    way[next] = before.y === points[next].y ? { x: q.x, y: p.y } : { x: p.x, y: q.y }
  }
  slide(0, 1, points[0])
  if (points.length > 3) slide(way.length - 1, way.length - 2, points.at(-1)!)
  return fewestBends(way)
}
