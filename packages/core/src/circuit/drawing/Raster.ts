import TinyQueue from 'tinyqueue'
import type { Circuit, End, GridPoint } from '../circuit.js'
import type { NetMap } from '../NetMap.js'
import type { PlacedPin } from './pins.js'
import { type Box, endPoint, stretchesOf, symbolBox } from './geometry.js'
import { netBoxes } from './labels.js'

/** What a wire would rather not do, against one grid unit of its length. */
const PRICE = { bend: 3, crossing: 4, name: 2, beside: 1 } as const

/** Grid units that a wire stays away from the symbols of parts that it does not join. */
const BESIDE = 0.4

/** Grid units beyond everything that is drawn in which a wire may go round it. */
const AROUND = 4

/** Several nets, or symbols, at one place. */
const SEVERAL = -1

/** Lying or standing. */
type Way = 0 | 1

/** Where a way may begin or end; leading straight out of it in one direction, or in any (−1). */
export interface Terminal {
  readonly at: GridPoint
  readonly leads: Way | -1
}

interface Open {
  readonly state: number
  readonly price: number
  readonly estimate: number
}

/**
 * The lines of the grid with all that lies on them, as arrays: for the shortest ways of many wires. A place is where two
 * lines cross; a step is the stretch from a place to the next one to the right (lying) or down (standing). Method: A*
 * (P. E. Hart, N. J. Nilsson, B. Raphael, IEEE Trans. SSC-4, 1968, 100–107) with a price for bends and crossings.
 */
export class Raster {
  private readonly xs: readonly number[]
  private readonly ys: readonly number[]
  private readonly columns: ReadonlyMap<number, number>
  private readonly rows: ReadonlyMap<number, number>
  private readonly netNumbers = new Map<string | null, number>()
  private readonly partNumbers = new Map<string, number>()
  /** By way and step: the net that lies along it, 0 for none; likewise the symbol within reach, and the one it runs through. */
  private readonly along: readonly [Int32Array, Int32Array]
  private readonly near: readonly [Int32Array, Int32Array]
  private readonly through: readonly [Int32Array, Int32Array]
  private readonly named: readonly [Uint8Array, Uint8Array]
  /** By place: the net that ends or turns there. */
  private readonly ends: Int32Array
  /** By place and way, of the search that `run` names: what it costs to come there, and where from. */
  private readonly prices: Float64Array
  private readonly before: Int32Array
  private readonly run: Int32Array
  private asked = 0

  constructor(
    private readonly circuit: Circuit,
    nets: NetMap,
    pins: readonly PlacedPin[],
    lying: readonly { readonly points: readonly GridPoint[]; readonly net: string | null }[],
  ) {
    const symbols = circuit.parts.flatMap((part) => {
      const box = symbolBox(part)
      return box ? [{ id: part.id, box }] : []
    })
    const points = [
      ...lying.flatMap((d) => d.points),
      ...pins.map((p) => p.at),
      ...circuit.junctions.flatMap((j) => j.at ?? []),
    ]
    this.xs = lines(
      points.map((p) => p.x),
      symbols.flatMap(({ box }) => [box.left, box.right]),
    )
    this.ys = lines(
      points.map((p) => p.y),
      symbols.flatMap(({ box }) => [box.top, box.bottom]),
    )
    this.columns = new Map(this.xs.map((v, k) => [v, k]))
    this.rows = new Map(this.ys.map((v, k) => [v, k]))
    const places = this.xs.length * this.ys.length
    const pair = () => [new Int32Array(places), new Int32Array(places)] as const
    this.along = pair()
    this.near = pair()
    this.through = pair()
    this.named = [new Uint8Array(places), new Uint8Array(places)]
    this.ends = new Int32Array(places)
    this.prices = new Float64Array(2 * places)
    this.before = new Int32Array(2 * places)
    this.run = new Int32Array(2 * places)
    for (const { id, box } of symbols) {
      const number = this.partNumbers.size + 1
      this.partNumbers.set(id, number)
      this.mark(this.near, box, BESIDE, number, (a, b) => this.together(a, b))
      this.mark(this.through, box, 0, number)
    }
    for (const box of netBoxes(circuit)) this.mark(this.named, box, 0, 1)
    for (const { net, at } of pins) this.end(at, this.netNumber(net))
    for (const { at, id } of circuit.junctions) if (at) this.end(at, this.netNumber(nets.netAt({ junction: id })))
    for (const { points: way, net } of lying) this.lay(way, net)
  }

