import { z } from 'zod'
import type { Circuit, GridPoint, Part } from '../circuit.js'
import { symbolBox } from '../drawing/geometry.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { withMoved } from './moveThings.js'
import { clearShift } from './room.js'
import { endsOf, joinTouching } from './spots.js'

const schema = z.strictObject({
  parts: z.array(z.string()).min(2),
  /** On one line, lying or standing; or with even spaces between them. */
  to: z.enum(['row', 'column', 'even-row', 'even-column']),
})

type Placed = Part & { readonly at: NonNullable<Part['at']> }

/** Puts parts on one line, or spaces them out evenly between the first and the last; their wires follow. */
export const alignParts: CircuitEdit<z.output<typeof schema>, 'align-parts'> = {
  id: 'align-parts',
  schema,
  label: ({ parts, to }) => `${parts.length} parts ${to.startsWith('even') ? 'spaced out' : 'aligned'}`,
  apply(circuit, { parts, to }) {
    return joinTouching(aligned(circuit, parts, to), endsOf(parts))
  },
  says({ parts, to }, circuit) {
    const next = aligned(circuit, parts, to)
    if (joinTouching(next, endsOf(parts)) !== next) return null
    return next.parts.flatMap(({ id, at }) =>
      parts.includes(id) && at ? [{ part: id, patch: (before) => ({ ...before, at }) }] : [],
    )
  },
}

function aligned(circuit: Circuit, ids: readonly string[], to: z.output<typeof schema>['to']): Circuit {
  const along = to.endsWith('row') ? 'x' : 'y'
  const across = along === 'x' ? 'y' : 'x'
  const parts = ids.map((id) => partOf(circuit, id)).filter((p): p is Placed => p.at !== undefined)
  const order = parts.toSorted((a, b) => a.at[along] - b.at[along])
  const wanted = new Map<string, GridPoint>()
  if (to.startsWith('even')) {
    const [first, last] = [order[0].at[along], order.at(-1)!.at[along]]
    order.forEach(({ id, at }, k) =>
      wanted.set(id, { ...at, [along]: Math.round(first + ((last - first) * k) / (order.length - 1)) }),
    )
  } else {
    const middle = order.map((p) => p.at[across]).sort((a, b) => a - b)[order.length >> 1]
    for (const { id, at } of order) wanted.set(id, { ...at, [across]: middle })
  }
  // One after the other, so that none is put on another.
  return order.reduce((now, { id, at }) => {
    const goal = wanted.get(id)!
    const part = partOf(now, id)
    const by = clearShift(now, [part], { x: goal.x - at.x, y: goal.y - at.y })
    if ((by.x === 0 && by.y === 0) || !symbolBox(part)) return now
    return withMoved(now, new Map([[id, { ...at, x: at.x + by.x, y: at.y + by.y }]]), new Set(), by)
  }, circuit)
}
