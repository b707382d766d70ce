import type { Circuit, GridPoint, Part } from '../circuit.js'
import { partShape } from '../parts/index.js'
import {
  inflated,
  type Box,
  inkOf,
  movedBox,
  overlap,
  placed,
  ring,
  stretchesOf,
  symbolBox,
  wirePoints,
} from '../drawing/geometry.js'

/**
 * Everything beyond a line moves on, its wires with it: a strip of paper is put in.
 *
 * @param by grid units; below 0 what lies before the line moves back
 */
export function withStrip(circuit: Circuit, along: 'x' | 'y', beyond: number, by: number): Circuit {
  const isBeyond = (v: number) => (by < 0 ? v < beyond : v > beyond)
  const moved = <P extends GridPoint>(p: P): P => (isBeyond(p[along]) ? { ...p, [along]: p[along] + by } : p)
  return {
    ...circuit,
    parts: circuit.parts.map((p) => (p.at ? { ...p, at: moved(p.at) } : p)),
    junctions: circuit.junctions.map((j) => (j.at ? { ...j, at: moved(j.at) } : j)),
    wires: circuit.wires.map((w) => (w.bends ? { ...w, bends: w.bends.map(moved) } : w)),
    ...(circuit.notes && { notes: circuit.notes.map((n) => ({ ...n, at: moved(n.at) })) }),
  }
}

/** Grid units of air around a symbol that is put somewhere. */
const AIR = 0.5

/** What lies on the sheet: symbols and wires, without what belongs to some parts. Names of nets give way. */
export function lyingOn(circuit: Circuit, without: ReadonlySet<string> = new Set()): Box[] {
  const symbols = circuit.parts.flatMap((p) => (without.has(p.id) ? [] : (symbolBox(p) ?? [])))
  const wires = circuit.wires
    .filter((w) => !w.ends.some((e) => 'part' in e && without.has(e.part)))
    .flatMap((w) => stretchesOf(wirePoints(circuit, w) ?? []).map(inkOf))
  return [...symbols, ...wires]
}

export const withAir = (box: Box, air = AIR): Box => inflated(box, air)

export const isClear = (box: Box, lying: readonly Box[]): boolean => lying.every((other) => overlap(box, other) === 0)

/** How far from where they are wanted parts are put where something lies there, grid units. */
const FARTHEST = 40

interface Placed {
  readonly box: Box
  readonly pins: readonly GridPoint[]
}

function placedOf(part: Part): Placed[] {
  const box = symbolBox(part)
  if (!box) return []
  return [{ box, pins: Object.values(partShape(part).pinPlaces).map((place) => placed(part, place)) }]
}

/** Whether two parts, the first one shifted, lie on nothing of each other but pins on pins. */
function standApart(one: Placed, other: Placed, by: GridPoint): boolean {
  const box = movedBox(one.box, by)
  if (!touches(box, other.box)) return true
  if (overlap(box, other.box) > 0) return false
  const pins = one.pins.map((p) => ({ x: p.x + by.x, y: p.y + by.y }))
  const isOn = (p: GridPoint, b: Box) => p.x >= b.left && p.x <= b.right && p.y >= b.top && p.y <= b.bottom
  const meets = (p: GridPoint, those: readonly GridPoint[]) => those.some((q) => q.x === p.x && q.y === p.y)
  return (
    pins.every((p) => !isOn(p, other.box) || meets(p, other.pins)) &&
    other.pins.every((p) => !isOn(p, box) || meets(p, pins))
  )
}

const touches = (a: Box, b: Box) => a.left <= b.right && b.left <= a.right && a.top <= b.bottom && b.top <= a.bottom

/** The shift nearest to the one wanted with which parts lie on no symbol but their own. */
export function clearShift(circuit: Circuit, moving: readonly Part[], wanted: GridPoint): GridPoint {
  const ids = new Set(moving.map((p) => p.id))
  const others = circuit.parts.filter((p) => !ids.has(p.id)).flatMap(placedOf)
  const own = moving.flatMap(placedOf)
  const fits = (by: GridPoint) => own.every((o) => others.every((other) => standApart(o, other, by)))
  for (let far = 0; far <= FARTHEST; far++) for (const by of ring(wanted, far)) if (fits(by)) return by
  return wanted
}

/** How far beside where it is wanted a whole piece is tried before it goes beyond everything, grid units. */
const NEAR = 12

/** The shift nearest to the one wanted with which a piece touches nothing of a circuit; beyond all of it where none is near. */
export function apartShift(circuit: Circuit, piece: Circuit, wanted: GridPoint): GridPoint {
  const [lying, own] = [lyingOn(circuit), lyingOn(piece).map((box) => withAir(box, 2 * AIR))]
  if (lying.length === 0 || own.length === 0) return wanted
  const fits = (by: GridPoint) => own.every((box) => lying.every((other) => !touches(movedBox(box, by), other)))
  for (let far = 0; far <= NEAR; far++) for (const by of ring(wanted, far)) if (fits(by)) return by
  const right = Math.max(...lying.map((b) => b.right))
  const left = Math.min(...own.map((b) => b.left))
  return { x: Math.ceil(right - left) + 4, y: 0 }
}

/** The circuit with one part moved to the nearest place where it lies on no other. */
export function withClear(circuit: Circuit, id: string): Circuit {
  const part = circuit.parts.find((p) => p.id === id)
  if (!part?.at) return circuit
  const by = clearShift(circuit, [part], { x: 0, y: 0 })
  if (by.x === 0 && by.y === 0) return circuit
  const at = { ...part.at, x: part.at.x + by.x, y: part.at.y + by.y }
  return { ...circuit, parts: circuit.parts.map((p) => (p === part ? { ...p, at } : p)) }
}
