import TinyQueue from 'tinyqueue'
import type { Circuit, End, GridPoint } from '../circuit.js'
import { NetMap } from '../NetMap.js'
import { type Box, endPoint, looksJoined, type Stretch, stretchesOf, symbolBox, wirePoints } from './geometry.js'
import { netBoxes } from './labels.js'

/** What a wire would rather not do, against one grid unit of its length. */
const PRICE = { bend: 3, crossing: 4, name: 2, beside: 1 } as const

/** Grid units that a wire stays away from the symbols of parts that it does not join. */
const BESIDE = 0.4

/** Grid units beyond everything that is drawn in which a wire may go round it. */
const AROUND = 4

/** A wire that would have to look at more places than this stays straight. */
const MOST_PLACES = 200_000

const isStraight = ([a, b]: Stretch) => a.x === b.x || a.y === b.y

/**
 * The circuit with a way along the grid for every wire that has none, because it is new or an end of it has moved: round
 * symbols, never along or into another net, crossing others seldom. Wires that lie along the grid stay as they are. Method:
 * shortest way on the grid by A* (P. E. Hart, N. J. Nilsson, B. Raphael, IEEE Trans. SSC-4, 1968, 100–107), with a price for
 * bends and crossings.
 */
export function withRoutes(circuit: Circuit): Circuit {
  const isLoose = (wire: Circuit['wires'][number]) => {
    const points = wirePoints(circuit, wire)
    return points !== null && !stretchesOf(points).every(isStraight)
  }
  const loose = circuit.wires.filter(isLoose)
  if (loose.length === 0) return circuit
  const nets = new NetMap(circuit)
  const boxes = circuit.parts.flatMap((part) => {
    const box = symbolBox(part)
    return box ? [{ id: part.id, box }] : []
  })
  const names = netBoxes(circuit)
  const lying = circuit.wires.filter((w) => !loose.includes(w))
  const stretches = lying.flatMap((wire) => {
    const net = nets.netAt(wire.ends[0])
    return stretchesOf(wirePoints(circuit, wire) ?? []).map((at) => ({ at, net }))
  })
  // A pin is where another wire will end, too.
  for (const net of nets.nets)
    for (const pin of nets.pinsOf(net)) {
      const at = endPoint(circuit, pin)
      if (at) stretches.push({ at: [at, at], net })
    }
  const length = (wire: Circuit['wires'][number]) => {
    const points = wirePoints(circuit, wire)!
    return distance(points[0], points.at(-1)!)
  }
  const bends = new Map<string, GridPoint[]>()
  // Short ones first: they have the fewest other ways.
  for (const wire of loose.toSorted((a, b) => length(a) - length(b))) {
    const points = wirePoints(circuit, wire)!
    const [from, to] = [points[0], points.at(-1)!]
    const net = nets.netAt(wire.ends[0])
    const others = stretches.flatMap((s) => (s.net === net ? [] : [s.at]))
    const [begin, end] = wire.ends.map((e) => pinDirection(circuit, e))
    const isOwn = (id: string) => wire.ends.some((e) => 'part' in e && e.part === id)
    const symbols = boxes.map(({ id, box }) => ({ box, own: isOwn(id) }))
    const way = shortest({ at: from, way: begin }, { at: to, way: end }, { symbols, names, others })
    bends.set(wire.id, way.slice(1, -1))
    stretches.push(...stretchesOf(way).map((at) => ({ at, net })))
  }
  return {
    ...circuit,
    wires: circuit.wires.map((wire) => {
      const found = bends.get(wire.id)
      if (!found) return wire
      const { bends: _before, ...bare } = wire
      return found.length > 0 ? { ...bare, bends: found } : bare
    }),
  }
}

interface Sheet {
  /** Those at the ends of the wire may be come near to. */
  readonly symbols: readonly { readonly box: Box; readonly own: boolean }[]
  readonly names: readonly Box[]
  /** Stretches of other nets. */
  readonly others: readonly Stretch[]
}

/** 0 lying, 1 standing, −1 either. */
type Way = 0 | 1 | -1

/** How a wire leaves a pin when it goes straight on; a junction is left in any direction. */
function pinDirection(circuit: Circuit, end: End): Way {
  if (!('part' in end)) return -1
  const part = circuit.parts.find((p) => p.id === end.part)!
  const [pin, box] = [endPoint(circuit, end)!, symbolBox(part)!]
  const beside = Math.min(Math.abs(pin.x - box.left), Math.abs(pin.x - box.right))
  return beside < Math.min(Math.abs(pin.y - box.top), Math.abs(pin.y - box.bottom)) ? 0 : 1
}

interface Step {
  readonly at: GridPoint
  readonly way: Way
  readonly price: number
  readonly estimate: number
  readonly before: Step | null
}

