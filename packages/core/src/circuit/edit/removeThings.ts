import { z } from 'zod'
import type { Circuit, End } from '../circuit.js'
import { GROUND_NAME } from '../flatten.js'
import { NetMap } from '../NetMap.js'
import { partKind } from '../parts/index.js'
import { wirePoints } from '../drawing/geometry.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { isAt, joinedEnds } from './connect.js'
import { removePart } from './removePart.js'
import { fewestBends, stillJoined, wireOf } from './spots.js'

const schema = z.strictObject({
  parts: z.array(z.string()).optional(),
  wires: z.array(z.string()).optional(),
  labels: z.array(z.string()).optional(),
  notes: z.array(z.string()).optional(),
  /** Whether a part with two pins that stands in a wire leaves the wire whole. */
  close: z.boolean().default(true),
})

/** Takes things off the sheet. Wires that then lead nowhere go with them, joints that join two wires become one wire. */
export const removeThings: CircuitEdit<z.output<typeof schema>, 'remove-things'> = {
  id: 'remove-things',
  schema: schema as z.ZodType<z.output<typeof schema>>,
  label: ({ parts = [], wires = [], labels = [], notes = [] }) => {
    if (parts.length === 1) return `${parts[0]} removed`
    if (parts.length > 1) return `${parts.length} parts removed`
    if (wires.length > 0) return wires.length === 1 ? 'wire removed' : `${wires.length} wires removed`
    return labels.length > 0 ? 'name removed' : notes.length > 0 ? 'text removed' : 'nothing removed'
  },
  apply(circuit, { parts = [], wires = [], labels = [], notes = [], close }) {
    const had = loose(circuit)
    let left = circuit
    for (const part of parts) {
      partOf(left, part)
      left = removePart.apply(left, { part, close: close && standsInWire(left, part, parts) })
    }
    left = {
      ...left,
      wires: left.wires.filter((w) => !wires.includes(w.id)),
      labels: left.labels.filter((l) => !labels.includes(l.id)),
      ...(left.notes && { notes: left.notes.filter((n) => !notes.includes(n.id)) }),
    }
    return stillJoined(circuit, tidied(left, had))
  },
}

/** A part with two pins, a wire at each, and ground at neither. */
function standsInWire(circuit: Circuit, id: string, going: readonly string[]): boolean {
  const part = partOf(circuit, id)
  const { pins } = partKind(part.kind, id)
  if (pins.length !== 2) return false
  const nets = NetMap.of(circuit)
  return pins.every((pin) => {
    const wires = circuit.wires.filter((w) => w.ends.some((e) => isAt(e, id, pin)))
    const stays = wires.some((w) => w.ends.some((e) => !('part' in e) || !going.includes(e.part)))
    return stays && nets.netOf(id, pin) !== GROUND_NAME
  })
}

/** Junctions that one wire leads to, and no name hangs on. */
function loose(circuit: Circuit): Set<string> {
  const counts = countsAt(circuit)
  return new Set(circuit.junctions.flatMap(({ id }) => ((counts.get(id) ?? 0) < 2 ? [id] : [])))
}

/** How many wires and names end at each junction. */
function countsAt(circuit: Circuit): Map<string, number> {
  const counts = new Map<string, number>()
  for (const end of joinedEnds(circuit))
    if ('junction' in end) counts.set(end.junction, (counts.get(end.junction) ?? 0) + 1)
  return counts
}

/** Without what leads nowhere now, but for the junctions that were so before; with one wire where a joint is not needed. */
function tidied(circuit: Circuit, had: ReadonlySet<string>): Circuit {
  let now = circuit
  for (;;) {
    const counts = countsAt(now)
    const dead = now.junctions.find((j) => {
      const count = counts.get(j.id) ?? 0
      const isNamed = now.labels.some((l) => 'junction' in l.end && l.end.junction === j.id)
      return count === 0 || (count === 1 && !isNamed && !had.has(j.id))
    })
    if (!dead) break
    const isDead = (end: End) => 'junction' in end && end.junction === dead.id
    now = {
      ...now,
      junctions: now.junctions.filter((j) => j !== dead),
      wires: now.wires.filter((w) => !w.ends.some(isDead)),
    }
  }
  for (const { id } of now.junctions) now = joinedAt(now, id)
  return now
}

/** The circuit with one wire instead of two that meet at a junction, and nothing else does. */
function joinedAt(circuit: Circuit, junction: string): Circuit {
  const isHere = (end: End) => 'junction' in end && end.junction === junction
  if (circuit.labels.some((l) => isHere(l.end))) return circuit
  const here = circuit.wires.filter((w) => w.ends.some(isHere))
  if (here.length !== 2 || here.some((w) => w.ends.every(isHere))) return circuit
  const [one, two] = here
  const points = here.map((w) => {
    const found = wirePoints(circuit, w)
    return found && isHere(w.ends[0]) ? found.toReversed() : found
  })
  const far = here.map((w) => (isHere(w.ends[0]) ? w.ends[1] : w.ends[0]))
  const way = points[0] && points[1] ? [...points[0], ...points[1].toReversed()] : null
  const wire = wireOf(one.id, [far[0], far[1]], way ? fewestBends(way) : [])
  return {
    ...circuit,
    junctions: circuit.junctions.filter((j) => j.id !== junction),
    wires: circuit.wires.flatMap((w) => (w === one ? [wire] : w === two ? [] : [w])),
  }
}
