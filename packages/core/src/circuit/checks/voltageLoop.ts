import type { FlatCircuit } from '../flatten.js'
import type { Check } from './Check.js'
import { dcLinks, type NetLink, NetSets } from './links.js'

/**
 * Loops of ideal voltages: their current is not determined, or their voltages contradict each other.
 *
 * @param counts which links count: inductors are ideal voltages at DC alone
 * @returns the names of the parts of the first loop, null where there is none
 */
export function findVoltageLoop(flat: FlatCircuit, counts: (kind: string) => boolean = () => true): string[] | null {
  const sets = new NetSets(flat.nodes.length)
  const kept: NetLink[] = []
  for (const link of dcLinks(flat)) {
    if (link.by !== 'voltage' || !counts(flat.elements[link.element].kind.id)) continue
    if (sets.join(...link.nets)) {
      kept.push(link)
      continue
    }
    return [...path(kept, ...link.nets), link].map((l) => flat.elements[l.element].name)
  }
  return null
}

/** The links of a tree that lead from one net to another. */
function path(links: readonly NetLink[], from: number, to: number): NetLink[] {
  const cameBy = new Map<number, NetLink | null>([[from, null]])
  const open = [from]
  for (let net = open.pop(); net !== undefined && net !== to; net = open.pop()) {
    for (const link of links) {
      const next = link.nets[0] === net ? link.nets[1] : link.nets[1] === net ? link.nets[0] : null
      if (next === null || cameBy.has(next)) continue
      cameBy.set(next, link)
      open.push(next)
    }
  }
  const result: NetLink[] = []
  for (let net = to; ;) {
    const link = cameBy.get(net)
    if (!link) return result
    result.push(link)
    net = link.nets[0] === net ? link.nets[1] : link.nets[0]
  }
}

export const voltageLoop: Check = {
  id: 'voltage-loop',
  find(_circuit, flat, made) {
    const parts = findVoltageLoop(flat)
    if (!parts) return []
    const coils = parts.every((name) => flat.elements.find((e) => e.name === name)!.kind.id === 'inductor')
    if (coils) {
      // A loop that synthesis made is meant, as between resonators coupled by coils.
      if (made) return []
      return [
        {
          check: 'voltage-loop',
          severity: 'warning',
          message: `${parts.join(', ')} form a loop of inductors: what current circulates at DC depends on what has gone before.`,
          fix: 'None is taken to circulate; give one of them its winding resistance to have it decay.',
          parts,
          nets: [],
          remedy: {
            edit: 'put-in-series',
            args: { part: parts[0], kind: 'resistor', values: { resistance: 1e-3 } },
          },
        },
      ]
    }
    return [
      {
        check: 'voltage-loop',
        severity: 'error',
        message: `${parts.join(', ')} form a loop of ideal voltages (sources, or inductors, which are shorts at DC).`,
        fix: 'Put a small resistance in series with one of them.',
        parts,
        nets: [],
        remedy: {
          edit: 'put-in-series',
          args: { part: parts[0], kind: 'resistor', values: { resistance: 1e-3 } },
        },
      },
    ]
  },
}
