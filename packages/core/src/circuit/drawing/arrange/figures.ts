import type { Member, Sketch } from './Sketch.js'

/**
 * Two transistors of a kind with their lower ends on one net: side by side, the right one mirrored. With them a mirror: two
 * others, of one control and one rail, over or under the pair's ends.
 */
export interface Pair {
  readonly left: Member
  readonly right: Member
  /** In the columns of the pair. */
  readonly mirror: readonly [Member, Member] | null
  readonly tail: string
}

export const membersOf = ({ left, right, mirror }: Pair): Member[] => [left, right, ...(mirror ?? [])]

/** The pairs of a circuit, the one that the input controls on the left. */
export function pairsOf(sketch: Sketch): Pair[] {
  const byTail = new Map<string, Member[]>()
  const transistors = [...sketch.members.values()].filter((m) => sketch.transistor(m) !== null)
  for (const member of transistors) {
    const tail = member.nets.get(sketch.transistor(member)!.source)
    if (tail === undefined || sketch.isSymbol(tail)) continue
    byTail.set(tail, [...(byTail.get(tail) ?? []), member])
  }
  return [...byTail].flatMap(([tail, members]) => {
    const [a, b] = members
    if (members.length !== 2 || a.part.kind !== b.part.kind) return []
    const [gateA, gateB] = [a, b].map((m) => controlOf(sketch, m))
    const [drainA, drainB] = [a, b].map((m) => drainOf(sketch, m))
    if (gateA === undefined || gateB === undefined || gateA === gateB) return []
    if ([gateA, gateB].some((gate) => gate === drainA || gate === drainB || gate === tail)) return []
    const [left, right] = gateB === sketch.input ? [b, a] : [a, b]
    const drains = [left, right].map((m) => drainOf(sketch, m))
    return [{ left, right, tail, mirror: drains[0] === drains[1] ? null : mirrorOf(sketch, transistors, drains) }]
  })
}

/** Two transistors of one control, which is the end of one of them, on one rail. */
function mirrorOf(
  sketch: Sketch,
  transistors: readonly Member[],
  drains: readonly (string | undefined)[],
): Pair['mirror'] {
  const [one, other] = drains.map((net) =>
    net === undefined || sketch.isSymbol(net)
      ? []
      : transistors.filter((m) => drainOf(sketch, m) === net && isOnRail(sketch, m)),
  )
  for (const a of one)
    for (const b of other) {
      const control = controlOf(sketch, a)
      if (a.part.kind !== b.part.kind || control !== controlOf(sketch, b)) continue
      if (railOf(sketch, a) !== railOf(sketch, b)) continue
      if (control === drains[0] || control === drains[1]) return [a, b]
    }
  return null
}

const isOnRail = (sketch: Sketch, m: Member) => sketch.rails.has(railOf(sketch, m) ?? '')
const railOf = (sketch: Sketch, m: Member) => m.nets.get(sketch.transistor(m)!.source)
const controlOf = (sketch: Sketch, m: Member) => m.nets.get(sketch.transistor(m)!.control)
const drainOf = (sketch: Sketch, m: Member) => m.nets.get(sketch.transistor(m)!.drain)
