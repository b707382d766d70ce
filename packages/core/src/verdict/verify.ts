import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Circuit } from '../circuit/circuit.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import { idealOf } from './leastOrder.js'
import { gatherEvidence, ledger } from './ledger.js'
import type { Verdict } from './Requirement.js'

/** Judges a circuit against a specification. Errors are those of the approximation and the pole-zero analysis. */
export function verify(spec: FilterSpec, circuit: Circuit): Verdict[] {
  const { transfer } = polesAndZeros(smallSignal(formulate(circuit)))
  return ledger(gatherEvidence(spec, idealOf(spec), transfer, circuit))
}