  /** Notes where words will stand: a wire goes through them for a price only. */
  leave(boxes: readonly Box[]): void {
    for (const box of boxes) this.mark(this.named, box, 0, 1)
  }

  /** Notes a way that a wire of a net takes. */
  lay(way: readonly GridPoint[], net: string | null): void {
    const number = this.netNumber(net)
    for (const [a, b] of stretchesOf(way)) {
      const lies: Way = a.y === b.y ? 0 : 1
      const [from, to] = [this.place(a), this.place(b)].sort((p, q) => p - q)
      const next = lies === 0 ? 1 : this.xs.length
      for (let p = from; p < to; p += next) put(this.along[lies], p, number)
    }
    for (const p of way) this.end(p, number)
  }

  /**
   * The cheapest way from point to point; null where there is none, or none for the price.
   *
   * @param ends what the wire joins
   * @param parts near to these it may come
   */
  shortest(
    from: GridPoint,
    to: GridPoint,
    ends: readonly End[],
    parts: readonly string[],
    net: string | null,
    dearest: number,
  ): GridPoint[] | null {
    if (this.place(from) === this.place(to)) return [from, to]
    const [begin, end] = ends.map((e) => this.directionOf(e))
    return this.between([{ at: from, leads: begin }], [{ at: to, leads: end }], parts, net, dearest)
  }

  /**
   * The cheapest way from one of several places to one of several others; null where there is none, or none for the price.
   *
   * @param parts near to these it may come
   */
  between(
    starts: readonly Terminal[],
    goals: readonly Terminal[],
    parts: readonly string[],
    net: string | null,
    dearest: number,
  ): GridPoint[] | null {
    const width = this.xs.length
    const own = parts.map((id) => this.partNumbers.get(id) ?? 0)
    const number = this.netNumber(net)
    const { prices, before, run } = this
    const ask = ++this.asked
    const priceOf = (state: number) => (run[state] === ask ? prices[state] : Infinity)
    const open = new TinyQueue<Open>([], (a, b) => a.estimate - b.estimate)
    // Where another wire crosses, a new end would look like a joint with it.
    const aims = new Map(
      goals.map(({ at, leads }) => [this.place(at), leads] as const).filter(([place]) => !this.liesOn(place, number)),
    )
    const reach = boundsOf(goals)
    const remaining = (place: number) => {
      const [x, y] = [this.xs[place % width], this.ys[Math.floor(place / width)]]
      return Math.max(reach.left - x, 0, x - reach.right) + Math.max(reach.top - y, 0, y - reach.bottom)
    }
    const come = (state: number, price: number, last: number) => {
      if (price >= priceOf(state) || price > dearest) return
      run[state] = ask
      prices[state] = price
      before[state] = last
      open.push({ state, price, estimate: price + remaining(state >> 1) })
    }
    for (const { at, leads } of starts) {
      const place = this.place(at)
      if (this.liesOn(place, number)) continue
      for (const way of [0, 1]) come(2 * place + way, leads === -1 || leads === way ? 0 : PRICE.bend, -1)
    }
    while (open.length > 0) {
      const { state, price } = open.pop()!
      if (price > priceOf(state)) continue
      const [place, way] = [state >> 1, (state & 1) as Way]
      if (aims.has(place)) return this.corners(state, before)
      const isStart = before[state] === -1
      // A corner on another wire would look like a joint; the bend at the start is paid for there.
      const mayTurn = !isStart && !this.liesOn(place, number)
      for (const turned of [0, 1] as const) {
        if (turned !== way && !mayTurn) continue
        for (const onwards of [true, false]) {
          const next = this.beside(place, turned, onwards)
          if (next < 0) continue
          const cost = this.priceOf(Math.min(place, next), next, turned, number, own)
          if (cost === null) continue
          const bends = turned !== way ? PRICE.bend : 0
          const leads = aims.get(next)
          const askew = leads !== undefined && leads !== -1 && leads !== turned ? PRICE.bend : 0
          come(2 * next + turned, price + cost + bends + askew, state)
        }
      }
    }
    return null
  }

