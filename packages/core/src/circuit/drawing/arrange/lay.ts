import type { GridPoint, Part } from '../../circuit.js'
import { Boxes } from '../Boxes.js'
import { around, type Box, type Facing, pinAt } from '../geometry.js'
import { bodyOf } from './bodies.js'
import { Group, isFree, type Line, type Taken } from './Group.js'
import { hung, placeOf, put, take } from './hang.js'
import { type Actor, groupBy, type Lane, type Order, orderOf, type PinOf, type Step } from './order.js'
import type { Hanging, Link, Member, Sketch } from './Sketch.js'

/** Grid units between a body and what hangs beside it, and room for a wire that leaves a net's line. */
const BESIDE = 2
const RISER = 1

/** Air above and below what belongs to different nets: their pins must not meet. */
const APART = 0.2

/** How far a lane or a bridge is looked a free height for. */
const FARTHEST = 240

/** Grid units that a lane rather lies farther below than above. */
const ABOVE = 3

/** Grid units from a line to the nearest bridge over it. */
const OVER = 3

/** How far from the middle of its ends a bridge is tried. */
const ASIDE = [0, 1, -1, 2, -2, 3, -3, 4, -4, 5, -5, 6, -6]

/** What a bridge would rather not do, against a grid unit of height. */
const PRICE = { below: 8, bend: 7, through: 12, across: 4, words: 1 } as const

/** So often a lane is made longer for what leads past it. */
const ROUNDS = 8

type Cursor = GridPoint & { readonly faces: Facing }

/** Everything in its place. */
export function lay(sketch: Sketch, textOf: (part: Part) => string | null): Group {
  const order = orderOf(sketch)
  const stretches = new Map<string, number>()
  for (let round = 1; ; round++) {
    const laying = new Laying(sketch, order, textOf, stretches)
    laying.run()
    if (laying.missing.size === 0 || round === ROUNDS) {
      laying.finish()
      return laying.board
    }
    for (const [net, by] of laying.missing) stretches.set(net, (stretches.get(net) ?? 0) + by)
  }
}

class Laying {
  readonly board: Group
  /** Nets that must begin farther right, and by how much. */
  readonly missing = new Map<string, number>()
  private readonly taken = new Boxes<Taken>()
  private readonly lines = new Map<string, Line>()
  /** Nets that lie at a pin of some actor alone. */
  private readonly atPins: ReadonlySet<string>
  /** Nets from which more leads than a lane and what hangs. */
  private readonly branching: ReadonlySet<string>

  constructor(
    private readonly sketch: Sketch,
    private readonly order: Order,
    textOf: (part: Part) => string | null,
    private readonly stretches: ReadonlyMap<string, number>,
  ) {
    this.board = new Group(sketch, textOf)
    const onDevices = new Set(
      [...sketch.devices, ...sketch.pairs.flatMap(({ left, right }) => [left, right])].flatMap((m) => [
        ...m.nets.values(),
      ]),
    )
    this.atPins = new Set(
      order.lanes.flatMap(({ steps, nets }) => (steps.length === 0 && onDevices.has(nets[0]) ? nets : [])),
    )
    const ends = order.lanes
      .slice(1)
      .flatMap(({ steps, nets }) => [
        ...(steps[0]?.to === nets[0] ? [steps[0].from] : []),
        ...(steps.length > 0 && steps.at(-1)!.from === nets.at(-1) ? [steps.at(-1)!.to] : []),
      ])
    this.branching = new Set([...ends, ...order.bridges.flatMap((a) => a.members.flatMap((m) => [...m.nets.values()]))])
  }

  run(): void {
    for (const lane of this.order.lanes)
      for (let rest: Lane | null = lane; rest;) {
        const [next, after] = this.untilPlaced(rest)
        if (next.nets.length + next.steps.length > 0) this.place(next, this.laneOf(next))
        rest = after
      }
  }

  /** A lane as far as a net that has its line already, at a pair's tail or a pin; and what goes on from there. */
  private untilPlaced({ nets, steps }: Lane): [Lane, Lane | null] {
    const k = nets.findIndex((net) => this.lines.has(net))
    if (k < 0) return [{ nets, steps }, null]
    const from = steps.findIndex((s) => s.from === nets[k])
    const before = from < 0 ? steps : steps.slice(0, from)
    const after = from < 0 ? [] : steps.slice(from)
    const rest = { nets: nets.slice(k + 1), steps: after }
    return [{ nets: nets.slice(0, k), steps: before }, rest.nets.length + after.length > 0 ? rest : null]
  }