/** The cheapest way from point to point; where there is none, round one corner over whatever lies there. */
function shortest(begin: Pick<Step, 'at' | 'way'>, end: Pick<Step, 'at' | 'way'>, sheet: Sheet): GridPoint[] {
  const [from, to] = [begin.at, end.at]
  const [xs, ys] = gridLines(from, to, sheet)
  const open = new TinyQueue<Step>([], (a, b) => a.estimate - b.estimate)
  open.push({ ...begin, price: 0, estimate: distance(from, to), before: null })
  const settled = new Set<string>()
  const [firstX, firstY] = [indices(xs), indices(ys)]
  while (open.length > 0 && settled.size < MOST_PLACES) {
    const step = open.pop()!
    const { at, way } = step
    if (at.x === to.x && at.y === to.y) return corners(step)
    const key = `${at.x} ${at.y} ${way}`
    if (settled.has(key)) continue
    settled.add(key)
    const [i, j] = [firstX.get(at.x)!, firstY.get(at.y)!]
    for (const [x, y] of [
      [xs[i - 1], at.y],
      [xs[i + 1], at.y],
      [at.x, ys[j - 1]],
      [at.x, ys[j + 1]],
    ]) {
      if (x === undefined || y === undefined) continue
      const next = { x, y }
      const price = priceOf([at, next], sheet)
      if (price === null) continue
      const turned = y === at.y ? 0 : 1
      const bends = way !== -1 && way !== turned
      // A corner on another wire would look like a joint.
      if (bends && step.before && sheet.others.some((other) => looksJoined([at, at], other))) continue
      const askew = x === to.x && y === to.y && end.way !== -1 && end.way !== turned
      const sum = step.price + price + (bends ? PRICE.bend : 0) + (askew ? PRICE.bend : 0)
      open.push({ at: next, way: turned, price: sum, estimate: sum + distance(next, to), before: step })
    }
  }
  return isStraight([from, to]) ? [from, to] : [from, { x: to.x, y: from.y }, to]
}

/** What one stretch of the grid costs; null where it may not lie. */
function priceOf(stretch: Stretch, { symbols, names, others }: Sheet): number | null {
  const [a, b] = stretch
  if (symbols.some(({ box, own }) => runsThrough(stretch, box, own ? 0 : BESIDE))) return null
  let price = distance(a, b)
  if (symbols.some(({ box, own }) => own && runsThrough(stretch, box, BESIDE))) price += PRICE.beside * distance(a, b)
  for (const other of others) {
    if (!looksJoined(stretch, other)) continue
    if (isLying(stretch) === isLying(other) || isEndOf(a, other) || isEndOf(b, other)) return null
    // A wire is crossed at a line of the grid: the stretches before and behind it each count half.
    price += PRICE.crossing / 2
  }
  if (names.some((box) => runsThrough(stretch, box, 0))) price += PRICE.name * distance(a, b)
  return price
}

const runsThrough = ([a, b]: Stretch, { left, right, top, bottom }: Box, beside: number) =>
  Math.max(a.x, b.x) > left - beside &&
  Math.min(a.x, b.x) < right + beside &&
  Math.max(a.y, b.y) > top - beside &&
  Math.min(a.y, b.y) < bottom + beside

const isEndOf = (p: GridPoint, [a, b]: Stretch) => (p.x === a.x && p.y === a.y) || (p.x === b.x && p.y === b.y)

const isLying = ([a, b]: Stretch) => a.y === b.y

const distance = (a: GridPoint, b: GridPoint) => Math.abs(a.x - b.x) + Math.abs(a.y - b.y)

/** Every whole grid line that a way may use, and those on which something lies. */
function gridLines(from: GridPoint, to: GridPoint, { symbols, others }: Sheet): [number[], number[]] {
  const lines = (points: readonly number[], boxes: readonly number[]) => {
    const [low, high] = [...points, ...boxes].reduce(
      ([least, most], v) => [Math.min(least, v), Math.max(most, v)],
      [Infinity, -Infinity],
    )
    const first = Math.floor(low) - AROUND
    const whole = Array.from({ length: Math.ceil(high) + AROUND - first + 1 }, (_, k) => first + k)
    return [...new Set([...whole, ...points])].sort((a, b) => a - b)
  }
  const points = [from, to, ...others.flat()]
  return [
    lines(
      points.map((p) => p.x),
      symbols.flatMap(({ box }) => [box.left, box.right]),
    ),
    lines(
      points.map((p) => p.y),
      symbols.flatMap(({ box }) => [box.top, box.bottom]),
    ),
  ]
}

const indices = (lines: readonly number[]) => new Map(lines.map((v, k) => [v, k]))

/** The points where a way turns, its ends with them. */
function corners(last: Step): GridPoint[] {
  const points: GridPoint[] = []
  for (let step: Step | null = last; step; step = step.before) points.unshift(step.at)
  return points.filter((p, k) => {
    const [before, after] = [points[k - 1], points[k + 1]]
    return !before || !after || !((before.x === p.x && p.x === after.x) || (before.y === p.y && p.y === after.y))
  })
}
