import type { GridPoint } from '../../circuit.js'
import { Boxes } from '../Boxes.js'
import type { Pair } from './figures.js'
import { partShape } from '../../parts/index.js'
import { type Facing, pinAt } from '../geometry.js'
import { type Group, ORIENTATIONS, type Place, type Taken } from './Group.js'
import { hung, placeOf, put } from './hang.js'
import type { Actor, PinOf } from './order.js'
import { type Member, otherNet, type Sketch } from './Sketch.js'

/** Columns between the ends of a pair, and rows between a pair and its mirror. */
const PAIR = { apart: 10, rows: 6 } as const

/**
 * An actor as it lies: what comes in on the left, what goes out on the right.
 *
 * @param entry the pin that the lane comes in by; null where it begins here
 * @param hasLine whether a net has its line, and what hangs from it, already
 */
export function bodyOf(
  sketch: Sketch,
  empty: Group,
  actor: Actor,
  entry: PinOf | null,
  exit: PinOf | null,
  hasLine: (net: string) => boolean,
): Group {
  const group = empty.empty()
  const { link, pair, members } = actor
  if (pair) {
    addPair(sketch, group, pair, hasLine)
    return group
  }
  if (link && entry && exit) {
    group.add(link, placeOf(link, entry.pin, exit.pin, 'right').at)
    return group
  }
  group.add(members[0], oriented(sketch, members[0], entry?.pin ?? null, exit?.pin ?? null))
  return group
}

/** How a part lies best: by where its pins lead. */
function oriented(sketch: Sketch, member: Member, entry: string | null, exit: string | null): Place {
  const { part, nets } = member
  const transistor = sketch.transistor(member)
  const exitNet = exit === null ? undefined : nets.get(exit)
  let best = { at: { x: 0, y: 0, ...ORIENTATIONS[0] } as Place, worth: -Infinity }
  ORIENTATIONS.forEach((orientation, k) => {
    const at = { x: 0, y: 0, ...orientation }
    let worth = -k / 100
    // What has inputs and outputs stands as it is known.
    if (partShape(part).flow && orientation.rotation % 180 !== 0) worth -= 40
    for (const [pin, net] of nets) {
      const { x, y, faces } = pinAt(part, at, pin)
      if (pin === entry) worth += faces === 'left' ? 20 : -x
      else if (pin === exit) worth += faces === 'right' ? 20 : x
      else if (transistor && pin === transistor.control) worth += faces === 'left' ? 8 : 0
      if (transistor && pin === transistor.lower) worth += faces === 'down' ? 25 : 0
      if (transistor && pin === transistor.upper) worth += faces === 'up' ? 25 : 0
      if (pin === entry || pin === exit) continue
      const rail = sketch.rails.get(net)
      const hangs = new Set(sketch.hangingOf(net).map((h) => sketch.wayOf(h)))
      if (rail) worth += towards(rail, y, faces) * 3
      // What leads back goes over the top.
      else if (net === exitNet) worth += towards('up', y, faces) * 3
      else if (hangs.size === 1) worth += towards([...hangs][0], y, faces) * 3
      else if (leadsTo(sketch, net, exitNet)) worth += towards('up', y, faces) * 2
    }
    if (worth > best.worth) best = { at, worth }
  })
  return best.at
}

const towards = (way: 'up' | 'down', y: number, faces: Facing) =>
  faces === way ? 1.5 : way === 'up' ? (y < 0 ? 1 : 0) : y > 0 ? 1 : 0

const leadsTo = (sketch: Sketch, net: string, to: string | undefined) =>
  sketch.links.some((l) => l.ends.some((pin) => l.nets.get(pin) === net) && otherNet(l, net) === to)

/** A pair with its ends' columns apart, its mirror over or under them, and what hangs at its tail in the middle. */
function addPair(
  sketch: Sketch,
  group: Group,
  { left, right, mirror, tail }: Pair,
  hasLine: (net: string) => boolean,
): void {
  const { lower, source } = sketch.transistor(left)!
  // Ends below where the tail is above.
  const down = source === lower ? -1 : 1
  const upright = (member: Member, drainAt: GridPoint, isMirrored: boolean) => {
    const pins = sketch.transistor(member)!
    for (const orientation of ORIENTATIONS) {
      const at = { x: 0, y: 0, ...orientation }
      const [low, high, end, control] = [pins.lower, pins.upper, pins.drain, pins.control].map((pin) =>
        pinAt(member.part, at, pin),
      )
      if (low.faces !== 'down' || high.faces !== 'up' || control.faces !== (isMirrored ? 'right' : 'left')) continue
      group.add(member, { ...orientation, x: drainAt.x - end.x, y: drainAt.y - end.y })
      return
    }
  }
  upright(left, { x: 0, y: 0 }, false)
  upright(right, { x: PAIR.apart, y: 0 }, true)
  if (mirror) {
    upright(mirror[0], { x: 0, y: down * (PAIR.rows - 2) }, true)
    upright(mirror[1], { x: PAIR.apart, y: down * (PAIR.rows - 2) }, false)
  }
  if (hasLine(tail)) return
  const tailPin = group.pin(left.part.id, source)!
  const taken = new Boxes<Taken>(group.boxes)
  const y = tailPin.y
  group.lines.push({ net: tail, y, left: tailPin.x, right: group.pin(right.part.id, source)!.x })
  for (const hanging of sketch.hangingOf(tail))
    put(group, taken, hung(sketch, group, hanging, sketch.wayOf(hanging)), { x: PAIR.apart / 2, y })
}