  /**
   * Whether a wire of a net may take a way, from corner to corner.
   *
   * @param parts near to these it may come
   */
  isOpen(way: readonly GridPoint[], parts: readonly string[], net: string | null): boolean {
    const own = parts.map((id) => this.partNumbers.get(id) ?? 0)
    const number = this.netNumber(net)
    if (way.some((p) => !this.columns.has(p.x) || !this.rows.has(p.y) || this.liesOn(this.place(p), number)))
      return false
    return stretchesOf(way).every(([a, b]) => {
      const lies: Way = a.y === b.y ? 0 : 1
      const onwards = this.place(b) > this.place(a)
      for (let place = this.place(a); place !== this.place(b);) {
        const next = this.beside(place, lies, onwards)
        if (this.priceOf(Math.min(place, next), next, lies, number, own) === null) return false
        place = next
      }
      return true
    })
  }

  /** What a step costs; null where it may not be taken. */
  private priceOf(step: number, to: number, way: Way, net: number, own: readonly number[]): number | null {
    const through = this.through[way][step]
    if (through !== 0) return null
    const near = this.near[way][step]
    if (near !== 0 && !(near > 0 ? own.includes(near) : this.sets[-near - 2].every((n) => own.includes(n)))) return null
    const along = this.along[way][step]
    if (along !== 0 && along !== net) return null
    const ends = this.ends[to]
    if (ends !== 0 && ends !== net) return null
    const length =
      way === 0 ? this.xs[(step % this.xs.length) + 1] - this.xs[step % this.xs.length] : this.heightOf(step)
    let price = length * (1 + (near !== 0 ? PRICE.beside : 0) + (this.named[way][step] !== 0 ? PRICE.name : 0))
    if (this.crosses(to, way, net)) price += PRICE.crossing
    return price
  }

  private heightOf(step: number): number {
    const row = Math.floor(step / this.xs.length)
    return this.ys[row + 1] - this.ys[row]
  }

  /** Whether another net runs straight over a place, the other way. */
  private crosses(place: number, way: Way, net: number): boolean {
    const across = this.along[way === 0 ? 1 : 0]
    const back = way === 0 ? this.xs.length : 1
    const [one, two] = [across[place], place >= back ? across[place - back] : 0]
    return (one !== 0 && one !== net) || (two !== 0 && two !== net)
  }

  /** Whether another net lies on a place in any way. */
  private liesOn(place: number, net: number): boolean {
    return this.crosses(place, 0, net) || this.crosses(place, 1, net)
  }

  /** The next place; −1 beyond the last line. */
  private beside(place: number, way: Way, onwards: boolean): number {
    const width = this.xs.length
    if (way === 0) {
      const column = place % width
      return onwards ? (column + 1 < width ? place + 1 : -1) : column > 0 ? place - 1 : -1
    }
    return onwards ? (place + width < this.ends.length ? place + width : -1) : place >= width ? place - width : -1
  }

  private corners(last: number, before: Int32Array): GridPoint[] {
    const width = this.xs.length
    const points: GridPoint[] = []
    for (let state = last; state >= 0; state = before[state]) {
      const place = state >> 1
      points.unshift({ x: this.xs[place % width], y: this.ys[Math.floor(place / width)] })
    }
    return points.filter((p, k) => {
      const [a, b] = [points[k - 1], points[k + 1]]
      return !a || !b || !((a.x === p.x && p.x === b.x) || (a.y === p.y && p.y === b.y))
    })
  }

