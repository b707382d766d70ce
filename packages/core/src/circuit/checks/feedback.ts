import { GROUND } from '../parts/PartKind.js'
import type { Check, Finding } from './Check.js'
import type { FlatCircuit } from '../flatten.js'

/** Operational amplifiers without feedback, or with it to the wrong input alone. */
export const feedback: Check = {
  id: 'feedback',
  find(_circuit, flat) {
    return flat.elements.flatMap(({ kind, name, nodes }): Finding[] => {
      if (kind.id !== 'opamp') return []
      const [plus, minus, out] = nodes
      const reached = reachable(flat, out, name)
      if (reached.has(minus)) return []
      const crossed = reachable(flat, out, name, false).has(plus)
      // What comes back to the plus input through another amplifier may be turned over there.
      if (!crossed && reached.has(plus)) return []
      return [
        {
          check: 'feedback',
          severity: 'warning',
          message: crossed
            ? `The output of ${name} is fed back to its plus input alone: it will not settle.`
            : `The output of ${name} is not fed back to its minus input.`,
          fix: crossed ? 'Exchange its inputs.' : 'Connect output and minus input, directly or through parts.',
          parts: [name],
          nets: [],
          remedy: crossed ? { edit: 'swap-pins', args: { part: name, pins: ['plus', 'minus'] } } : { look: name },
        },
      ]
    })
  },
}

/**
 * Nets that a signal at one net reaches through the parts; nets held by sources and ground stop it.
 *
 * @param amplified whether it goes on through other amplifiers, whose outputs stop it otherwise
 */
function reachable(flat: FlatCircuit, from: number, own: string, amplified = true): Set<number> {
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
