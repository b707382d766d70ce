import type { Circuit, GridPoint, Part } from '../circuit.js'
import { NetMap } from '../NetMap.js'
import { around, type Box, movedBox, stretchesOf, symbolBox, wireBoxes, wirePoints } from './geometry.js'
import { labelBox, type LabelPlace } from './labels.js'

/** A drawing that was folded: where a wire goes on in the next row it has the net's name at both ends. */
export interface Folded {
  readonly circuit: Circuit
  readonly rows: number
  /** The pieces of wires that were cut, which are drawn instead of these wires. */
  readonly pieces: ReadonlyMap<string, readonly (readonly GridPoint[])[]>
  readonly tags: readonly RowTag[]
  /** The frames of the nets' names, by the label. */
  readonly names: ReadonlyMap<string, Box>
  /** A place of the circuit on the drawing, and a place of the drawing in the circuit. */
  fold(at: GridPoint): GridPoint
  unfold(at: GridPoint): GridPoint
}

/** A drawing in one row. */
export const unfolded = (circuit: Circuit, names: ReadonlyMap<string, Box>): Folded => ({
  circuit,
  rows: 1,
  pieces: new Map(),
  tags: [],
  names,
  fold: (at) => at,
  unfold: (at) => at,
})

export interface RowTag {
  readonly id: string
  readonly net: string
  readonly at: GridPoint
  /** Whether the net goes on from here, or comes from the row above. */
  readonly goesOn: boolean
}

/** A place where a drawing can be cut: only wires of a few nets go across. */
interface Cut {
  readonly x: number
  readonly wires: readonly { readonly id: string; readonly net: string; readonly y: number }[]
}

/** Grid units between rows, and what a row may be longer than its parts: the names at its ends. */
const APART = 3
const NAMES = 3

/** How far beyond the cut both pieces of a wire run on to their names. */
const STUB = 0.5

/** A balanced chain is cut through both of its lines; more would be a web of names. */
const MOST_WIRES = 2

const MOST_ROWS = 12

/** A row more must make the drawing this much larger. */
const WORTH = 1.1

/** The shortest row is at least this part of the longest one: a single part is no row. */
const SHORTEST = 0.4

/** The fewest parts of a row: a source alone is none. */
const FEWEST = 3

/** Everything drawn must have air on both sides of a cut. */
const AIR = 0.35

/**
 * The drawing in as many rows as make it largest on a sheet, and no more: rows are cut where a single wire goes across, or two
 * of a balanced chain. A drawing that nowhere can be cut stays in one.
 *
 * @param labels where the parts' labels stand, with what they say
 * @param names the frames of the nets' names
 * @param sheet at the size at which a drawing can just be read, in grid units
 */
export function inRows(
  circuit: Circuit,
  labels: ReadonlyMap<string, { place: LabelPlace; text: string | null }>,
  names: ReadonlyMap<string, Box>,
  sheet: { readonly width: number; readonly height: number },
): Folded {
  const one = unfolded(circuit, names)
  const things = thingsOf(circuit, labels, names)
  const ink = wireBoxes(circuit)
  const boxes = [...things, ...ink]
  const all = aroundAll(boxes)
  /** 1 or more where it can be read. */
  const sizeAt = ({ width, height }: { width: number; height: number }) =>
    Math.min(sheet.width / width, sheet.height / height)
  const size = all && sizeAt({ width: all.right - all.left, height: all.bottom - all.top })
  if (!all || !size || size >= 1) return one
  // A lying wire is what is cut; a standing one is in the way.
  const inTheWay = [...things, ...ink.filter((b) => b.right - b.left < b.bottom - b.top)]
  const cuts = cutsOf(circuit, inTheWay, all)
  const xs = circuit.parts.flatMap((p) => (p.at && p.kind !== 'ground' ? [p.at.x] : []))
  const partsIn = ({ from, to }: Row) => xs.filter((x) => x > from && x < to).length
  let best = { chosen: [] as Cut[], size }
  for (let rows = 2; rows <= Math.min(MOST_ROWS, cuts.length + 1); rows++) {
    const chosen = evenly(cuts, all, rows)
    if (!chosen) continue
    const made = rowsOf(chosen, boxes, all)
    if (!isEven(made) || !made.every((row) => partsIn(row) >= FEWEST)) continue
    const folded = sizeAt(sizeOf(made))
    if (folded > best.size * WORTH) best = { chosen, size: folded }
    if (folded >= 1) break
  }
  return best.chosen.length === 0 ? one : folded(circuit, names, best.chosen, rowsOf(best.chosen, boxes, all))
}

