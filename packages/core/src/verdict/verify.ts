import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Ideal } from '../approximation/approximate.js'
import { ZERO_CELSIUS } from '../circuit/devices/constants.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import type { AskedRequirement } from '../specification/requirements/index.js'
import { realize } from '../synthesis/realize.js'
import { idealOf } from './leastOrder.js'
import { evidenceOf } from './evidence.js'
import { ledger } from './ledger.js'
import type { Verdict } from './Requirement.js'

/** What of a circuit is looked at: the source that is the input, the signal that is the output, °C. */
export interface AskedStudy {
  readonly input?: string
  readonly output?: string
  readonly temperature?: number
}

/**
 * Judges a circuit against a specification, or by requirements alone. Errors are those of the approximation and the
 * pole-zero analysis.
 *
 * @param requirements left out, those of the specification
 * @param study what is the input and the output, and how warm the circuit is, °C; left out, as usual
 */
export function verify(
  spec: FilterSpec | null,
  circuit: Circuit,
  requirements: readonly AskedRequirement[] | undefined = spec?.requirements,
  study: AskedStudy = {},
): Verdict[] {
  const { whole, equations, asked } = studied(circuit, study)
  const ideal = spec && idealOf(spec)
  const promised = spec && ideal ? { spec, ideal } : null
  const referenceDb = promised ? referenceLevel(promised.spec, promised.ideal) : 0
  return ledger(
    evidenceOf({
      promised,
      requirements,
      transfer: () => polesAndZeros(equations, asked).transfer,
      circuit,
      equations,
      whole,
      referenceDb,
      ...asked,
    }),
  )
}

/** A circuit's equations, of small signals where it has devices, and what of it is looked at. */
export function studied(circuit: Circuit, { input, output, temperature }: AskedStudy) {
  const whole = formulate(circuit, temperature === undefined ? {} : { temperature: temperature + ZERO_CELSIUS })
  return {
    whole,
    equations: smallSignal(whole),
    asked: { ...(input !== undefined && { input }), ...(output !== undefined && { output }) },
  }
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
