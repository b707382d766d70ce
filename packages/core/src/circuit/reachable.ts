import type { FlatCircuit } from './flatten.js'
import { GROUND } from './parts/PartKind.js'

/**
 * Nets that a signal at one net reaches through the parts; nets held by sources and ground stop it.
 *
 * @param own the part that it is not to go through
 * @param amplified whether it goes on through other amplifiers, whose outputs stop it otherwise
 */
export function reachable(
  flat: Pick<FlatCircuit, 'elements'>,
  from: number,
  own: string,
  amplified = true,
): Set<number> {
  const held = new Set<number>([GROUND])
  const joined: (readonly number[])[] = []
  for (const { kind, name, nodes } of flat.elements) {
    if (name === own) continue
    if (!amplified && kind.id === 'opamp') {
      held.add(nodes[2])
      continue
    }
    // A grounded source holds its net whatever comes there; everything else carries a signal on.
    if (kind.id === 'voltage-source' && nodes.includes(GROUND)) nodes.forEach((n) => held.add(n))
    else joined.push(nodes)
  }
  const reached = new Set<number>([from])
  const open = [from]
  for (let net = open.pop(); net !== undefined; net = open.pop()) {
    for (const nodes of joined) {
      if (!nodes.includes(net)) continue
      for (const next of nodes) {
        if (reached.has(next) || held.has(next)) continue
        reached.add(next)
        open.push(next)
      }
    }
  }
  return reached
}