/** Everything that is drawn but wires. */
function thingsOf(
  circuit: Circuit,
  labels: ReadonlyMap<string, { place: LabelPlace; text: string | null }>,
  names: ReadonlyMap<string, Box>,
): Box[] {
  const ofLabels = circuit.parts.flatMap((part) => {
    const label = labels.get(part.id)
    return (label && labelBox(part, label.text, label.place)) ?? []
  })
  return [...circuit.parts.flatMap((p) => symbolBox(p) ?? []), ...names.values(), ...ofLabels]
}

const aroundAll = (boxes: readonly Box[]): Box | null => (boxes.length === 0 ? null : boxes.reduce(around))

/** The places at which only a few lying wires go across. */
function cutsOf(circuit: Circuit, inTheWay: readonly Box[], all: Box): Cut[] {
  const nets = NetMap.of(circuit)
  const lying = circuit.wires.flatMap((wire) =>
    stretchesOf(wirePoints(circuit, wire) ?? []).flatMap(([a, b]) =>
      a.y === b.y ? [{ wire, y: a.y, left: Math.min(a.x, b.x), right: Math.max(a.x, b.x) }] : [],
    ),
  )
  const cuts: Cut[] = []
  for (let x = Math.ceil(all.left) + 0.5; x < all.right; x++) {
    if (inTheWay.some((b) => b.left < x + AIR && b.right > x - AIR)) continue
    const across = lying.filter((s) => s.left < x && s.right > x)
    if (across.length === 0 || across.length > MOST_WIRES) continue
    cuts.push({ x, wires: across.map(({ wire, y }) => ({ id: wire.id, net: nets.netAt(wire.ends[0]) ?? '', y })) })
  }
  const fewest = cuts.reduce((least, cut) => Math.min(least, cut.wires.length), MOST_WIRES)
  return cuts.filter((cut) => cut.wires.length === fewest)
}

/** Cuts for so many rows, of which the longest is as short as can be; null where there are too few. */
function evenly(cuts: readonly Cut[], all: Box, rows: number): Cut[] | null {
  if (cuts.length < rows - 1) return null
  const edges = [all.left, ...cuts.map((c) => c.x), all.right]
  // For each edge the longest row before it, and the edge before it, for one row more at each pass.
  let best = edges.map((x) => ({ longest: x - edges[0], cuts: [] as number[] }))
  for (let k = 2; k <= rows; k++)
    best = edges.map((x, to) =>
      best.slice(0, to).reduce(
        (shortest, before, from) => {
          const longest = Math.max(before.longest, x - edges[from])
          return longest < shortest.longest ? { longest, cuts: [...before.cuts, from] } : shortest
        },
        { longest: Infinity, cuts: [] as number[] },
      ),
    )
  const chosen = best.at(-1)!.cuts.filter((k) => k > 0)
  return chosen.length === rows - 1 ? chosen.map((k) => cuts[k - 1]) : null
}

interface Row {
  readonly from: number
  readonly to: number
  readonly box: Box
}

/** What lies between the cuts. */
function rowsOf(cuts: readonly Cut[], boxes: readonly Box[], all: Box): Row[] {
  const edges = [all.left - 1, ...cuts.map((c) => c.x), all.right + 1]
  return edges.slice(1).map((to, k) => {
    const from = edges[k]
    const inside = boxes.flatMap((b): Box[] => {
      const [left, right] = [Math.max(b.left, from), Math.min(b.right, to)]
      return left < right ? [{ ...b, left, right }] : []
    })
    return { from, to, box: aroundAll(inside)! }
  })
}

