import type { Ideal } from '../approximation/approximate.js'
import type { Extremum } from '../measure/extrema.js'
import type { AcMeasures } from '../measure/acMeasures.js'
import type { StepMeasures } from '../measure/stepMeasures.js'
import type { ValueReading } from '../specification/requirements/value.js'
import type { Read } from './readings.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import type { AskedRequirement, RequirementId } from '../specification/requirements/index.js'
import type { Judged, RequirementKind } from '../specification/requirements/RequirementKind.js'

/** What a specification promises by its bands or its limits, before anything is required besides. */
export interface Promised {
  readonly spec: FilterSpec
  readonly ideal: Ideal
}

/** Whatever says what a promised value is. */
export interface Reads {
  /** @throws VoskelError where there is no such thing */
  read(reading: ValueReading): Read
}

/** What a requirement is judged by: a response, what was measured of it, and the circuit that has it. */
export interface Evidence extends Judged {
  /** null for a circuit that stands for itself. */
  readonly promised: Promised | null
  /** What is required besides. */
  readonly requirements: readonly AskedRequirement[]
  readonly extrema: readonly Extremum[]
  readonly ac: AcMeasures
  readonly step: StepMeasures
  /** Whatever else can be read of the circuit; null without one. */
  readonly readings: Reads | null
  /** What the response is known to, relative to its size. */
  readonly known: number
  /** What cannot be read is not met, instead of an error. */
  readonly isLenient: boolean
}

/** Which requirement a verdict is on. */
export type VerdictKind = 'passband' | 'stopband' | 'limits' | 'value' | RequirementId

/** Where a requirement is asked: at a frequency, in a band, Hz, or on one side of the passband. */
export type VerdictPlace =
  | { readonly frequency: number }
  | { readonly band: readonly [from: number, to: number] }
  | { readonly side: 'below' | 'above' }

/** One line of the ledger. */
export interface Verdict {
  /** The kind, with a number behind it where there are several. */
  id: string
  kind: VerdictKind
  /** What tells it from others of its kind; null where it is the only one, or nowhere in particular. */
  place: VerdictPlace | null
  /** In words. */
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
  /** What shows it. */
  decided: RequirementKind['decided']
  met: boolean
  /** Why nothing was achieved, where it could not even be asked. */
  failure?: string
}

/**
 * Something that is judged. Each stands in a file of its own and in the list of index.ts.
 */
export interface Requirement {
  /** One verdict for each time that it is asked for. */
  judge(evidence: Evidence): Verdict[]
}

/** What solutions are known to, relative to their size: a smaller miss is none, so that a design exactly at its limit keeps it. */
export const KNOWN = 1e-9

/** Of logarithms and angles not their own size counts: what a value known to so much moves them by. */
const SCALES: Readonly<Record<string, number>> = { dB: 20 / Math.LN10, '°': 180 / Math.PI }

/**
 * Completes a verdict from what was asked and achieved. What is met by rounding has a margin of 0: margin and verdict agree.
 *
 * @param options.scale size of what the achieved value was made of, in its unit, where that is more than what is left of it
 * @param options.known what it is known to, relative to that size
 */
export function verdict(
  asked: Pick<Verdict, 'kind' | 'place' | 'name' | 'unit' | 'sense' | 'limit' | 'decided'> & {
    readonly count?: number
  },
  achieved: number | null,
  at: number | null,
  atUnit: 'Hz' | 's',
  { scale = 0, known = KNOWN }: { readonly scale?: number | undefined; readonly known?: number } = {},
): Verdict {
  const { count = 0, ...rest } = asked
  const id = count === 0 ? asked.kind : `${asked.kind} ${count + 1}`
  const judged = { id, ...rest, achieved, at, atUnit: at === null ? null : atUnit }
  if (achieved === null) return { ...judged, margin: null, met: false }
  const room = asked.sense === 'at most' ? asked.limit - achieved : achieved - asked.limit
  const size = Number.isFinite(achieved) ? Math.abs(achieved) : 0
  const slack = known * Math.max(Math.abs(asked.limit), size, scale, SCALES[asked.unit] ?? 0)
  const isRounding = room < 0 && room >= -slack
  return { ...judged, margin: isRounding ? 0 : room, met: room >= 0 || isRounding }
}
