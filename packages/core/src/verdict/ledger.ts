import type { Ideal } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import { acMeasures } from '../measure/acMeasures.js'
import { extrema } from '../measure/extrema.js'
import { stepMeasures } from '../measure/stepMeasures.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import { requirements } from './index.js'
import type { Evidence, Verdict } from './Requirement.js'

/** Everything that is measured of a response, once and when it is asked for. */
export function gatherEvidence(
  spec: FilterSpec,
  ideal: Ideal,
  transfer: TransferFunction,
  circuit: Circuit | null,
  referenceDb = 0,
): Evidence {
  const [found, ac, step] = [
    once(() => extrema(transfer)),
    once(() => acMeasures(transfer)),
    once(() => stepMeasures(transfer)),
  ]
  return {
    spec,
    ideal,
    transfer,
    circuit,
    referenceDb,
    get extrema() {
      return found()
    },
    get ac() {
      return ac()
    },
    get step() {
      return step()
    },
  }
}

function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => (made ??= { value: make() }).value
}

/** The verdict on every requirement of the specification, worst margin (relative to its limit) first. */
export function ledger(evidence: Evidence): Verdict[] {
  const relative = (v: Verdict) => (v.margin === null ? -Infinity : v.margin / Math.max(Math.abs(v.limit), 1e-12))
  return requirements
    .flatMap((r) => r.judge(evidence))
    .sort((a, b) => Number(a.met) - Number(b.met) || relative(a) - relative(b))
}