  /** Bridges, and what hangs together with nothing. */
  finish(): void {
    const [links, others] = [this.order.bridges.filter((a) => a.link), this.order.bridges.filter((a) => !a.link)]
    for (const actor of others) this.placeAlone(actor)
    const spans = links.map(({ link }) => ({ link: link!, columns: this.columnsOf(...this.endsOf(link!)) }))
    const columns = new Set(spans.flatMap((s) => s.columns))
    const length = ([from, to]: readonly [number, number]) => Math.abs(to - from)
    for (const { link } of spans.toSorted((a, b) => length(a.columns) - length(b.columns))) this.bridge(link, columns)
    this.islands()
    for (const member of this.sketch.members.values())
      if (!this.board.places.has(member.part.id) && member.nets.size > 0)
        this.placeAlone({ id: member.part.id, members: [member] })
  }

  /** A lane as it lies by itself, from the origin. */
  private laneOf({ nets, steps }: Lane) {
    const group = this.board.empty()
    const taken = new Boxes<Taken>()
    let cursor: Cursor = { x: 0, y: 0, faces: 'right' }
    const begins = steps.length > 0 && steps[0].from !== nets[0]
    const next = [...steps]
    const cover = (box: Taken) => {
      taken.insert(box)
      group.boxes.push(box)
    }
    const pass = (step: Step, right: number, y: number) => {
      const body = this.bodyWith(step.actor, step.entry, step.exit)
      const entry = body.pin(step.entry.part, step.entry.pin)!
      // Upright what follows may meet what comes before.
      const isBeside = cursor.faces === 'left' || cursor.faces === 'right'
      const by = put(group, taken, body, { x: right - entry.x, y: y - entry.y }, isBeside ? APART : 0)
      cover({ ...lineBox({ net: step.from, y, left: right, right: entry.x + by.x }), net: step.from })
      const exit = body.pin(step.exit.part, step.exit.pin)!
      cursor = { ...exit, x: exit.x + by.x, y: exit.y + by.y }
      if (!step.actor.pair) return
      // What goes out on a pair's left leaves it on the right nevertheless.
      const edge = body.boxes.reduce((most, b) => (b.words ? most : Math.max(most, b.right)), 0) + by.x + RISER
      const out = cursor.y + (exit.faces === 'up' ? -1 : 1)
      cover({ ...lineBox({ net: step.to, y: out, left: cursor.x, right: edge }), net: step.to })
      cursor = { x: Math.ceil(edge), y: out, faces: 'right' }
    }
    if (begins) pass(next.shift()!, 0, 0)
    nets.forEach((net, k) => {
      const isStart = k === 0 && !begins
      const line = this.netLine(group, taken, net, cursor, isStart, next.length > 0)
      const step = next.shift()
      if (step) pass(step, line.right, line.y)
    })
    return { group, end: cursor }
  }

  /** A net's line with what hangs from it; `right` is where what follows may begin. */
  private netLine(
    group: Group,
    taken: Boxes<Taken>,
    net: string,
    cursor: Cursor,
    isStart: boolean,
    goesOn: boolean,
  ): { y: number; right: number } {
    const { faces } = cursor
    const isUpright = faces === 'up' || faces === 'down'
    const y = faces === 'up' ? cursor.y - 1 : faces === 'down' ? cursor.y + 1 : cursor.y
    const left = cursor.x + (this.stretches.get(net) ?? 0)
    const room = this.branching.has(net) ? RISER : 0
    let right = left
    const byWay = groupBy(this.hangingsOf(net), (h) => this.sketch.wayOf(h))
    for (const [way, hangings] of byWay) {
      let x = isStart || (isUpright && way === faces && left === cursor.x) ? left : left + BESIDE + (isStart ? 0 : room)
      for (const hanging of hangings) {
        x = put(group, taken, hung(this.sketch, group, hanging, way), { x, y }).x
        right = Math.max(right, x)
        x += BESIDE
      }
    }
    const isEmpty = byWay.size === 0
    if (!goesOn && net === this.sketch.output) right = Math.max(right + BESIDE, left + BESIDE)
    // What rises from the line does not do so at the very pin that it begins at.
    const first = left + (isStart || isUpright ? 0 : room)
    const line = { net, y, left: first, right: Math.max(first, goesOn ? right + room * (isEmpty ? 1 : BESIDE) : right) }
    group.lines.push(line)
    const box = { ...lineBox({ ...line, left: cursor.x }), net }
    taken.insert(box)
    group.boxes.push(box)
    return { y, right: right + (isEmpty ? (isUpright ? 0 : 1) + 2 * room : BESIDE + room) }
  }

