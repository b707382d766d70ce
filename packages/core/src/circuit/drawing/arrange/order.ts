import { partKind, partShape } from '../../parts/index.js'
import { membersOf, type Pair } from './figures.js'
import type { Link, Member, Sketch } from './Sketch.js'

/** Something that a signal takes its way through. */
export interface Actor {
  readonly id: string
  readonly members: readonly Member[]
  readonly link?: Link
  readonly pair?: Pair
}

/** A pin of one of an actor's parts. */
export interface PinOf {
  readonly part: string
  readonly pin: string
}

/** A way through an actor from net to net. */
export interface Step {
  readonly actor: Actor
  readonly from: string
  readonly to: string
  readonly entry: PinOf
  readonly exit: PinOf
}

/** A line of nets with what lies between them; its first and its last step may come from, and lead to, nets of other lanes. */
export interface Lane {
  readonly nets: readonly string[]
  readonly steps: readonly Step[]
}

export interface Order {
  /** The main one first, each after those that it begins or ends at. */
  readonly lanes: readonly Lane[]
  /** What lies between two nets and in no lane. */
  readonly bridges: readonly Actor[]
  /** By the nets, from left to right. */
  readonly rank: ReadonlyMap<string, number>
}

/** A device is preferred to a link beside it. */
const WEIGHT = { device: 3, link: 1 } as const

/** The lanes of a circuit: its longest way from the input to the output, then what else is left. */
export function orderOf(sketch: Sketch): Order {
  const actors: Actor[] = [
    ...sketch.links.map((link) => ({ id: link.part.id, members: [link], link })),
    ...sketch.devices.map((member) => ({ id: member.part.id, members: [member] })),
    ...sketch.pairs.map((pair) => ({
      id: `${pair.left.part.id} ${pair.right.part.id}`,
      members: membersOf(pair),
      pair,
    })),
  ]
  const isWire = (net: string | undefined): net is string => net !== undefined && !sketch.isSymbol(net)
  const nets = [
    ...new Set([...actors.flatMap((a) => a.members.flatMap((m) => [...m.nets.values()])), ...sketch.hanging.keys()]),
  ].filter(isWire)
  const ways = actors.map((actor) =>
    waysOf(sketch, actor).filter((s) => isWire(s.from) && isWire(s.to) && s.from !== s.to),
  )
  const driven = new Set(
    sketch.devices.flatMap((m) => (partShape(m.part).flow?.out ?? []).flatMap((pin) => m.nets.get(pin) ?? [])),
  )
  const distances = distancesFrom(sketch, nets, ways.flat(), driven)
  const back = distancesBack(sketch.output, ways.flat())
  const isForward = ({ from, to, actor }: Step) => {
    if (!isBothWays(actor)) return true
    if (driven.has(to)) return false
    const [a, b] = [distances.get(from)!, distances.get(to)!]
    if (a !== b) return a < b
    const [c, d] = [back.get(from) ?? Infinity, back.get(to) ?? Infinity]
    return c !== d ? c > d : nets.indexOf(from) < nets.indexOf(to)
  }
  const steps = withoutCircles(nets, ways.flat().filter(isForward), distances)
  const rank = ranksOf(nets, steps)
  const lanes = lanesOf(sketch, nets, steps, rank)
  const used = new Set(lanes.flatMap((lane) => lane.steps.map((s) => s.actor)))
  return { lanes, bridges: actors.filter((a) => !used.has(a)), rank }
}

/** Whether a signal passes an actor in any direction. */
const isBothWays = ({ link, pair, members: [{ part }] }: Actor): boolean => !pair && (!!link || !hasFlow(part))

const hasFlow = (part: Member['part']) =>
  partShape(part).flow !== undefined || partKind(part.kind).grows?.across !== undefined

