import type { Circuit } from '../circuit.js'
import type { EditCall } from '../edit/index.js'
import type { FlatCircuit } from '../flatten.js'

/** What would mend a finding: an edit, or a part whose values only its author knows. */
export type Remedy = EditCall | { readonly look: string }

/** Something that is wrong with a circuit, or worth a look. */
export interface Finding {
  readonly check: string
  /** It cannot be solved; what is solved never works; worth a look. */
  readonly severity: 'error' | 'fault' | 'warning'
  /** In plain words, with the names of the parts and nets. */
  readonly message: string
  readonly fix: string
  readonly parts: readonly string[]
  readonly nets: readonly string[]
  readonly remedy?: Remedy
}

/** A check; each stands in a file of its own and in the list of index.ts. */
export interface Check {
  readonly id: string
  /** @param made synthesis made the circuit, or most of it */
  find(circuit: Circuit, flat: FlatCircuit, made: boolean): Finding[]
}

/** Most names that a message lists. */
const MOST_NAMES = 6

export const quoted = (names: readonly string[]): string => {
  const shown = names.slice(0, MOST_NAMES).map((n) => `"${n}"`)
  return names.length > MOST_NAMES ? `${shown.join(', ')} and ${names.length - MOST_NAMES} more` : shown.join(', ')
}
