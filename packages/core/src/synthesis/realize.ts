import { approximate, type Ideal } from '../approximation/approximate.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import { topologies } from './index.js'
import { drawn } from './Plan.js'
import type { Realized } from './Topology.js'
import { type ValueChoice, valuePolicy } from './values.js'

/**
 * The circuit of a specification.
 *
 * @param choice which values parts may have
 * @throws VoskelError `NOT_OFFERED`, `SPEC_INVALID`, `REALIZATION_IMPOSSIBLE`, and those of `approximate`
 */
export function realize(spec: FilterSpec, choice: ValueChoice = 'exact', ideal: Ideal = approximate(spec)): Realized {
  const given = spec.realization
  if (!given) {
    throw new VoskelError(
      'SPEC_INVALID',
      {
        problem: 'The specification names no realization.',
        fix: `Add "realization": { "family": … }; families: ${topologies.map((t) => t.id).join(', ')}.`,
      },
      { path: 'realization' },
    )
  }
  const topology = topologies.find((t) => t.id === given.family)
  if (!topology) {
    throw new VoskelError(
      'NOT_OFFERED',
      { what: 'realization family', name: given.family, offered: topologies.map((t) => t.id) },
      { path: 'realization.family' },
    )
  }
  return drawn(topology.plan({ spec, ideal, realization: given }), valuePolicy(choice))
}
