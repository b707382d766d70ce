import { z } from 'zod'
import { type Circuit, CircuitSchema, type End, GridSchema, type Part } from '../circuit.js'
import { isOnNet, symbolBox } from '../drawing/geometry.js'
import { GROUND_NAME } from '../flatten.js'
import { freeId, freePartId } from '../ids.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { supplyOf } from './growPart.js'
import { apartShift } from './room.js'
import { endsOf, joinTouching } from './spots.js'

const schema = z.strictObject({
  /** What was copied: a piece of a circuit with its places. */
  piece: CircuitSchema,
  /** Where its upper left corner comes to; left out, beside where it lay. */
  at: GridSchema.optional(),
})

/** Grid units beside the original at which a copy is put. */
const BESIDE = 2

/**
 * Puts in a piece of a circuit. Parts get the next free names of their kinds, nets whose names are taken get others, but for
 * ground and the supply; models and parameters that are not there yet come with it.
 */
export const pasteThings: CircuitEdit<z.output<typeof schema>, 'paste-things'> = {
  id: 'paste-things',
  schema,
  label: ({ piece: { parts } }) => (parts.length === 1 ? `${parts[0].id} put in` : `${parts.length} parts put in`),
  apply(circuit, { piece, at }) {
    const names = new Map<string, string>()
    let now = circuit
    const rails = new Set([GROUND_NAME, supplyOf(circuit), supplyOf(piece)])
    const shared = renamedShared(circuit, piece)
    for (const part of piece.parts) {
      const taken = now.parts.some((p) => p.id.toUpperCase() === part.id.toUpperCase())
      const id = taken ? freePartId(now, part.kind) : part.id
      names.set(part.id, id)
      now = { ...now, parts: [...now.parts, { ...part, id }] }
    }
    const first = circuit.parts.length
    const own = now.parts.slice(first).map((p) => ({
      ...shared.inPart(p),
      ...(p.refs && { refs: p.refs.map((r) => names.get(r) ?? r) }),
    }))
    const shift = shiftOf(circuit, piece, at)
    const moved = <P extends { x: number; y: number }>(p: P): P => ({ ...p, x: p.x + shift.x, y: p.y + shift.y })
    now = {
      ...circuit,
      ...shared.tables,
      parts: [...circuit.parts, ...own.map((p) => (p.at ? { ...p, at: moved(p.at) } : p))],
    }
    const joints = new Map<string, string>()
    for (const { id, at: place } of piece.junctions) {
      const next = freeId(now, 'junctions')
      joints.set(id, next)
      now = { ...now, junctions: [...now.junctions, { id: next, ...(place && { at: moved(place) }) }] }
    }
    const ended = (end: End): End =>
      'part' in end
        ? { ...end, part: names.get(end.part) ?? end.part }
        : { junction: joints.get(end.junction) ?? end.junction }
    for (const wire of piece.wires) {
      const ends: [End, End] = [ended(wire.ends[0]), ended(wire.ends[1])]
      const next = { ...wire, id: freeId(now, 'wires'), ends, ...(wire.bends && { bends: wire.bends.map(moved) }) }
      now = { ...now, wires: [...now.wires, next] }
    }
    const nets = new Map<string, string>()
    for (const { follows: _ends, at: place, ...label } of piece.labels) {
      if (!nets.has(label.name)) nets.set(label.name, rails.has(label.name) ? label.name : freeNet(now, label.name))
      const name = nets.get(label.name)!
      const next = {
        ...label,
        id: freeId(now, 'labels'),
        name,
        end: ended(label.end),
        ...(place && { at: moved(place) }),
      }
      now = { ...now, labels: [...now.labels, next] }
    }
    for (const note of piece.notes ?? [])
      now = { ...now, notes: [...(now.notes ?? []), { ...note, id: freeId(now, 'notes'), at: moved(note.at) }] }
    return joinTouching(now, endsOf(names.values(), joints.values()))
  },
}

/** A name of its own for a net: `out`, or `out_2` where that is taken. */
function freeNet(circuit: Circuit, name: string): string {
  const taken = new Set(circuit.labels.map((l) => l.name))
  let next = name
  for (let k = 2; taken.has(next); k++) next = `${name}_${k}`
  return next
}

function shiftOf(circuit: Circuit, piece: Circuit, at: { x: number; y: number } | undefined) {
  const boxes = piece.parts.flatMap((p) => symbolBox(p) ?? [])
  if (boxes.length === 0) return { x: 0, y: 0 }
  const corner = {
    x: Math.round(Math.min(...boxes.map((b) => b.left))),
    y: Math.round(Math.min(...boxes.map((b) => b.top))),
  }
  const wanted = at ? { x: at.x - corner.x, y: at.y - corner.y } : { x: BESIDE, y: BESIDE }
  return apartShift(circuit, piece, wanted)
}