  /** Sources first: there the signal begins. */
  private hangingsOf(net: string): readonly Hanging[] {
    return this.sketch.hangingOf(net).toSorted((a, b) => Number(isSource(b)) - Number(isSource(a)))
  }

  /** A body with the nets that lie at its pins alone, and what hangs from them. */
  private bodyWith(actor: Actor, entry: PinOf | null, exit: PinOf | null): Group {
    const body = bodyOf(this.sketch, this.board, actor, entry, exit, (net) => this.lines.has(net))
    const taken = new Boxes<Taken>(body.boxes)
    const done = new Set(body.lines.map((l) => l.net))
    for (const { part, nets } of actor.link ? [] : actor.members)
      for (const [pin, net] of nets) {
        if (!this.atPins.has(net) || done.has(net) || this.lines.has(net)) continue
        if ((pin === entry?.pin && part.id === entry.part) || (pin === exit?.pin && part.id === exit.part)) continue
        done.add(net)
        const at = pinAt(part, body.places.get(part.id)!, pin)
        const isUpright = at.faces === 'up' || at.faces === 'down'
        const onwards = at.faces === 'left' ? -1 : 1
        const y = at.faces === 'up' ? at.y - 1 : at.faces === 'down' ? at.y + 1 : at.y
        let [left, right] = [at.x, at.x]
        for (const [way, hangings] of groupBy(this.hangingsOf(net), (h) => this.sketch.wayOf(h))) {
          let x = isUpright && way === at.faces ? at.x : at.x + onwards * BESIDE
          for (const hanging of hangings) {
            const own = hung(this.sketch, body, hanging, way)
            while (!isFree(taken, own.boxes, { x, y }) && Math.abs(x - at.x) < FARTHEST) x += onwards
            take(body, taken, own, { x, y })
            left = Math.min(left, x)
            right = Math.max(right, x)
            x += onwards * BESIDE
          }
        }
        body.lines.push({ net, y, left, right })
        body.boxes.push({ ...lineBox({ net, y, left: left - WIRE, right: right + WIRE }), net })
      }
    return body
  }

  private place(lane: Lane, { group, end }: { group: Group; end: Cursor }): void {
    const { steps, nets } = lane
    const from = steps.length > 0 && steps[0].from !== nets[0] ? this.lines.get(steps[0].from) : undefined
    const last = steps.at(-1)
    const to = last && last.to !== nets.at(-1) ? this.lines.get(last.to) : undefined
    if (this.lines.size === 0) return this.settle(group, { x: 0, y: 0 })
    const anchor = from || nets.length === 0 ? null : this.anchorOf(nets[0])
    let x = from ? from.right + RISER : anchor ? anchor.x + BESIDE : to ? to.left - end.x : this.leftmost()
    if (to) {
      const spare = to.left - (x + end.x)
      if (spare < 0 && from) this.missing.set(to.net, Math.max(this.missing.get(to.net) ?? 0, -spare))
      else if (spare > 0 && from) x += Math.floor(spare / 2)
    }
    const near = from?.y ?? anchor?.y ?? to?.y
    const wanted = near ?? this.lowest() + OVER
    for (let far = 0; far < FARTHEST; far++)
      for (const y of [wanted + far, ...(far > ABOVE ? [wanted - far + ABOVE] : [])])
        if (isFree(this.taken, group.boxes, { x, y }, APART)) return this.settle(group, { x, y })
    this.settle(group, { x, y: this.lowest() + FARTHEST })
  }

  /** A pin of something that has its place, from which a net goes on. */
  private anchorOf(net: string): GridPoint | null {
    for (const { part, pin } of this.sketch.nets.pinsOf(net)) {
      const at = this.board.pin(part, pin)
      if (at) return at
    }
    return null
  }