  /** How a wire leaves a pin when it goes straight on; −1 for a junction, which is left in any direction. */
  directionOf(end: End): Way | -1 {
    if (!('part' in end)) return -1
    const part = this.circuit.parts.find((p) => p.id === end.part)!
    const [pin, box] = [endPoint(this.circuit, end)!, symbolBox(part)!]
    const beside = Math.min(Math.abs(pin.x - box.left), Math.abs(pin.x - box.right))
    return beside < Math.min(Math.abs(pin.y - box.top), Math.abs(pin.y - box.bottom)) ? 0 : 1
  }

  private place({ x, y }: GridPoint): number {
    return this.rows.get(y)! * this.xs.length + this.columns.get(x)!
  }

  private end(at: GridPoint, net: number): void {
    put(this.ends, this.place(at), net)
  }

  private netNumber(net: string | null): number {
    const known = this.netNumbers.get(net)
    if (known !== undefined) return known
    const number = this.netNumbers.size + 1
    this.netNumbers.set(net, number)
    return number
  }

  /** The symbols that are near to a step that several are near to: by −2, −3, … */
  private readonly sets: number[][] = []
  private readonly setNumbers = new Map<string, number>()

  /** One number for what two numbers stand for. */
  private together(a: number, b: number): number {
    const members = [...new Set([a, b].flatMap((n) => (n > 0 ? [n] : this.sets[-n - 2])))].sort((p, q) => p - q)
    const key = members.join(' ')
    let number = this.setNumbers.get(key)
    if (number === undefined) {
      number = -1 - this.sets.push(members)
      this.setNumbers.set(key, number)
    }
    return number
  }

  /** Notes a box, with some air, on all steps that run through it. */
  private mark(
    on: readonly [Int32Array | Uint8Array, Int32Array | Uint8Array],
    box: Box,
    air: number,
    number: number,
    both?: (a: number, b: number) => number,
  ) {
    const [left, right] = [box.left - air, box.right + air]
    const [top, bottom] = [box.top - air, box.bottom + air]
    const { xs, ys } = this
    const [column, row] = [firstAbove(xs, left), firstAbove(ys, top)]
    for (let j = row; j < ys.length && ys[j] < bottom; j++)
      for (let i = Math.max(0, column - 1); i + 1 < xs.length && xs[i] < right; i++)
        put(on[0], j * xs.length + i, number, both)
    for (let i = column; i < xs.length && xs[i] < right; i++)
      for (let j = Math.max(0, row - 1); j + 1 < ys.length && ys[j] < bottom; j++)
        put(on[1], j * xs.length + i, number, both)
  }
}

function put(
  on: Int32Array | Uint8Array,
  at: number,
  number: number,
  both: (a: number, b: number) => number = () => SEVERAL,
): void {
  on[at] = on[at] === 0 || on[at] === number ? number : both(on[at], number)
}

function boundsOf(terminals: readonly Terminal[]): Box {
  const [xs, ys] = [terminals.map((t) => t.at.x), terminals.map((t) => t.at.y)]
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) }
}

/** The index of the first line beyond a value. */
function firstAbove(lines: readonly number[], value: number): number {
  let [low, high] = [0, lines.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (lines[middle] > value) high = middle
    else low = middle + 1
  }
  return low
}

/** Every whole grid line that a way may use, and those on which something lies, ascending. */
function lines(points: readonly number[], edges: readonly number[]): number[] {
  const [low, high] = [...points, ...edges].reduce(
    ([least, most], v) => [Math.min(least, v), Math.max(most, v)],
    [Infinity, -Infinity],
  )
  const first = Math.floor(low) - AROUND
  const whole = Array.from({ length: Math.ceil(high) + AROUND - first + 1 }, (_, k) => first + k)
  return [...new Set([...whole, ...points])].sort((a, b) => a - b)
}
