import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Ideal } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import { realize } from '../synthesis/realize.js'
import { idealOf } from './leastOrder.js'
import { gatherEvidence, ledger } from './ledger.js'
import type { Verdict } from './Requirement.js'

/** Judges a circuit against a specification. Errors are those of the approximation and the pole-zero analysis. */
export function verify(spec: FilterSpec, circuit: Circuit): Verdict[] {
  const { transfer } = polesAndZeros(smallSignal(formulate(circuit)))
  const ideal = idealOf(spec)
  return ledger(gatherEvidence(spec, ideal, transfer, circuit, referenceLevel(spec, ideal)))
}

/** The level of the specification's own circuit, dB; 0 where it has none, so that a drawn circuit is taken as it is. */
export function referenceLevel(spec: FilterSpec, ideal: Ideal): number {
  if (!spec.realization) return 0
  try {
    return realize(spec, 'exact', ideal).referenceDb
  } catch (error) {
    if (error instanceof VoskelError) return 0
    throw error
  }
}
