import { reachable } from '../reachable.js'
import type { Check, Finding } from './Check.js'

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
