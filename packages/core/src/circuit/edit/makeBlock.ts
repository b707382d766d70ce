import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseExpression } from '../../quantity/expression.js'
import { useOf } from '../blocks.js'
import type { Circuit, End, Label, Part, Subcircuit } from '../circuit.js'
import { isShown } from '../drawing/labels.js'
import { laidOut } from '../drawing/index.js'
import { placed, symbolBox } from '../drawing/geometry.js'
import { GROUND_NAME } from '../flatten.js'
import { freeId, freePartId } from '../ids.js'
import { NetMap } from '../NetMap.js'
import { partShape } from '../parts/index.js'
import { type CircuitEdit, partOf } from './CircuitEdit.js'
import { grounded, named, wired } from './connect.js'
import { pieceOf } from './pasteThings.js'
import { isClear, lyingOn, withAir } from './room.js'
import { removeThings } from './removeThings.js'

const schema = z.strictObject({
  parts: z.array(z.string()).min(1),
  name: z.string().trim().min(1).max(60),
})

/** Grid units of air around a new block: room for its label and its wires. */
const AIR = 1.5

/** Names of pins where a net has none of its own. */
const LETTERS = 'abcdefghijklmnopqrstuvwxyz'

/**
 * Some parts become a block: a subcircuit, used once where they stood. Its pins are the nets that lead outside; ground and
 * supplies by name are pins only where they are no ground.
 */
