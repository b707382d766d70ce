import { z } from 'zod'
import type { TransferFunction } from '../../numeric/transferFunction.js'

/** A field of a shape, as schema and form take it. */
export type ShapeField =
  | {
      readonly id: string
      readonly name: string
      readonly kind: 'quantity'
      readonly unit: string
      readonly default: number
      /** Inclusive, where `above` is not given. */
      readonly least?: number
      readonly above?: number
      readonly most?: number
      readonly whole?: boolean
      readonly optional?: boolean
      /** What an empty optional field means. */
      readonly empty?: string
    }
  | {
      readonly id: string
      readonly name: string
      readonly kind: 'choice'
      readonly default: string
      readonly choices: readonly { readonly id: string; readonly name: string }[]
    }
  | {
      readonly id: string
      readonly name: string
      /** Complex numbers as [re, im], or real numbers. */
      readonly kind: 'roots' | 'numbers'
      readonly unit: string
      readonly optional?: boolean
    }

/** Limits of the level against that at a reference frequency, at points between which they run straight over log f. */
export interface Limits {
  readonly name: string
  /** Hz */
  readonly reference: number
  readonly points: readonly LimitPoint[]
}

/** [Hz, lowest dB or −∞, highest dB or ∞] */
export type LimitPoint = readonly [frequency: number, lowest: number, highest: number]

/** What stands in the way of a shape: which field, what is wrong, what would be right. */
export interface ShapeProblem {
  readonly field: string
  readonly problem: string
  readonly fix: string
}

/**
 * A response that follows from its own parameters, without an approximation. Each stands in a file of its own and in
 * `shapes` (index.ts); schema, form, command line and documentation read that list.
 */
export interface Shape<V = Record<string, unknown>> {
  readonly id: string
  /** As in "a low-shelf response". */
  readonly name: string
  /** One line for people choosing. */
  readonly character: string
  /** Published source of the formulas, or that there is none. */
  readonly source: string
  readonly formulas: readonly string[]
  readonly fields: readonly ShapeField[]
  /** What the fields' own bounds do not say. */
  problem?(values: V): ShapeProblem | null
  /** Every frequency passes alike: what it does is seen in its phase. */
  readonly turnsPhase?: true
  /** Level 1 where nothing is raised or lowered. */
  transfer(values: V): TransferFunction
  /** Frequencies that a diagram shows, Hz. */
  marks(values: V): number[]
  limits?(values: V): Limits
}

/** The schema that a shape's fields describe. */
export function schemaOf(shape: Shape): z.ZodType {
  return z.strictObject(Object.fromEntries(shape.fields.map((field) => [field.id, fieldSchema(field)])), {
    error: `A ${shape.name} response needs "shape": { ${shape.fields.map((f) => `"${f.id}"`).join(', ')} }.`,
  })
}

function fieldSchema(field: ShapeField): z.ZodType {
  if (field.kind === 'choice')
    return z
      .enum(field.choices.map((c) => c.id) as [string, ...string[]], {
        error: `${field.name}: one of ${field.choices.map((c) => `"${c.id}"`).join(', ')}.`,
      })
      .default(field.default)
  if (field.kind !== 'quantity') {
    const entry = field.kind === 'roots' ? z.tuple([z.number(), z.number()]) : z.number()
    const kind = field.kind === 'roots' ? 'a list of complex numbers [re, im]' : 'a list of numbers'
    const list = z
      .array(entry, { error: `${field.name}: ${kind}.` })
      .max(MOST_ENTRIES, `At most ${MOST_ENTRIES} entries.`)
    return field.optional ? list.optional() : list
  }
  let value = z.number({ error: `The ${field.name.toLowerCase()} is missing or is not a number.` })
  if (field.whole) value = value.int({ error: `The ${field.name.toLowerCase()} must be a whole number.` })
  const unit = field.unit && ` ${field.unit}`
  if (field.least !== undefined)
    value = value.min(field.least, `The ${field.name.toLowerCase()} must be at least ${field.least}${unit}.`)
  if (field.above !== undefined)
    value = value.gt(field.above, `The ${field.name.toLowerCase()} must be above ${field.above}${unit}.`)
  if (field.most !== undefined)
    value = value.max(field.most, `The ${field.name.toLowerCase()} must be at most ${field.most}${unit}.`)
  return field.optional ? value.optional() : value
}

/** Poles, zeros or coefficients that can be typed. */
const MOST_ENTRIES = 40

/** A frequency field. */
export const frequencyField = (id: string, name: string, value: number): ShapeField => ({
  id,
  name,
  kind: 'quantity',
  unit: 'Hz',
  default: value,
  above: 0,
  most: 1e12,
})