  private settle(group: Group, by: GridPoint): void {
    take(this.board, this.taken, group, by)
    for (const line of group.lines)
      this.lines.set(line.net, { ...line, y: line.y + by.y, left: line.left + by.x, right: line.right + by.x })
  }

  private bounds(): Box {
    return this.board.boxes.length === 0 ? { left: 0, right: 0, top: 0, bottom: 0 } : this.board.boxes.reduce(around)
  }

  private readonly lowest = () => Math.ceil(this.bounds().bottom)
  private readonly leftmost = () => Math.floor(this.bounds().left)

  private placeAlone(actor: Actor): void {
    const body = this.bodyWith(actor, null, null)
    const ends = actor.members.flatMap((m) => [...m.nets.values()]).flatMap((net) => this.lines.get(net) ?? [])
    const middle = (of: (l: Line) => number) => Math.round(ends.reduce((sum, l) => sum + of(l), 0) / ends.length)
    const [x, y] =
      ends.length > 0 ? [middle((l) => l.right), middle((l) => l.y)] : [this.leftmost(), this.lowest() + 2 * OVER]
    for (let far = 0; far < FARTHEST; far++)
      for (const dy of far === 0 ? [0] : [far, -far])
        for (const dx of [0, far, -far])
          if (isFree(this.taken, body.boxes, { x: x + dx, y: y + dy }, 2 * APART))
            return this.settle(body, { x: x + dx, y: y + dy })
  }

  /** From which line to which a link leads, the left one first. */
  private endsOf(link: Link): [Line, Line] {
    const [a, b] = link.ends.map((pin) => this.lines.get(link.nets.get(pin)!)!)
    return a.left + a.right <= b.left + b.right ? [a, b] : [b, a]
  }

  /** Where wires rise from two lines: between them; where they lie over each other, beside both. */
  private columnsOf(a: Line, b: Line): readonly [number, number] {
    return a.right < b.left ? [a.right, b.left] : [Math.min(a.right, b.right), Math.max(a.left, b.left)]
  }

