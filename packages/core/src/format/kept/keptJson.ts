import { z } from 'zod'
import { factsOf } from './packKept.js'
import { type KeptColumn, type KeptCurves, KeptSchema } from './KeptCurves.js'

const NumbersSchema = z.array(z.record(z.string(), z.array(z.number().nullable())))

/** Kept curves as a project file holds them: what is said of them, and their numbers in lists, null for what is no number. */
export const KeptJsonSchema = z
  .strictObject({
    id: z.string().regex(/^[\w-]{1,100}$/, 'This is no name of kept curves.'),
    facts: KeptSchema,
    numbers: NumbersSchema,
  })
  .refine(
    ({ facts, numbers }) =>
      numbers.length === facts.curves.length &&
      facts.curves.every(({ columns, length }, k) => columns.every((c) => numbers[k][c]?.length === length)),
    { error: 'The numbers are not those that the facts announce.' },
  )
export type KeptJson = z.output<typeof KeptJsonSchema>

export const keptJson = (id: string, kept: KeptCurves): KeptJson => ({
  id,
  facts: factsOf(kept),
  numbers: kept.curves.map(({ numbers }) =>
    Object.fromEntries(
      Object.entries(numbers).map(([column, values]) => [
        column,
        Array.from(values, (v) => (Number.isFinite(v) ? v : null)),
      ]),
    ),
  ),
})

/** @param json checked by the schema */
export function keptOfJson({ facts, numbers }: KeptJson): KeptCurves {
  const { curves, ...rest } = facts
  return {
    ...rest,
    curves: curves.map(({ columns, length: _length, ...curve }, k) => ({
      ...curve,
      numbers: Object.fromEntries(
        columns.map((column: KeptColumn) => [column, Float64Array.from(numbers[k][column], (v) => v ?? NaN)]),
      ),
    })),
  }
}