function waysOf(sketch: Sketch, actor: Actor): Step[] {
  const { link, pair, members } = actor
  const step = (from: readonly [Member, string], to: readonly [Member, string]): Step[] => {
    const [a, b] = [from, to].map(([m, pin]) => m.nets.get(pin))
    if (a === undefined || b === undefined) return []
    const [entry, exit] = [from, to].map(([m, pin]) => ({ part: m.part.id, pin }))
    return [{ actor, from: a, to: b, entry, exit }]
  }
  if (pair) {
    const both = [pair.left, pair.right]
    return both.flatMap((m) => {
      const { control } = sketch.transistor(m)!
      // From each input to the other's end first: that is what a pair is for.
      return [...both]
        .sort((a) => (a === m ? 1 : -1))
        .flatMap((other) => step([m, control], [other, sketch.transistor(other)!.drain]))
    })
  }
  const [member] = members
  if (link)
    return [
      ...step([member, link.ends[0]], [member, link.ends[1]]),
      ...step([member, link.ends[1]], [member, link.ends[0]]),
    ]
  const transistor = sketch.transistor(member)
  if (transistor) {
    const { control, drain, source } = transistor
    return [
      ...step([member, control], [member, drain]),
      ...step([member, control], [member, source]),
      ...step([member, source], [member, drain]),
    ]
  }
  const { flow, pins } = partShape(member.part)
  if (flow && flow.in.length > 0 && flow.out.length > 0)
    return flow.in.flatMap((a) => flow.out.flatMap((b) => step([member, a], [member, b])))
  return pins.flatMap((a) => pins.flatMap((b) => (a === b ? [] : step([member, a], [member, b]))))
}

/** Steps from the input to each net, never over a link into a net that an output drives, where there is another way. */
function distancesFrom(
  sketch: Sketch,
  nets: readonly string[],
  ways: readonly Step[],
  driven: ReadonlySet<string>,
): Map<string, number> {
  const leaving = groupBy(ways, (s) => s.from)
  const found = new Map<string, number>()
  const spread = (start: string) => {
    const queue = [start]
    for (let k = 0; k < queue.length; k++)
      for (const s of leaving.get(queue[k]) ?? []) {
        if (found.has(s.to) || (isBothWays(s.actor) && driven.has(s.to))) continue
        found.set(s.to, found.get(queue[k])! + 1)
        queue.push(s.to)
      }
  }
  const seeds = [
    ...(sketch.input !== null && nets.includes(sketch.input) ? [sketch.input] : []),
    ...nets.filter((n) => !driven.has(n)),
    ...nets,
  ]
  for (const seed of seeds) {
    if (found.has(seed)) continue
    // What reaches a net that has a distance goes on from there.
    const known = ways.flatMap((s) => (s.from === seed && found.has(s.to) ? [found.get(s.to)! - 1] : []))
    found.set(seed, known.length > 0 ? Math.max(0, Math.min(...known)) : 0)
    spread(seed)
  }
  // An amplifier's input that is reached after its own output only stands beside its other one.
  for (const { nets: own, part } of sketch.devices) {
    const { in: ins = [], out = [] } = partShape(part).flow ?? {}
    const at = (pins: readonly string[]) => pins.flatMap((pin) => found.get(own.get(pin) ?? '') ?? [])
    const [first, leaves] = [Math.min(...at(ins)), Math.min(...at(out))]
    for (const pin of ins) {
      const net = own.get(pin)
      if (net !== undefined && !out.some((p) => own.get(p) === net) && (found.get(net) ?? 0) > leaves)
        found.set(net, first)
    }
  }
  return found
}

function distancesBack(output: string | null, ways: readonly Step[]): Map<string, number> {
  const found = new Map<string, number>()
  if (output === null) return found
  const arriving = groupBy(ways, (s) => s.to)
  const queue = [output]
  found.set(output, 0)
  for (let k = 0; k < queue.length; k++)
    for (const { from } of arriving.get(queue[k]) ?? []) {
      if (found.has(from)) continue
      found.set(from, found.get(queue[k])! + 1)
      queue.push(from)
    }
  return found
}

/** The steps without those that close a circle, by depth first from what is nearest to the input. */
function withoutCircles(
  nets: readonly string[],
  steps: readonly Step[],
  distances: ReadonlyMap<string, number>,
): Step[] {
  const leaving = groupBy(steps, (s) => s.from)
  const state = new Map<string, 'open' | 'done'>()
  const kept: Step[] = []
  for (const start of nets.toSorted((a, b) => distances.get(a)! - distances.get(b)!)) {
    if (state.has(start)) continue
    const stack = [{ net: start, next: 0 }]
    state.set(start, 'open')
    while (stack.length > 0) {
      const top = stack.at(-1)!
      const step = leaving.get(top.net)?.[top.next++]
      if (!step) {
        state.set(top.net, 'done')
        stack.pop()
      } else if (state.get(step.to) !== 'open') {
        kept.push(step)
        if (!state.has(step.to)) {
          state.set(step.to, 'open')
          stack.push({ net: step.to, next: 0 })
        }
      }
    }
  }
  return kept
}

