import { approximate, type Ideal } from '../approximation/approximate.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import { topologies } from './index.js'
import type { Realized, Topology } from './Topology.js'
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
  const checked = topology.schema.safeParse({ ...usualValues(topology), ...given })
  if (!checked.success) {
    const issue = checked.error.issues[0]
    const known = issue.code !== 'unrecognized_keys'
    throw new VoskelError(
      'SPEC_INVALID',
      {
        problem: known ? issue.message : `"${issue.keys[0]}" is not a field of the realization ${topology.id}.`,
        fix: `Its fields are: ${topology.fields.map((f) => f.id).join(', ')}.`,
      },
      { path: ['realization', ...(known ? issue.path.map(String) : [issue.keys[0]])].join('.') },
    )
  }
  return topology.realize({ spec, ideal, realization: checked.data, values: valuePolicy(choice) })
}

/** What the fields of a topology are where nothing is said of them. */
function usualValues({ fields }: Topology): Record<string, number> {
  return Object.fromEntries(
    fields.flatMap((f) => (f.kind === 'quantity' && !f.optional ? [[f.id, f.default] as const] : [])),
  )
}
