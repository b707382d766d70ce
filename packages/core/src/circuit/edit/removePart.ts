import { z } from 'zod'
import type { Circuit, End } from '../circuit.js'
import { endPoint } from '../drawing/geometry.js'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { isAt, joinedEnds, movedEnds, wired } from './connect.js'
import { freeId } from '../ids.js'

const schema = z.strictObject({
  part: z.string(),
  /** What a part with two pins joined is joined without it. */
  close: z.boolean().optional(),
})

/** Takes a part out for good. What met at its pins still meets there; a wire that led to it alone goes with it. */
export const removePart: CircuitEdit<z.output<typeof schema>, 'remove-part'> = {
  id: 'remove-part',
  schema,
  label: ({ part }) => `${part} removed`,
  apply(circuit, { part, close }) {
    const { kind, id: own } = partOf(circuit, part)
    const pins = joinedPins(circuit, part)
    const closes = close === true && partKind(kind, own).pins.length === 2 && pins.length === 2
    const joints: End[] = []
    let left = circuit
    for (const pin of pins) {
      if (!closes && joinedEnds(left).filter((end) => isAt(end, part, pin)).length < 2) continue
      const id = freeId(left, 'junctions')
      const at = endPoint(left, { part, pin })
      left = { ...left, junctions: [...left.junctions, { id, ...(at && { at }) }] }
      left = movedEnds(left, (end) => (isAt(end, part, pin) ? { junction: id } : end))
      joints.push({ junction: id })
    }
    if (closes) left = wired(left, joints[0], joints[1])
    const gone = (end: End) => 'part' in end && end.part === part
    return {
      ...left,
      parts: left.parts.filter((p) => p.id !== part),
      wires: left.wires.filter((w) => !w.ends.some(gone)),
      labels: left.labels.filter((l) => !gone(l.end)),
    }
  },
}

/** The pins of a part that something is joined to; a subcircuit's are not in its kind. */
const joinedPins = (circuit: Circuit, part: string): string[] => [
  ...new Set(joinedEnds(circuit).flatMap((end) => ('part' in end && end.part === part ? [end.pin] : []))),
]
