import type { Circuit, GridPoint, Label } from '../circuit.js'
import { freeId } from '../ids.js'
import { NetMap } from '../NetMap.js'
import { Boxes } from './Boxes.js'
import {
  inkOf,
  isStraight,
  joinedPairs,
  looksJoined,
  onlyTouches,
  type Box,
  type Stretch,
  stretchesOf,
  symbolBox,
  wirePoints,
} from './geometry.js'
import { type PlacedPin, placedPins } from './pins.js'
import { Raster } from './Raster.js'

/** A wire that costs more than this becomes a pair of names: better a named net than a web. */
const DEAREST = 90

/**
 * The circuit with a way along the grid for every wire that has none: because it is new, an end of it has moved, it runs
 * through a symbol or touches another net. Ways lead round symbols, never along or into another net, and cross others seldom;
 * a wire that finds none becomes the net's name at both of its ends. All other wires stay as they are.
 */
export function withRoutes(circuit: Circuit): Circuit {
  if (!circuit.parts.some((p) => p.at)) return circuit
  const nets = NetMap.of(circuit)
  const drawn = circuit.wires.flatMap((wire) => {
    const points = wirePoints(circuit, wire)
    return points ? [{ wire, points, net: nets.netAt(wire.ends[0]) }] : []
  })
  const pins = placedPins(circuit, nets)
  // A joint of its own, that only a name hangs on, is in the way as well.
  const joints = circuit.junctions.flatMap(({ id, at }) => (at ? [{ net: nets.netAt({ junction: id }), at }] : []))
  const at = partsAt(pins)
  const loose = looseOf(circuit, [...pins, ...joints], drawn, at)
  if (loose.length === 0) return circuit
  const lying = drawn.filter((d) => !loose.includes(d))
  const raster = new Raster(circuit, nets, pins, lying)
  const length = ({ points }: Drawn) => distance(points[0], points.at(-1)!)
  const bends = new Map<string, GridPoint[] | null>()
  // Short ones first: they have the fewest other ways.
  for (const { wire, points, net } of loose.toSorted((a, b) => length(a) - length(b))) {
    const dearest = DEAREST + 3 * length({ wire, points, net })
    const way = raster.shortest(points[0], points.at(-1)!, wire.ends, at.meeting(points, net), net, dearest)
    bends.set(wire.id, way && way.slice(1, -1))
    if (way) raster.lay(way, net)
  }
  return named({ ...circuit, wires: circuit.wires.map((wire) => withBends(wire, bends.get(wire.id))) }, bends, nets)
}

/** The parts that have a pin of a net where a wire of it ends: these it may touch. */
interface PartsAt {
  /** Whether a part has a pin on a net: its edge may be touched. */
  on(part: string, net: string | null): boolean
  meeting(points: readonly GridPoint[], net: string | null): readonly string[]
}

function partsAt(pins: readonly PlacedPin[]): PartsAt {
  const keyOf = ({ x, y }: GridPoint, net: string | null) => `${x} ${y} ${net}`
  const found = new Map<string, string[]>()
  for (const { part, at, net } of pins) found.set(keyOf(at, net), [...(found.get(keyOf(at, net)) ?? []), part])
  const onNet = new Set(pins.map(({ part, net }) => `${part} ${net}`))
  return {
    on: (part, net) => onNet.has(`${part} ${net}`),
    meeting: (points, net) => [points[0], points.at(-1)!].flatMap((p) => found.get(keyOf(p, net)) ?? []),
  }
}

interface Drawn {
  readonly wire: Circuit['wires'][number]
  readonly points: GridPoint[]
  readonly net: string | null
}

/** Wires that do not lie as they should. */
function looseOf(
  circuit: Circuit,
  points: readonly { readonly net: string | null; readonly at: GridPoint }[],
  drawn: readonly Drawn[],
  at: PartsAt,
): Drawn[] {
  const symbols = new Boxes(
    circuit.parts.flatMap((part) => {
      const box = symbolBox(part)
      return box ? [{ id: part.id, ...box }] : []
    }),
  )
  const stretches = drawn.flatMap((of) => stretchesOf(of.points).map((at) => ({ of, net: of.net, at })))
  const loose = new Set<Drawn>()
  for (const { of, at: stretch } of stretches) {
    // Nor along the very edge of a symbol.
    const touched = symbols.on(inkOf(stretch))
    const may = touched.length > 0 ? at.meeting(of.points, of.net) : []
    const isWrong = (symbol: Box & { id: string }) =>
      !may.includes(symbol.id) && !(at.on(symbol.id, of.net) && onlyTouches(stretch, symbol))
    if (!isStraight(stretch) || touched.some(isWrong)) loose.add(of)
  }
  const order = new Map(drawn.map((d, k) => [d, k]))
  const lying = stretches.filter((s) => !loose.has(s.of))
  for (const [a, b] of joinedPairs<{ net: string | null; at: Stretch; of: Drawn | null }>([
    ...lying,
    ...points.map(({ net, at }) => ({ net, of: null, at: [at, at] as const })),
  ])) {
    if (a.net === b.net || (a.of && loose.has(a.of)) || (b.of && loose.has(b.of))) continue
    // Of two that touch the one gives way that runs over an end of the other; else the one drawn later: it is the one that came.
    const later =
      a.of && b.of
        ? runsOverEnd(a.of, b.of) || (!runsOverEnd(b.of, a.of) && order.get(a.of)! > order.get(b.of)!)
          ? a.of
          : b.of
        : (a.of ?? b.of)
    if (later) loose.add(later)
  }
  return drawn.filter((d) => loose.has(d))
}

/** Whether a wire runs over an end of another one. */
const runsOverEnd = ({ points }: Drawn, other: Drawn) =>
  [other.points[0], other.points.at(-1)!].some((end) => stretchesOf(points).some((s) => looksJoined(s, [end, end])))

const distance = (a: GridPoint, b: GridPoint) => Math.abs(a.x - b.x) + Math.abs(a.y - b.y)

function withBends(wire: Circuit['wires'][number], bends: readonly GridPoint[] | null | undefined) {
  if (!bends) return wire
  const { bends: _before, ...bare } = wire
  return bends.length > 0 ? { ...bare, bends: [...bends] } : bare
}

/** The circuit with the net's name at both ends of every wire that found no way, in its place. */
function named(circuit: Circuit, ways: ReadonlyMap<string, unknown>, nets: NetMap): Circuit {
  let now = circuit
  for (const wire of circuit.wires) {
    if (ways.get(wire.id) !== null) continue
    const net = nets.netAt(wire.ends[0])
    // An end that leads nowhere is no loss.
    const wires = now.wires.filter((w) => w !== wire)
    now = { ...now, wires }
    if (net === null) continue
    for (const end of wire.ends) {
      const label: Label = { id: freeId(now, 'labels'), name: net, end }
      if (!now.labels.some((l) => l.name === net && sameEnd(l.end, end)))
        now = { ...now, labels: [...now.labels, label] }
    }
  }
  return now
}

const sameEnd = (a: Label['end'], b: Label['end']) =>
  'part' in a ? 'part' in b && a.part === b.part && a.pin === b.pin : 'junction' in b && a.junction === b.junction
