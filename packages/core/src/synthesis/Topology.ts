import type { z } from 'zod'
import type { Ideal } from '../approximation/approximate.js'
import type { Circuit } from '../circuit/circuit.js'
import type { ChoiceField, QuantityField } from '../specification/fields.js'
import type { FilterSpec } from '../specification/filterSpec.js'
import type { ValuePolicy } from './values.js'

/** A field of a realization as a form shows it. */
export type RealizationField = QuantityField | ChoiceField

/** One step of how values were found. */
export interface FormulaStep {
  readonly title: string
  /** Formulas and numbers, one a line. */
  readonly lines: readonly string[]
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
}

/**
 * A way to make a circuit of a response. Each stands in a file of its own and in `topologies` (index.ts).
 */
export interface Topology<R = unknown> {
  readonly id: string
  readonly name: string
  readonly family: 'passive' | 'active'
  /** One line for people choosing. */
  readonly character: string
  /** Published source of the formulas. */
  readonly source: string
  readonly formulas: readonly string[]
  /** Its circuits are only near to the response that was asked for. */
  readonly near?: true
  /** Its part of the specification, `realization`, with `family` set to its id. */
  readonly schema: z.ZodType<R>
  readonly fields: readonly RealizationField[]
  /** @throws VoskelError `REALIZATION_IMPOSSIBLE` with what would be possible */
  realize(request: { spec: FilterSpec; ideal: Ideal; realization: R; values: ValuePolicy }): Realized
}
