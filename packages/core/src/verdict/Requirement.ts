import type { Ideal } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import type { AcMeasures } from '../measure/acMeasures.js'
import type { Extremum } from '../measure/extrema.js'
import type { StepMeasures } from '../measure/stepMeasures.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import type { FilterSpec } from '../specification/filterSpec.js'

/** What a requirement is judged by: the circuit's response and what was measured of it. */
export interface Evidence {
  spec: FilterSpec
  ideal: Ideal
  transfer: TransferFunction
  extrema: readonly Extremum[]
  ac: AcMeasures
  step: StepMeasures
  /** The transfer's level where the ideal response has 0 dB: what dividing between source and load costs. */
  referenceDb: number
  /** null where a response alone is judged. */
  circuit: Circuit | null
}

/** One line of the ledger. */
export interface Verdict {
  id: string
  name: string
  /** SI unit of limit, achieved and margin. */
  unit: string
  /** What was asked, as in "at most 0.1 dB". */
  sense: 'at most' | 'at least'
  limit: number
  /** null where the circuit has no such value (no final value, so no rise time). */
  achieved: number | null
  /** Positive: room left. Negative: missed by so much. */
  margin: number | null
  /** Where it is decided; Hz or s. */
  at: number | null
  atUnit: 'Hz' | 's' | null
  met: boolean
}

/**
 * A kind of requirement. Each stands in a file of its own and in the list of index.ts.
 */
export interface Requirement {
  readonly id: string
  readonly name: string
  /** One verdict for each time that the specification asks for it. */
  judge(evidence: Evidence): Verdict[]
}

/** A miss smaller than this part of the limit is rounding: a design exactly at its limit keeps it. */
const ROUNDING = 1e-6

/** Completes a verdict from what was asked and achieved. */
export function verdict(
  asked: Pick<Verdict, 'id' | 'name' | 'unit' | 'sense' | 'limit'>,
  achieved: number | null,
  at: number | null,
  atUnit: 'Hz' | 's',
): Verdict {
  const margin = achieved === null ? null : asked.sense === 'at most' ? asked.limit - achieved : achieved - asked.limit
  const met = margin !== null && margin >= -ROUNDING * Math.max(Math.abs(asked.limit), ROUNDING)
  return { ...asked, achieved, margin, at, atUnit: at === null ? null : atUnit, met }
}