  /**
   * A link between two lines, on the free height that leads least far round.
   *
   * @param columns where wires of bridges rise: no link lies there
   */
  private bridge(link: Link, columns: ReadonlySet<number>): void {
    const [a, b] = this.endsOf(link)
    const pinOn = (net: string) => (link.nets.get(link.ends[0]) === net ? link.ends[0] : link.ends[1])
    const { at, to } = placeOf(link, pinOn(a.net), pinOn(b.net), 'right')
    const own = this.board.empty()
    own.add(link, at)
    const [x1, x2] = this.columnsOf(a, b)
    const middle = Math.round((x1 + x2 - to.x) / 2)
    const others = [...columns].filter((x) => x !== x1 && x !== x2)
    const inTheWay = (from: number, until: number) => others.some((x) => x > from && x < until)
    let best: { by: GridPoint; price: number } | null = null
    const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)]
    for (let far = OVER; far < FARTHEST && !(best && best.price < 2 * far); far++)
      for (const y of [top - far, bottom + far, ...(top + far < bottom - OVER ? [top + far] : [])])
        for (const aside of ASIDE) {
          const by = { x: middle + aside, y }
          if (aside !== 0 && Math.abs(aside) * 2 > Math.max(2, x2 - x1 - to.x)) continue
          if (!isFree(this.taken, own.boxes, by, APART)) continue
          const ways = [
            { ...upright(x1, a.y, y), net: a.net },
            { ...upright(x2, b.y, y), net: b.net },
            { ...lying(x1, by.x, y), net: a.net },
            { ...lying(by.x + to.x, x2, y), net: b.net },
          ]
          const price =
            Math.abs(y - a.y) +
            Math.abs(y - b.y) +
            Math.abs(aside) / 2 +
            (inTheWay(by.x - 1, by.x + to.x + 1) ? PRICE.across : 0) +
            (y > top && a.y - b.y < OVER ? PRICE.below : 0) +
            this.bendsOf(a, x1, y) +
            this.bendsOf(b, x2, y) +
            ways.reduce((sum, way) => sum + this.hindrance(way), 0)
          if (!best || price < best.price) best = { by, price }
        }
    const { by } = best ?? { by: { x: middle, y: this.lowest() + OVER } }
    this.settle(own, by)
    // The wires leave where the lines are nearest to each other: their risers are what others of the net join.
    this.board.ways.push(
      {
        net: a.net,
        points: [
          { x: by.x, y: by.y },
          { x: x1, y: by.y },
          { x: x1, y: a.y },
        ],
      },
      {
        net: b.net,
        points: [
          { x: by.x + to.x, y: by.y },
          { x: x2, y: by.y },
          { x: x2, y: b.y },
        ],
      },
    )
    const along = [
      { ...lying(x1, by.x, by.y), net: a.net },
      { ...lying(by.x + to.x, x2, by.y), net: b.net },
    ]
    for (const way of [{ ...upright(x1, a.y, by.y), net: a.net }, { ...upright(x2, b.y, by.y), net: b.net }, ...along])
      this.ways.insert(way)
    this.risers.add(riserOf(a, x1, by.y)).add(riserOf(b, x2, by.y))
    this.board.boxes.push(...along)
    this.taken.load(along)
  }

  private readonly risers = new Set<string>()

  /** A wire that rises from a line bends, unless another one of the net rises there already. */
  private bendsOf(line: Line, x: number, y: number): number {
    return line.y === y || this.risers.has(riserOf(line, x, y)) ? 0 : PRICE.bend
  }

  private readonly ways = new Boxes<Box & { net: string }>()

  /** What a wire would run through or across. */
  private hindrance(way: Box & { net: string }): number {
    const wires = this.ways.on(way).filter((w) => w.net !== way.net)
    const others = this.taken.on(way)
    const of = (test: (box: Taken) => boolean) => others.filter(test).length
    return (
      PRICE.across * (wires.length + of((b) => b.net !== undefined && b.net !== way.net)) +
      PRICE.words * of((b) => b.words === true) +
      PRICE.through * of((b) => !b.words && b.net === undefined)
    )
  }

  /** What lies between rails, what is joined by name, and parts that nothing is joined to: on the left. */
  private islands(): void {
    const { sketch } = this
    const groups: Group[] = []
    const apart = (member: Member): Group => {
      const group = this.board.empty()
      const pins = [...member.nets.keys()]
      const rails = pins.map((pin) => sketch.rails.get(member.nets.get(pin)!))
      const [upper, lower] = rails[0] === 'down' && rails[1] === 'up' ? [pins[1], pins[0]] : pins
      if (pins.length === 2) {
        // The live end of a source is above, even where it is below ground's voltage.
        const isGround = member.nets.get(upper) === '0'
        const [from, to] = isGround ? [lower, upper] : [upper, lower]
        group.add(member, placeOf({ ...member, ends: [from, to] }, from, to, 'down').at)
      } else group.add(member, { x: 0, y: 0, rotation: 0 })
      return group
    }
    for (const member of sketch.apart) groups.push(apart(member))
    for (const net of sketch.named) {
      const group = this.board.empty()
      this.netLine(group, new Boxes<Taken>(), net, { x: 0, y: 0, faces: 'right' }, true, false)
      if (group.places.size > 0) groups.push(group)
    }
    const height = this.lines.get(sketch.input ?? '')?.y ?? 0
    let right = this.leftmost() - 1
    for (const group of groups) {
      const box = group.boxes.reduce(around)
      const by = { x: Math.floor(right - box.right), y: height }
      this.settle(group, by)
      right = Math.floor(by.x + box.left) - 2
    }
  }
}

const isSource = ({ link: { part } }: Hanging) => part.kind === 'voltage-source' || part.kind === 'current-source'

const riserOf = (line: Line, x: number, y: number) => `${line.net} ${x} ${y < line.y ? 'up' : 'down'}`

/** Half of what a wire needs beside it. */
const WIRE = 0.4

const lineBox = ({ left, right, y }: Line): Box => ({ left, right, top: y - WIRE, bottom: y + WIRE })
const lying = (a: number, b: number, y: number): Box =>
  lineBox({ net: '', left: Math.min(a, b), right: Math.max(a, b), y })
const upright = (x: number, a: number, b: number): Box => ({
  left: x - WIRE,
  right: x + WIRE,
  top: Math.min(a, b) + WIRE,
  bottom: Math.max(a, b) - WIRE,
})
