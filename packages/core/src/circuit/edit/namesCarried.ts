import type { Circuit } from '../circuit.js'
import { endPoint, isOnNet } from '../drawing/geometry.js'

/**
 * The circuit after an edit with every net's name where it belongs: one that was put somewhere stays as far from what it
 * hangs on as it was, one that stood on its net stands there or is left to the drawing.
 */
export function withNamesCarried(before: Circuit, after: Circuit): Circuit {
  const known = new Map(before.labels.map((l) => [l.id, l]))
  let carried = false
  const labels = after.labels.map((label) => {
    const old = known.get(label.id)
    if (!label.at || !old?.at || label.at.x !== old.at.x || label.at.y !== old.at.y) return label
    if (isOnNet(before, old)) {
      if (isOnNet(after, label)) return label
      carried = true
      const { at: _left, ...rest } = label
      return rest
    }
    const [from, to] = [endPoint(before, old.end), endPoint(after, label.end)]
    if (!from || !to || (from.x === to.x && from.y === to.y)) return label
    carried = true
    return { ...label, at: { x: label.at.x + to.x - from.x, y: label.at.y + to.y - from.y } }
  })
  return carried ? { ...after, labels } : after
}
