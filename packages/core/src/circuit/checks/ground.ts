import { GROUND } from '../parts/PartKind.js'
import { type Check, quoted } from './Check.js'
import { dcLinks, NetSets } from './links.js'

/** Nets that nothing ties to ground at DC: behind capacitors, or fed by current sources alone. */
export const dcPath: Check = {
  id: 'dc-path',
  find(_circuit, flat) {
    const joined = new NetSets(flat.nodes.length)
    for (const { nets } of dcLinks(flat)) joined.join(...nets)
    const any = new NetSets(flat.nodes.length)
    for (const { nodes } of flat.elements) for (const n of nodes) any.join(nodes[0], n)
    const loose = flat.nodes.filter((_, k) => joined.find(k) !== joined.find(GROUND))
    const floating = flat.nodes.filter((_, k) => any.find(k) !== any.find(GROUND))
    const findings = []
    if (floating.length > 0) {
      findings.push({
        check: 'dc-path',
        severity: 'error' as const,
        message: `${floating.length === 1 ? 'Net' : 'Nets'} ${quoted(floating)} ${floating.length === 1 ? 'has' : 'have'} no connection to ground at all.`,
        fix: 'Connect one of them to ground.',
        parts: [],
        nets: floating,
        remedy: { edit: 'ground-net' as const, args: { net: floating[0] } },
      })
    }
    const capacitive = loose.filter((n) => !floating.includes(n))
    if (capacitive.length > 0) {
      findings.push({
        check: 'dc-path',
        severity: 'warning' as const,
        message: `${capacitive.length === 1 ? 'Net' : 'Nets'} ${quoted(capacitive)} ${capacitive.length === 1 ? 'has' : 'have'} no DC path to ground: only capacitors and current sources lead there. Its operating point is not determined; a transient begins from rest.`,
        fix: 'Put a large resistance from one of them to ground.',
        parts: [],
        nets: capacitive,
        remedy: {
          edit: 'bridge-nets' as const,
          args: { kind: 'resistor', values: { resistance: 1e9 }, nets: [capacitive[0], '0'] },
        },
      })
    }
    return findings
  },
}
