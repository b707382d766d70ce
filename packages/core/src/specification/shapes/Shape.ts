import { MOST_FREQUENCY } from '../frequency.js'
import { z } from 'zod'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import { type ChoiceField, fieldSchema, type QuantityField } from '../fields.js'

interface ListField {
  readonly id: string
  readonly name: string
  /** Complex numbers as [re, im], real numbers, or points [Hz, lowest, highest] with null for no limit. */
  readonly kind: 'roots' | 'numbers' | 'limits'
  readonly unit: string
  readonly optional?: boolean
}

/** A field of a shape, as schema and form take it. */
export type ShapeField = QuantityField | ChoiceField | ListField

/** Limits of the level at points between which they run straight over log f. */
export interface Limits {
  readonly name: string
  /** The frequency, Hz, against whose level they stand; null where they are levels themselves. */
  readonly reference: number | null
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
  return z.strictObject(Object.fromEntries(shape.fields.map((field) => [field.id, shapeFieldSchema(field)])), {
    error: `A ${shape.name} response needs "shape": { ${shape.fields.map((f) => `"${f.id}"`).join(', ')} }.`,
  })
}

function shapeFieldSchema(field: ShapeField): z.ZodType {
  if (field.kind === 'choice' || field.kind === 'quantity') return fieldSchema(field)
  const { entry, kind } = ENTRIES[field.kind]
  const list = z
    .array(entry, { error: `${field.name}: ${kind}.` })
    .max(MOST_ENTRIES, `At most ${MOST_ENTRIES} entries.`)
  return field.optional ? list.optional() : list
}

const limit = z.number().nullable()
const ENTRIES = {
  roots: { entry: z.tuple([z.number(), z.number()]) as z.ZodType, kind: 'a list of complex numbers [re, im]' },
  numbers: { entry: z.number() as z.ZodType, kind: 'a list of numbers' },
  limits: {
    entry: z.tuple([z.number(), limit, limit]) as z.ZodType,
    kind: 'a list of [Hz, lowest, highest], null where there is no limit',
  },
}

/** Poles, zeros, coefficients or points that can be typed. */
const MOST_ENTRIES = 40

/** The class of a standard's limits. */
export const CLASS_FIELD: ShapeField = {
  id: 'class',
  name: 'Class',
  kind: 'choice',
  default: '1',
  choices: [
    { id: '1', name: 'Class 1' },
    { id: '2', name: 'Class 2' },
  ],
}

/** A frequency field. */
export const frequencyField = (id: string, name: string, value: number): ShapeField => ({
  id,
  name,
  kind: 'quantity',
  unit: 'Hz',
  default: value,
  least: 1 / MOST_FREQUENCY,
  most: MOST_FREQUENCY,
})

/** A limit between two points of a mask, straight over log f; null where it is not set all the way. */
export function limitBetween(a: number, b: number, from: number, to: number): ((f: number) => number) | null {
  if (!Number.isFinite(a) || !Number.isFinite(b) || from === to) return null
  return (f) => a + ((b - a) * Math.log(f / from)) / Math.log(to / from)
}

/** Both limits at a frequency; at a step of the mask those before it. */
export function limitsAt(points: readonly LimitPoint[], f: number): [lowest: number, highest: number] {
  const k = Math.max(
    1,
    points.findIndex(([at]) => at >= f),
  )
  const [[f0, low0, high0], [f1, low1, high1]] = [points[k - 1], points[k]]
  if (f === f1) return [low1, high1]
  if (f === f0) return [low0, high0]
  return [limitBetween(low0, low1, f0, f1)?.(f) ?? -Infinity, limitBetween(high0, high1, f0, f1)?.(f) ?? Infinity]
}
