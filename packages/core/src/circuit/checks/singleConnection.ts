import { NetMap } from '../NetMap.js'
import { type Check, quoted } from './Check.js'

/** Nets that only one pin lies on, and that have no name of their own: an end that was forgotten. */
export const singleConnection: Check = {
  id: 'single-connection',
  find(circuit) {
    const named = new Set(circuit.labels.map((l) => l.name))
    const map = new NetMap(circuit)
    const lonely = map.nets
      .map((net) => [net, map.pinsOf(net)] as const)
      .filter(([net, pins]) => net !== '0' && pins.length === 1 && (!named.has(net) || circuit.wires.length === 0))
    // In a circuit without a drawing every net is a name, and an output may well hang on one part.
    const odd = lonely.filter(([net]) => net !== 'out' && net !== 'in')
    if (odd.length === 0) return []
    const nets = odd.map(([net]) => net)
    return [
      {
        check: 'single-connection',
        severity: 'warning',
        message: `${nets.length === 1 ? 'Net' : 'Nets'} ${quoted(nets)} ${nets.length === 1 ? 'has' : 'have'} one connection only.`,
        fix: 'Connect the other end, or take the part out.',
        parts: odd.map(([, [pin]]) => pin.part),
        nets,
      },
    ]
  },
}
