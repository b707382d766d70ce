import { z } from 'zod'
import type { End, Part } from '../circuit.js'
import { endPoint } from '../drawing/geometry.js'
import { freeId, freePartId } from '../ids.js'
import { matchedPins } from '../blocks.js'
import { partKind, partShape } from '../parts/index.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { isAt, joinedEnds, movedEnds } from './connect.js'
import { growingPins, NewPartSchema } from './newPart.js'
import { withClear } from './room.js'
import { endsOf, joinTouching, stillJoined } from './spots.js'

const schema = z.strictObject({
  part: z.string(),
  by: NewPartSchema,
  /** Which pin of the new part takes what each pin of the old one had; left out, by name and place. */
  over: z.record(z.string(), z.string()).optional(),
})

/** Another part in the place of one; what was joined to its pins is joined to those of the new one. */
export const replacePart: CircuitEdit<z.output<typeof schema>, 'replace-part'> = {
  id: 'replace-part',
  schema,
  label: ({ part, by }) => `${partKind(by.kind).name.toLowerCase()} in the place of ${part}`,
  apply(circuit, { part, by, over }) {
    const old = partOf(circuit, part)
    const same = partKind(old.kind).letter === partKind(by.kind).letter
    const id = same ? old.id : freePartId(circuit, by.kind)
    const made = { ...by, id, ...(old.at && { at: old.at }) }
    const pinOf = over ? new Map(Object.entries(over)) : pinsOver(old.kind, by)
    let left = { ...circuit, parts: circuit.parts.map((p) => (p === old ? made : p)) }
    for (const pin of partShape(old).pins) {
      const next = pinOf.get(pin)
      let to: End
      if (next !== undefined) to = { part: id, pin: next }
      else {
        // What has no pin any more stays joined among itself.
        const junction = freeId(left, 'junctions')
        const at = endPoint(circuit, { part, pin })
        left = { ...left, junctions: [...left.junctions, { id: junction, ...(at && { at }) }] }
        to = { junction }
      }
      left = movedEnds(left, (end) => (isAt(end, part, pin) ? to : end))
    }
    const used = new Set(joinedEnds(left).flatMap((e) => ('junction' in e ? [e.junction] : [])))
    const had = new Set(circuit.junctions.map((j) => j.id))
    const next = {
      ...left,
      junctions: left.junctions.filter((j) => had.has(j.id) || used.has(j.id)),
      parts: left.parts.map((p) => (p.refs && !same ? { ...p, refs: p.refs.map((r) => (r === part ? id : r)) } : p)),
    }
    return joinTouching(stillJoined(circuit, withClear(next, id)), endsOf([id]))
  },
}

/** Which pin of one kind is which of another: by name, else those between which a circuit grows, else in order. */
function pinsOver(from: string, by: Pick<Part, 'kind' | 'pins'>): Map<string, string> {
  if (by.pins) return new Map(Object.entries(matchedPins(partKind(from).pins, by.pins)))
  const [old, next] = [partKind(from).pins, partShape(by).pins]
  const over = new Map(old.flatMap((pin) => (next.includes(pin) ? [[pin, pin] as const] : [])))
  const [a, b] = [growingPins(from), growingPins(by.kind)]
  const give = (pin: string | undefined, other: string | undefined) => {
    if (pin !== undefined && other !== undefined && !over.has(pin) && ![...over.values()].includes(other))
      over.set(pin, other)
  }
  if (a && b) a.forEach((pin, k) => give(pin, b[k]))
  for (const pin of old)
    give(
      pin,
      next.find((other) => ![...over.values()].includes(other)),
    )
  return over
}
