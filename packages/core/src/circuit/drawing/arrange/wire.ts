import type { Circuit, End, GridPoint, Junction, Wire } from '../../circuit.js'
import { NetMap } from '../../NetMap.js'

import type { Box } from '../geometry.js'
import type { PlacedPin } from '../pins.js'
import { Raster, type Terminal } from '../Raster.js'

/** A wire that costs more than this beyond its length becomes a pair of names. */
const DEAREST = 90

/** What of a net hangs together already. */
interface Piece {
  readonly points: Terminal[]
  readonly pins: readonly PlacedPin[]
}

/** What is to be joined by wires: pins of a net, and places beside them that its wires lead to as well. */
export interface Cluster {
  readonly net: string
  readonly pins: PlacedPin[]
  readonly loose: { readonly id: string; readonly at: GridPoint }[]
}

/** How the pins of a net hang together on the drawing. */
export interface Wiring {
  readonly wires: Wire[]
  readonly junctions: Junction[]
  /** Pins at which a net's name stands, because no wire leads there. */
  readonly named: readonly { readonly net: string; readonly end: End }[]
}

/**
 * Wires for the nets of a circuit whose parts have their places: nearest ends first, short nets first, on the lines of the
 * grid; a piece that no wire reaches for its price is joined by the net's name.
 *
 * @param pins every pin with its net
 * @param ways what nets take where it is free, from corner to corner
 * @param words where the parts' names and values stand, where they can
 */
export function wired(
  circuit: Circuit,
  pins: readonly PlacedPin[],
  clusters: readonly Cluster[],
  ways: readonly { readonly net: string; readonly points: readonly GridPoint[] }[],
  words: readonly Box[],
): Wiring {
  const beside = clusters.flatMap(({ net, loose }) => loose.map(({ id, at }) => ({ part: id, pin: '', net, at })))
  const raster = new Raster(circuit, new NetMap(circuit), [...pins, ...beside], [])
  raster.leave(words)
  const wires: Wire[] = []
  const junctions: Junction[] = []
  const named: { net: string; end: End }[] = []
  const sized = clusters.map((cluster) => ({ cluster, size: halfRound(cluster.pins.map((p) => p.at)) }))
  const trees = sized
    .toSorted((a, b) => a.size - b.size)
    .map(({ cluster }) => {
      const parts = cluster.pins.map((p) => p.part)
      const tree = new Tree(cluster, junctions, wires)
      let pieces = tree.pieces((end) => raster.directionOf(end))
      const isEnd = new Set(cluster.pins.map((p) => keyOf(p.at)))
      for (const { net, points } of ways) {
        if (net !== cluster.net || !isEnd.has(keyOf(points[0])) || !raster.isOpen(points, parts, net)) continue
        raster.lay(points, net)
        tree.add(points)
        pieces = joined(pieces, points)
      }
      return { cluster, parts, tree, pieces }
    })
  for (const { cluster, parts, tree, pieces: begun } of trees) {
    const { net } = cluster
    let pieces = begun
    const apart: Piece[] = []
    while (pieces.length > 1) {
      const [a, distance] = nearest(pieces)
      const others = pieces.filter((p) => p !== a)
      const way = raster.between(
        a.points,
        others.flatMap((p) => p.points),
        parts,
        net,
        DEAREST + 3 * distance,
      )
      if (!way) {
        apart.push(a)
        pieces = others
        continue
      }
      raster.lay(way, net)
      tree.add(way)
      pieces = joined(pieces, way)
    }
    if (apart.length > 0)
      for (const { pins: own } of [...apart, ...pieces])
        if (own.length > 0) named.push({ net, end: { part: own[0].part, pin: own[0].pin } })
    tree.write()
  }
  return { wires, junctions, named }
}

/** What hangs together once a wire takes a way. */
function joined(pieces: readonly Piece[], way: readonly GridPoint[]): Piece[] {
  const along = latticeOn(way)
  const on = new Set(along.map(keyOf))
  const [met, others] = [true, false].map((isMet) =>
    pieces.filter((p) => p.points.some(({ at }) => on.has(keyOf(at))) === isMet),
  )
  const points = [...met.flatMap((p) => p.points), ...along.map((at): Terminal => ({ at, leads: -1 }))]
  return [...others, { points, pins: met.flatMap((p) => p.pins) }]
}

function nearest(pieces: readonly Piece[]): [Piece, number] {
  let best: [Piece, number] = [pieces[0], Infinity]
  pieces.forEach((a, k) => {
    for (const b of pieces.slice(k + 1)) {
      const distance = between(a, b)
      // From the smaller piece: its search has fewer beginnings.
      if (distance < best[1]) best = [a.points.length <= b.points.length ? a : b, distance]
    }
  })
  return best
}

function between(a: Piece, b: Piece): number {
  let least = Infinity
  for (const { at: p } of a.points)
    for (const { at: q } of b.points) least = Math.min(least, Math.abs(p.x - q.x) + Math.abs(p.y - q.y))
  return least
}

