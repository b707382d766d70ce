import { z } from 'zod'
import type { Circuit, Part } from '../circuit.js'
import { symbolBox } from '../drawing/geometry.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { withMoved } from './moveThings.js'
import { clearShift } from './room.js'
import { endsOf, joinTouching } from './spots.js'

const schema = z.strictObject({
  parts: z.array(z.string()).min(1),
  /** Clockwise, or mirrored from left to right. */
  turn: z.union([z.literal(90), z.literal(180), z.literal(270), z.literal('mirror')]),
})

/** Turns parts, or mirrors them, about the middle of them all; their wires follow. */
export const turnParts: CircuitEdit<z.output<typeof schema>, 'turn-parts'> = {
  id: 'turn-parts',
  schema,
  label: ({ parts, turn }) =>
    `${parts.length === 1 ? parts[0] : `${parts.length} parts`} ${turn === 'mirror' ? 'mirrored' : 'turned'}`,
  apply(circuit, { parts, turn }) {
    const places = turned(circuit, parts, turn)
    const moved = withMoved(circuit, places, new Set(), { x: 0, y: 0 })
    return joinTouching(moved, endsOf(parts))
  },
  says({ parts, turn }, circuit) {
    const places = turned(circuit, parts, turn)
    const moved = withMoved(circuit, places, new Set(), { x: 0, y: 0 })
    if (joinTouching(moved, endsOf(parts)) !== moved) return null
    return [...places].map(([part, at]) => ({ part, patch: (before) => ({ ...before, at }) }))
  },
}

function turned(circuit: Circuit, ids: readonly string[], turn: z.output<typeof schema>['turn']) {
  const parts = ids.map((id) => partOf(circuit, id)).filter((p): p is Part & { at: NonNullable<Part['at']> } => !!p.at)
  const boxes = parts.flatMap((p) => symbolBox(p) ?? [])
  const middle =
    parts.length === 1
      ? parts[0].at
      : {
          x: Math.round((Math.min(...boxes.map((b) => b.left)) + Math.max(...boxes.map((b) => b.right))) / 2),
          y: Math.round((Math.min(...boxes.map((b) => b.top)) + Math.max(...boxes.map((b) => b.bottom))) / 2),
        }
  const wanted = parts.map((p) => ({ ...p, at: turnedPlace(p.at, middle, turn) }))
  const by = clearShift(circuit, wanted, { x: 0, y: 0 })
  return new Map(wanted.map(({ id, at }) => [id, { ...at, x: at.x + by.x, y: at.y + by.y }]))
}

function turnedPlace(
  at: NonNullable<Part['at']>,
  { x, y }: { x: number; y: number },
  turn: z.output<typeof schema>['turn'],
): NonNullable<Part['at']> {
  const [dx, dy] = [at.x - x, at.y - y]
  if (turn === 'mirror') {
    const { mirrored, ...rest } = at
    // Mirroring turns the other way round what was turned.
    const rotation = ((360 - at.rotation) % 360) as typeof at.rotation
    return { ...rest, x: x - dx, rotation, ...(!mirrored && { mirrored: true }) }
  }
  const [tx, ty] = { 90: [-dy, dx], 180: [-dx, -dy], 270: [dy, -dx] }[turn]
  return { ...at, x: x + tx, y: y + ty, rotation: ((at.rotation + turn) % 360) as typeof at.rotation }
}
