import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { type Circuit, type End, GridSchema, type GridPoint, type Part } from '../circuit.js'
import { looksJoined, placed, stretchesOf, wirePoints } from '../drawing/geometry.js'
import { partKind, partShape } from '../parts/index.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { growingPins, NewPartSchema, pinEnd, turnedAlong, withNewPart, withPinAt } from './newPart.js'
import { withStrip } from './room.js'
import { halved } from './spots.js'

const schema = z.strictObject({ wire: z.string(), at: GridSchema, part: NewPartSchema })

/** Grid units of wire that stay on either side of a part that is put into one. */
const MARGIN = 1

/** A new part in series, in a wire; the drawing makes room for it where the wire is too short. */
export const putInWire: CircuitEdit<z.output<typeof schema>, 'put-in-wire'> = {
  id: 'put-in-wire',
  schema,
  label: ({ part }) => `${partKind(part.kind).name.toLowerCase()} into a wire`,
  apply(circuit, { wire, at, part }) {
    const pins = growingPins(part.kind)
    if (!pins || pins[0] === pins[1])
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `A ${partKind(part.kind).name.toLowerCase()} cannot stand in series.`,
        fix: 'Place it beside the wire and join it.',
      })
    const [a, b] = stretchAt(circuit, wire, at)
    const isLying = a.y === b.y
    const along = isLying ? 'x' : 'y'
    const forth = Math.sign(b[along] - a[along]) || 1
    // A signal goes to the right and down whatever end the wire was begun at.
    const [from, to] = forth > 0 ? pins : ([pins[1], pins[0]] as const)
    const turned = turnedAlong(part, pins[0], pins[1], isLying ? { x: 1, y: 0 } : { x: 0, y: 1 })
    const there: Part = { ...part, id: '?', at: turned }
    const [p, q] = pins.map((pin) => placed(there, partShape(part).pinPlaces[pin]))
    const length = Math.abs(q[along] - p[along])
    const [low, high] = [Math.min(a[along], b[along]), Math.max(a[along], b[along])]
    const missing = length + 2 * MARGIN - (high - low)
    const roomy = missing > 0 ? withStrip(circuit, along, high - 0.5, missing) : circuit
    const most = high + Math.max(0, missing) - MARGIN - length
    const first = Math.min(most, Math.max(low + MARGIN, Math.round(at[along] - length / 2)))
    const pinAt = isLying ? { x: first, y: a.y } : { x: a.x, y: first }
    const [added, made] = withNewPart(roomy, part, withPinAt(part, turned, pins[0], pinAt))
    const cut = added.wires.find((w) => w.id === wire)!
    const points = wirePoints(added, cut)
    // A strip that moved one end aslant leaves the wire to be routed anew.
    const ends = [pinEnd(made, from), pinEnd(made, to)] as const
    if (!points || !stretchesOf(points).some((s) => looksJoined(s, [pinAt, pinAt])))
      return rejoined(added, wire, ends[0], ends[1])
    return halved(added, cut, points, pinAt, ends[0], ends[1])
  },
}

function stretchAt(circuit: Circuit, id: string, at: GridPoint) {
  const wire = circuit.wires.find((w) => w.id === id)
  const found = wire && stretchesOf(wirePoints(circuit, wire) ?? []).find((s) => looksJoined(s, [at, at]))
  if (found) return found
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: `No wire "${id}" runs over this place.`,
    fix: 'Choose a place on a wire.',
  })
}

/** The wire in two, without bends. */
function rejoined(circuit: Circuit, id: string, left: End, right: End): Circuit {
  const wire = circuit.wires.find((w) => w.id === id)!
  return halved(circuit, { ...wire, bends: [] }, [], { x: NaN, y: NaN }, left, right)
}
