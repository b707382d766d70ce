import { z } from 'zod'
import type { Ideal } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type Field, fieldSchema, type ValuesOf } from '../specification/fields.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import type { Biquad } from './active/biquad.js'
import type { ExplainedPart } from './active/explain.js'
import type { Plan } from './Plan.js'

/** A field of a realization as a form shows it. */
export type RealizationField = Field

/** One step of how values were found. */
export interface FormulaStep {
  readonly title: string
  /** Formulas and numbers, one a line. */
  readonly lines: readonly string[]
  /** Formulas to be typeset: TeX. */
  readonly tex?: readonly string[]
  /** What each part of a section does. */
  readonly parts?: readonly ExplainedPart[]
  /** Published source; empty for arithmetic. */
  readonly source: string
}

/** A circuit that keeps a response, and how it relates to the ideal one. */
export interface Realized {
  circuit: Circuit
  /** The circuit's level where the ideal one has 0 dB: what dividing between source and load costs. */
  referenceDb: number
  /** True where the output is turned over against the input. */
  inverting: boolean
  /** The steps from the response to the values, where the topology tells them. */
  steps?: readonly FormulaStep[]
  /** What the realisation costs or how it came about, in sentences. */
  remarks?: readonly string[]
  /** The sections of an active realisation, from input to output. */
  sections?: readonly RealizedSection[]
  /** What bounds its use, in numbers. */
  limits?: readonly Limit[]
}

/** A section as it was made. */
export interface RealizedSection {
  /** The id of its kind (active/sections). */
  readonly kind: string
  readonly wanted: Biquad
  /** The circuit's parts by the section's own names. */
  readonly parts: Readonly<Record<string, string>>
}

/** A number that bounds the use of a realisation, in SI units. */
export interface Limit {
  readonly id: string
  readonly name: string
  readonly value: number
  readonly unit: string
}

/** What a topology makes a plan from. */
export interface PlanRequest<R> {
  readonly spec: FilterSpec
  readonly ideal: Ideal
  readonly realization: R
}

/** What a topology says of itself. */
interface Description<F extends readonly RealizationField[]> {
  readonly id: string
  readonly name: string
  readonly family: 'passive' | 'active'
  /** One line for people choosing. */
  readonly character: string
  /** Published source of the formulas. */
  readonly source: string
  readonly formulas: readonly string[]
  /** Its circuits are only near to the response that was asked for; a number, where they are by this part of it. */
  readonly near?: true | number
  /** Its part of the specification, `realization`, beside `family`, which is its id. */
  readonly fields: F
}

/** What a topology's file gives: its description, and how it plans with the values of its fields. */
export interface OwnTopology<F extends readonly RealizationField[]> extends Description<F> {
  plan(request: PlanRequest<ValuesOf<F>>): Plan<Realized>
}

/**
 * A way to make a circuit of a response: it plans, values are chosen, then it draws. Each stands in a file of its own and
 * in `topologies` (index.ts).
 */
export interface Topology extends Description<readonly RealizationField[]> {
  /**
   * @param realization as the specification gives it
   * @throws VoskelError `SPEC_INVALID` for a field that it does not have or take, `REALIZATION_IMPOSSIBLE` with what would
   * be possible
   */
  plan(request: PlanRequest<Readonly<Record<string, unknown>>>): Plan<Realized>
}

/** A topology whose schema follows from its fields; what is left out of them has its usual value. */
export function topology<const F extends readonly RealizationField[]>(own: OwnTopology<F>): Topology {
  const usual = usualValues(own.fields)
  const schema = z.strictObject({
    family: z.literal(own.id),
    ...Object.fromEntries(own.fields.map((field) => [field.id, fieldSchema(field)])),
  })
  return {
    ...own,
    plan({ spec, ideal, realization }) {
      // Most schemas are used once or twice: to compile them takes longer.
      const checked = schema.safeParse({ ...usual, ...realization }, { jitless: true })
      if (!checked.success) throw refused(own, checked.error.issues[0])
      return own.plan({ spec, ideal, realization: checked.data as unknown as ValuesOf<F> })
    },
  }
}

/** What the quantities among the fields are where nothing is said of them; of a choice its schema knows. */
export const usualValues = (fields: readonly RealizationField[]): Readonly<Record<string, number>> =>
  Object.fromEntries(fields.flatMap((f) => (f.kind === 'quantity' && !f.optional ? [[f.id, f.default] as const] : [])))

function refused({ id, fields }: Description<readonly RealizationField[]>, issue: z.core.$ZodIssue): VoskelError {
  const unknown = issue.code === 'unrecognized_keys' ? issue.keys[0] : undefined
  return new VoskelError(
    'SPEC_INVALID',
    {
      problem: unknown === undefined ? issue.message : `"${unknown}" is not a field of the realization ${id}.`,
      fix: `Its fields are: ${fields.map((f) => f.id).join(', ')}.`,
    },
    { path: ['realization', ...(unknown === undefined ? issue.path.map(String) : [unknown])].join('.') },
  )
}