/** The longest way to each net. */
function ranksOf(nets: readonly string[], steps: readonly Step[]): Map<string, number> {
  const arriving = groupBy(steps, (s) => s.to)
  const rank = new Map<string, number>()
  const rankOf = (net: string): number => {
    const known = rank.get(net)
    if (known !== undefined) return known
    const found = (arriving.get(net) ?? []).reduce((most, s) => Math.max(most, rankOf(s.from) + 1), 0)
    rank.set(net, found)
    return found
  }
  // From what is near: so that no recursion is deeper than the longest row of links.
  for (const net of nets) rankOf(net)
  return rank
}

function lanesOf(
  sketch: Sketch,
  nets: readonly string[],
  steps: readonly Step[],
  rank: ReadonlyMap<string, number>,
): Lane[] {
  const order = nets.toSorted((a, b) => rank.get(a)! - rank.get(b)!)
  const arriving = groupBy(steps, (s) => s.to)
  const leaving = groupBy(steps, (s) => s.from)
  const used = new Set<Actor>()
  const open = new Set(nets)
  const lanes: Lane[] = []
  const take = (lane: Lane) => {
    for (const s of lane.steps) used.add(s.actor)
    for (const net of lane.nets) open.delete(net)
    lanes.push(lane)
  }
  if (sketch.input !== null && open.has(sketch.input))
    take(longest(order, arriving, used, open, sketch.input, sketch.output))
  while (open.size > 0) {
    const lane = longest(order, arriving, used, open, null, null)
    const isFree = (s: Step) => !used.has(s.actor) && !lane.steps.some((t) => t.actor === s.actor)
    // From the nearest net that has its place, and on to the nearest.
    const first = (arriving.get(lane.nets[0]) ?? []).filter((s) => !open.has(s.from) && isFree(s))
    const [begin] = first.toSorted((a, b) => rank.get(b.from)! - rank.get(a.from)!)
    const last = (leaving.get(lane.nets.at(-1)!) ?? []).filter(
      (s) => !open.has(s.to) && isFree(s) && s.actor !== begin?.actor,
    )
    const [end] = last.toSorted((a, b) => rank.get(a.to)! - rank.get(b.to)!)
    take({ nets: lane.nets, steps: [...(begin ? [begin] : []), ...lane.steps, ...(end ? [end] : [])] })
  }
  return lanes
}

/** The longest way through nets that have no place yet; from a net, and to one where a way leads there. */
function longest(
  order: readonly string[],
  arriving: ReadonlyMap<string, readonly Step[]>,
  used: ReadonlySet<Actor>,
  open: ReadonlySet<string>,
  from: string | null,
  to: string | null,
): Lane {
  const best = new Map<string, { length: number; by: Step | null }>()
  let last: string | null = null
  for (const net of order) {
    if (!open.has(net)) continue
    if (from === null || net === from) best.set(net, { length: 0, by: null })
    for (const s of arriving.get(net) ?? []) {
      const before = best.get(s.from)
      if (!before || used.has(s.actor) || before.by?.actor === s.actor) continue
      const length = before.length + (s.actor.link ? WEIGHT.link : WEIGHT.device)
      if (length > (best.get(net)?.length ?? -1)) best.set(net, { length, by: s })
    }
    if (best.has(net) && (last === null || best.get(net)!.length > best.get(last)!.length)) last = net
  }
  const end = to !== null && best.has(to) ? to : last!
  const steps: Step[] = []
  const nets = [end]
  for (let by = best.get(end)!.by; by; by = best.get(by.from)!.by) {
    // No actor twice in a lane.
    if (steps.some((s) => s.actor === by!.actor)) break
    steps.unshift(by)
    nets.unshift(by.from)
  }
  return { nets, steps }
}

export function groupBy<T, K>(things: readonly T[], of: (thing: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const thing of things) {
    const key = of(thing)
    const group = groups.get(key)
    if (group) group.push(thing)
    else groups.set(key, [thing])
  }
  return groups
}