export const makeBlock: CircuitEdit<z.output<typeof schema>, 'make-block'> = {
  id: 'make-block',
  schema,
  label: ({ name }) => `block ${name} made`,
  apply(circuit, { parts, name }) {
    const key = name.toLowerCase()
    if (circuit.subcircuits && Object.keys(circuit.subcircuits).some((n) => n.toLowerCase() === key))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is a block "${name}" already.`,
        fix: 'Choose another name.',
      })
    if (!/^[\p{L}_][\p{L}\p{N}_-]*$/u.test(name))
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `"${name}" cannot be the name of a block.`,
        fix: 'Use letters, digits, _ and -, a letter first.',
      })
    const chosen = parts.map((id) => partOf(circuit, id))
    const inside = chosen.filter((p) => p.kind !== 'ground')
    if (inside.length === 0)
      throw new VoskelError('CIRCUIT_INVALID', { problem: 'Ground alone is no block.', fix: 'Choose other parts.' })
    const left = refersOutside(circuit, inside)
    if (left)
      throw new VoskelError(
        'CIRCUIT_INVALID',
        {
          problem: `${left.from} refers to ${left.to}, and only one of the two would be in the block.`,
          fix: 'Choose both, or neither.',
        },
        { part: left.from },
      )
    const ids = new Set(inside.map((p) => p.id))
    const nets = NetMap.of(circuit)
    const pins = pinsOf(circuit, nets, ids)
    if (pins.length === 0)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: 'No net leads from these parts to others: the block would have no pins.',
        fix: 'Choose fewer parts, or name a net that is to be a pin.',
      })
    const [own, outer] = parametersApart(circuit, ids)
    const definition = { ...definitionOf(circuit, nets, ids, parts, pins), ...own }
    const { parameters: _parameters, parameterRanges: _ranges, ...rest } = circuit
    const made = { ...rest, ...outer, subcircuits: { ...circuit.subcircuits, [key]: definition } }
    return usedOnce(made, key, inside, parts, pins)
  },
}

type Tables = Pick<Circuit, 'parameters' | 'parameterRanges'>

/** The parameters that only the parts of a block use, which become its own; and all others. */
function parametersApart(circuit: Circuit, ids: ReadonlySet<string>): [own: Tables, outer: Tables] {
  const { parameters = {}, parameterRanges = {} } = circuit
  const byName = new Map(Object.keys(parameters).map((name) => [name.toLowerCase(), name]))
  const namesIn = (formulas: readonly string[]): Set<string> => {
    const found = new Set<string>()
    const open = [...formulas]
    for (let formula = open.pop(); formula !== undefined; formula = open.pop())
      for (const used of parseExpression(formula).names) {
        const name = byName.get(used.toLowerCase())
        if (name === undefined || found.has(name)) continue
        found.add(name)
        const given = parameters[name]
        if (typeof given === 'string') open.push(given)
      }
    return found
  }
  const formulasOf = (isInside: boolean) =>
    circuit.parts.filter((p) => ids.has(p.id) === isInside).flatMap((p) => Object.values(p.formulas ?? {}))
  const outside = namesIn([
    ...formulasOf(false),
    ...Object.values(circuit.subcircuits ?? {}).flatMap((s) => s.parts.flatMap((p) => Object.values(p.formulas ?? {}))),
  ])
  const own = new Set([...namesIn(formulasOf(true))].filter((name) => !outside.has(name)))
  const split = <T>(table: Readonly<Record<string, T>>, isOwn: boolean) =>
    Object.fromEntries(Object.entries(table).filter(([name]) => own.has(name) === isOwn))
  const tables = (isOwn: boolean): Tables => {
    const [values, ranges] = [split(parameters, isOwn), split(parameterRanges, isOwn)]
    return {
      ...(Object.keys(values).length > 0 && { parameters: values }),
      ...(Object.keys(ranges).length > 0 && { parameterRanges: ranges }),
    }
  }
  return [tables(true), tables(false)]
}

/** A net that leads out of a block, and what it is called inside. */
interface BlockPin {
  readonly net: string
  readonly name: string
}

/** The nets with pins inside and outside, or with a name that is shown; ground is everywhere. */
function pinsOf(circuit: Circuit, nets: NetMap, ids: ReadonlySet<string>): BlockPin[] {
  const grounds = new Set(circuit.parts.flatMap((p) => (p.kind === 'ground' ? [p.id] : [])))
  const labelled = new Map<string, boolean>()
  for (const l of circuit.labels) labelled.set(l.name, (labelled.get(l.name) ?? false) || isShown(l))
  const leading = nets.nets.filter((net) => {
    if (net === GROUND_NAME) return false
    const on = nets.pinsOf(net).filter((p) => !grounds.has(p.part))
    const isInside = on.some((p) => ids.has(p.part))
    return isInside && (on.some((p) => !ids.has(p.part)) || labelled.get(net) === true)
  })
  // From left to right, as they lie on the sheet.
  const xOf = (net: string) =>
    Math.min(
      ...nets.pinsOf(net).flatMap(({ part, pin }) => {
        const own = ids.has(part) ? circuit.parts.find((p) => p.id === part)! : null
        return own?.at ? [placed(own, partShape(own).pinPlaces[pin]).x] : []
      }),
    )
  const taken = new Set(leading.filter((net) => labelled.has(net)))
  let letter = 0
  return leading
    .toSorted((a, b) => xOf(a) - xOf(b))
    .map((net) => {
      if (labelled.has(net)) return { net, name: net }
      while (taken.has(LETTERS[letter])) letter++
      return { net, name: LETTERS[letter++] ?? `p${letter}` }
    })
}

/** The block's own circuit: its parts as they lie, their wires, the names of its pins. */
function definitionOf(
  circuit: Circuit,
  nets: NetMap,
  ids: ReadonlySet<string>,
  chosen: readonly string[],
  pins: readonly BlockPin[],
): Subcircuit {
  const {
    models: _models,
    parameters: _parameters,
    subcircuits: _subcircuits,
    ...piece
  } = pieceOf(circuit, new Set(chosen))
  // Each end keeps its net, whatever of its wires was cut.
  let own: Circuit = { ...piece, labels: piece.labels.filter((l) => !pins.some((p) => p.net === nets.netAt(l.end))) }
  const wanted = new Map<string, End[]>()
  for (const part of own.parts)
    for (const pin of ids.has(part.id) ? partShape(part).pins : []) {
      const net = nets.netOf(part.id, pin)
      if (net !== null) wanted.set(net, [...(wanted.get(net) ?? []), { part: part.id, pin }])
    }
  for (const [net, ends] of wanted) {
    const pin = pins.find((p) => p.net === net)
    const pieces = apart(own, ends)
    for (const [k, end] of pieces.entries()) {
      if (net === GROUND_NAME) {
        const isGrounded = new NetMap(own).netAt(end) === GROUND_NAME
        if (!isGrounded) own = grounded(own, end)
      } else if (pin) own = named(own, end, pin.name)
      else if (k > 0) own = wired(own, pieces[0], end)
    }
  }
  return { ...laidOut(own), pins: pins.map((p) => p.name) }
}

/** One end of each piece that some ends of a net fall into. */
function apart(circuit: Circuit, ends: readonly End[]): End[] {
  const nets = new NetMap(circuit)
  const found = new Map<string, End>()
  for (const end of ends) {
    const net = nets.netAt(end) ?? JSON.stringify(end)
    if (!found.has(net)) found.set(net, end)
  }
  return [...found.values()]
}

/** The circuit with one use of a block in the place of the parts that it was made of. */
function usedOnce(
  circuit: Circuit,
  block: string,
  inside: readonly Part[],
  chosen: readonly string[],
  pins: readonly BlockPin[],
): Circuit {
  const places = inside.flatMap((p) => p.at ?? [])
  const middle = (of: (p: { x: number; y: number }) => number) =>
    Math.round(places.reduce((sum, p) => sum + of(p), 0) / Math.max(1, places.length))
  const at = { x: middle((p) => p.x), y: middle((p) => p.y), rotation: 0 as const }
  const before = NetMap.of(circuit)
  const outside = new Map(
    pins.map(({ net }) => [net, before.pinsOf(net).filter((p) => !chosen.includes(p.part))] as const),
  )
  const names = new Map(circuit.labels.map((l) => [l.name, isShown(l)]))
  let next = removeThings.apply(circuit, { parts: [...chosen], close: false })
  const id = freePartId(next, 'subcircuit')
  const use: Part = { ...useOf(circuit, block), id, ...(places.length > 0 && { at }) }
  // Where others lie between them it is placed like anything new.
  const { at: _taken, ...bare } = use
  const box = symbolBox(use)
  const isClearThere = box !== null && isClear(withAir(box, AIR), lyingOn(next))
  next = { ...next, parts: [...next.parts, isClearThere ? use : bare] }
  pins.forEach(({ net }, k) => {
    const end: End = { part: id, pin: `p${k + 1}` }
    const others: End[] = (outside.get(net) ?? []).map((p) => ({ ...p }))
    // What hung together through the parts that went hangs together on.
    for (const other of apart(next, others))
      if (new NetMap(next).netAt(other) !== new NetMap(next).netAt(end) || others.length === 1)
        next = joinedBy(next, other, end, net, names)
    if (others.length === 0) next = named(next, end, net)
    if (names.has(net) && !next.labels.some((l) => l.name === net)) {
      const label: Label = {
        id: freeId(next, 'labels'),
        name: net,
        end,
        ...(names.get(net) ? {} : { shown: false as const }),
      }
      next = { ...next, labels: [...next.labels, label] }
    }
  })
  return next
}

/** Two ends on one net: by a wire, or by the net's name where it is a name at many places. */
function joinedBy(circuit: Circuit, from: End, to: End, net: string, names: ReadonlyMap<string, boolean>): Circuit {
  const places = circuit.labels.filter((l) => l.name === net && isShown(l)).length
  return names.get(net) === true && places > 1 ? named(circuit, to, net) : wired(circuit, from, to)
}

/** A part that names another one, of which only one is chosen. */
function refersOutside(circuit: Circuit, inside: readonly Part[]): { from: string; to: string } | null {
  const ids = new Set(inside.map((p) => p.id.toUpperCase()))
  for (const part of circuit.parts)
    for (const ref of part.refs ?? [])
      if (ids.has(part.id.toUpperCase()) !== ids.has(ref.toUpperCase())) return { from: part.id, to: ref }
  return null
}