/** Models and parameters of a piece as they come into a circuit: those that say something else get another name. */
function renamedShared(circuit: Circuit, piece: Circuit) {
  const renamed = { models: new Map<string, string>(), parameters: new Map<string, string>() }
  const merged = <T>(of: 'models' | 'parameters', have: Record<string, T> = {}, come: Record<string, T> = {}) => {
    const all = { ...have }
    const keyOf = (name: string) => Object.keys(all).find((k) => k.toLowerCase() === name.toLowerCase())
    for (const [name, value] of Object.entries(come)) {
      const known = keyOf(name)
      if (known !== undefined && JSON.stringify(all[known]) === JSON.stringify(value)) continue
      let next = name
      for (let k = 2; keyOf(next) !== undefined; k++) next = `${name}_${k}`
      if (next !== name) renamed[of].set(name.toLowerCase(), next)
      all[next] = value
    }
    return Object.keys(all).length > 0 ? { [of]: all } : {}
  }
  const tables = {
    ...merged('models', circuit.models, piece.models),
    ...merged('parameters', circuit.parameters, piece.parameters),
    ...((circuit.subcircuits ?? piece.subcircuits) && {
      subcircuits: { ...piece.subcircuits, ...circuit.subcircuits },
    }),
    ...((circuit.parameterRanges ?? piece.parameterRanges) && {
      parameterRanges: { ...piece.parameterRanges, ...circuit.parameterRanges },
    }),
  }
  const inPart = (part: Part): Part => {
    const model = part.model === undefined ? undefined : renamed.models.get(part.model.toLowerCase())
    return {
      ...part,
      ...(model !== undefined && { model }),
      ...(part.formulas && {
        formulas: Object.fromEntries(
          Object.entries(part.formulas).map(([id, f]) => [id, withNames(f, renamed.parameters)]),
        ),
      }),
    }
  }
  return { tables, inPart }
}

/** An expression with other names for some parameters, by their names in lower case. */
export function withNames(expression: string, names: ReadonlyMap<string, string>): string {
  if (names.size === 0) return expression
  return expression.replace(/(?<![\w.])[A-Za-z_]\w*/g, (word) => names.get(word.toLowerCase()) ?? word)
}

/** A piece of a circuit: some parts with all that lies between them, names of nets and texts that were asked for. */
export function pieceOf(circuit: Circuit, parts: ReadonlySet<string>, notes: ReadonlySet<string> = new Set()): Circuit {
  const has = (end: End): boolean => ('part' in end ? parts.has(end.part) : joints.has(end.junction))
  const joints = new Set<string>()
  const touches = (end: End) => 'part' in end && parts.has(end.part)
  // Junctions that a wire from inside leads to; wires that go on to the outside are cut there.
  for (const { ends } of circuit.wires)
    for (const [one, other] of [ends, [ends[1], ends[0]]])
      if (touches(one) && 'junction' in other) joints.add(other.junction)
  for (let before = -1; before !== joints.size;) {
    before = joints.size
    for (const { ends } of circuit.wires)
      for (const [one, other] of [ends, [ends[1], ends[0]]])
        if (
          'junction' in one &&
          joints.has(one.junction) &&
          'junction' in other &&
          leadsInside(circuit, other.junction, joints, parts)
        )
          joints.add(other.junction)
  }
  const wires = circuit.wires.filter((w) => w.ends.every(has))
  const used = new Set(wires.flatMap((w) => w.ends.flatMap((e) => ('junction' in e ? [e.junction] : []))))
  const kept = circuit.parts.filter((p) => parts.has(p.id))
  const models = new Set(kept.flatMap((p) => (p.model === undefined ? [] : [p.model.toLowerCase()])))
  const hasFormulas = kept.some((p) => p.formulas)
  return {
    parts: kept,
    wires,
    junctions: circuit.junctions.filter((j) => used.has(j.id)),
    labels: circuit.labels.flatMap((l) => {
      if (!('part' in l.end ? parts.has(l.end.part) : used.has(l.end.junction))) return []
      // A name that stood on its net's wire is left to the drawing.
      const { at: _stood, ...rest } = l
      return [isOnNet(circuit, l) ? rest : l]
    }),
    ...(circuit.models && {
      models: Object.fromEntries(Object.entries(circuit.models).filter(([name]) => models.has(name.toLowerCase()))),
    }),
    ...(circuit.parameters && hasFormulas && { parameters: circuit.parameters }),
    ...(circuit.subcircuits && kept.some((p) => p.definition) && { subcircuits: circuit.subcircuits }),
    ...(notes.size > 0 && { notes: (circuit.notes ?? []).filter((n) => notes.has(n.id)) }),
  }
}

/** Whether a junction is joined to one of the parts by another way than through the known junctions. */
function leadsInside(
  circuit: Circuit,
  junction: string,
  known: ReadonlySet<string>,
  parts: ReadonlySet<string>,
): boolean {
  return circuit.wires.some(({ ends }) =>
    [ends, [ends[1], ends[0]]].some(
      ([one, other]) =>
        'junction' in one &&
        one.junction === junction &&
        ('part' in other ? parts.has(other.part) : known.has(other.junction) && other.junction !== junction),
    ),
  )
}