function isEven(rows: readonly Row[]): boolean {
  const widths = rows.map((r) => r.box.right - r.box.left)
  return Math.min(...widths) >= SHORTEST * Math.max(...widths)
}

const sizeOf = (rows: readonly Row[]) => ({
  width: Math.max(...rows.map((r) => r.box.right - r.box.left)) + 2 * NAMES,
  height: rows.reduce((sum, r) => sum + r.box.bottom - r.box.top, 0) + APART * (rows.length - 1),
})

/** The drawing with every row below the one before it, all beginning at the left. */
function folded(circuit: Circuit, names: ReadonlyMap<string, Box>, cuts: readonly Cut[], rows: readonly Row[]): Folded {
  let top = rows[0].box.top
  const shifts = rows.map(({ box }) => {
    const by = { x: Math.round(rows[0].box.left - box.left), y: Math.round(top - box.top) }
    top += box.bottom - box.top + APART
    return by
  })
  const rowAt = (x: number) => rows.findIndex((r) => x < r.to)
  const shiftAt = (x: number, row = rowAt(x)) => shifts[row < 0 ? rows.length - 1 : row]
  const moved = <P extends GridPoint>(p: P, row?: number): P => {
    const by = shiftAt(p.x, row)
    return { ...p, x: p.x + by.x, y: p.y + by.y }
  }
  const pieces = new Map<string, GridPoint[][]>()
  const tags: RowTag[] = []
  const cutWires = new Set(cuts.flatMap((cut) => cut.wires.map((w) => w.id)))
  for (const wire of circuit.wires) {
    if (!cutWires.has(wire.id)) continue
    const points = wirePoints(circuit, wire)!
    let row = rowAt(points[0].x)
    let piece = [moved(points[0], row)]
    const own: GridPoint[][] = [piece]
    for (const [a, b] of stretchesOf(points)) {
      const across = cuts
        .map((cut, k) => ({ cut, k }))
        .filter(({ cut }) => cut.x > Math.min(a.x, b.x) && cut.x < Math.max(a.x, b.x))
      const onwards = b.x > a.x
      for (const { cut, k } of onwards ? across : across.toReversed()) {
        piece.push(moved({ x: cut.x + (onwards ? STUB : -STUB), y: a.y }, row))
        row = onwards ? k + 1 : k
        piece = [moved({ x: cut.x - (onwards ? STUB : -STUB), y: a.y }, row)]
        own.push(piece)
      }
      piece.push(moved(b, row))
    }
    pieces.set(wire.id, own)
  }
  cuts.forEach((cut, k) => {
    for (const { id, net, y } of cut.wires) {
      tags.push({ id: `${id} ${k} on`, net, at: moved({ x: cut.x + STUB, y }, k), goesOn: true })
      tags.push({ id: `${id} ${k} from`, net, at: moved({ x: cut.x - STUB, y }, k + 1), goesOn: false })
    }
  })
  const part = (p: Part): Part => (p.at ? { ...p, at: moved(p.at) } : p)
  return {
    rows: rows.length,
    fold: ({ x, y }) => moved({ x, y }),
    unfold: ({ x, y }) => {
      const row = rows.findIndex((r, k) => y < r.box.bottom + shifts[k].y + APART / 2)
      const by = shifts[row < 0 ? rows.length - 1 : row]
      return { x: x - by.x, y: y - by.y }
    },
    pieces,
    tags,
    names: new Map([...names].map(([id, box]) => [id, movedBox(box, shiftAt((box.left + box.right) / 2))])),
    circuit: {
      ...circuit,
      parts: circuit.parts.map(part),
      junctions: circuit.junctions.map((j) => (j.at ? { ...j, at: moved(j.at) } : j)),
      labels: circuit.labels.map((l) => (l.at ? { ...l, at: moved(l.at) } : l)),
      ...(circuit.notes && { notes: circuit.notes.map((n) => ({ ...n, at: moved(n.at) })) }),
      wires: circuit.wires.map((w) => (w.bends ? { ...w, bends: w.bends.map((p) => moved(p)) } : w)),
    },
  }
}