function halfRound(points: readonly GridPoint[]): number {
  const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)]
  return Math.max(...xs) - Math.min(...xs) + Math.max(...ys) - Math.min(...ys)
}

/** Every place of the grid on a way. */
function latticeOn(way: readonly GridPoint[]): GridPoint[] {
  return way.slice(1).flatMap((to, k) => {
    const from = way[k]
    const steps = Math.abs(to.x - from.x) + Math.abs(to.y - from.y)
    const [dx, dy] = [Math.sign(to.x - from.x), Math.sign(to.y - from.y)]
    return Array.from({ length: steps + (k === 0 ? 1 : 0) }, (_, n) => {
      const m = k === 0 ? n : n + 1
      return { x: from.x + m * dx, y: from.y + m * dy }
    })
  })
}

const keyOf = ({ x, y }: GridPoint) => `${x} ${y}`

/** The steps along the grid that a net's wires take, and the wires and junctions that they are in the document. */
class Tree {
  private readonly steps = new Map<string, Set<string>>()
  private readonly places = new Map<string, GridPoint>()

  constructor(
    private readonly cluster: Cluster,
    private readonly junctions: Junction[],
    private readonly wires: Wire[],
  ) {}

  pieces(directionOf: (end: End) => Terminal['leads']): Piece[] {
    const at = new Map<string, { points: Terminal[]; pins: PlacedPin[] }>()
    for (const pin of this.cluster.pins) {
      const key = keyOf(pin.at)
      const known = at.get(key)
      const leads = directionOf({ part: pin.part, pin: pin.pin })
      // Where pins meet any direction is as good.
      if (known) {
        known.pins.push(pin)
        known.points[0] = { at: pin.at, leads: -1 }
      } else at.set(key, { points: [{ at: pin.at, leads }], pins: [pin] })
    }
    for (const { at: place } of this.cluster.loose) {
      const key = keyOf(place)
      if (!at.has(key)) at.set(key, { points: [{ at: place, leads: -1 }], pins: [] })
    }
    return [...at.values()]
  }

  add(way: readonly GridPoint[]): void {
    const points = latticeOn(way)
    points.slice(1).forEach((to, k) => {
      this.step(points[k], to)
      this.step(to, points[k])
    })
  }

  private step(from: GridPoint, to: GridPoint): void {
    const [a, b] = [keyOf(from), keyOf(to)]
    this.places.set(a, from)
    const known = this.steps.get(a)
    if (known) known.add(b)
    else this.steps.set(a, new Set([b]))
  }

  /** Takes away what leads nowhere. */
  private prune(isEnd: (key: string) => boolean): void {
    const open = [...this.steps.keys()]
    for (let key = open.pop(); key !== undefined; key = open.pop()) {
      const ways = this.steps.get(key)
      if (!ways || ways.size > 1 || isEnd(key)) continue
      this.steps.delete(key)
      for (const next of ways) {
        this.steps.get(next)!.delete(key)
        open.push(next)
      }
    }
  }

  /** Wires from node to node: pins, junctions, and where three ways meet. */
  write(): void {
    const nodes = new Map<string, End>()
    for (const { part, pin, at } of this.cluster.pins) {
      const key = keyOf(at)
      const known = nodes.get(key)
      if (known) this.wire(known, { part, pin }, [])
      else nodes.set(key, { part, pin })
    }
    for (const { id, at } of this.cluster.loose) {
      this.junctions.push({ id, at })
      nodes.set(keyOf(at), { junction: id })
    }
    this.prune((key) => nodes.has(key))
    for (const [key, ways] of this.steps) {
      if (ways.size < 3 || nodes.has(key)) continue
      const id = `J${this.junctions.length + 1}`
      this.junctions.push({ id, at: this.places.get(key)! })
      nodes.set(key, { junction: id })
    }
    const walked = new Set<string>()
    for (const [key, end] of nodes)
      for (const first of this.steps.get(key) ?? []) {
        const points = [key, first]
        while (!nodes.has(points.at(-1)!)) {
          const [last, here] = points.slice(-2)
          points.push([...this.steps.get(here)!].find((p) => p !== last)!)
        }
        const way = points.map((p) => this.places.get(p)!)
        const id = [points[0], points[1], points.at(-2)!, points.at(-1)!]
        if (walked.has(id.join(','))) continue
        walked.add(id.toReversed().join(','))
        this.wire(end, nodes.get(points.at(-1)!)!, cornersOf(way))
      }
  }

  private wire(from: End, to: End, bends: GridPoint[]): void {
    const id = `W${this.wires.length + 1}`
    this.wires.push({ id, ends: [from, to], ...(bends.length > 0 && { bends }) })
  }
}

/** The inner points at which a way turns. */
const cornersOf = (way: readonly GridPoint[]): GridPoint[] =>
  way.slice(1, -1).filter((p, k) => {
    const [a, b] = [way[k], way[k + 2]]
    return !((a.x === p.x && p.x === b.x) || (a.y === p.y && p.y === b.y))
  })
