import type { FilterSpec } from '../../specification/filterSpec.js'
import type { AskedRequirement } from '../../specification/requirements/index.js'

/** What a design asks for, as it keeps it: requirements stand beside the specification. */
export interface Asked {
  readonly specification?: FilterSpec
  readonly requirements?: AskedRequirement[]
}

/** A specification and its requirements apart, as a design keeps them. */
export function asked(specification: FilterSpec | undefined, more: readonly AskedRequirement[] = []): Asked {
  if (!specification) return more.length > 0 ? { requirements: [...more] } : {}
  const { requirements = [], ...rest } = specification
  const all = [...requirements, ...more]
  return { specification: rest, ...(all.length > 0 && { requirements: all }) }
}

/** The specification of a design with all that is required, as it is judged; null where there is none. */
export function askedSpec({ specification, requirements }: Asked): FilterSpec | null {
  return specification ? { ...specification, ...(requirements && { requirements: [...requirements] }) } : null
}
