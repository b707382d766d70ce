import { z } from 'zod'
import { type CircuitEdit } from './CircuitEdit.js'
import { setFormula } from './setFormula.js'
import { setProperties } from './setProperties.js'
import { setValue } from './setValue.js'

const schema = z.strictObject({
  rows: z
    .array(
      z.strictObject({
        part: z.string(),
        field: z.string().optional(),
        value: z.number().optional(),
        formula: z.string().max(1000).optional(),
        /** Relative; null takes it back. */
        tolerance: z.number().min(0).max(1).nullable().optional(),
      }),
    )
    .min(1),
})
type Row = z.output<typeof schema>['rows'][number]

/** Values and tolerances of several parts at once, as a table has them. */
export const setValues: CircuitEdit<z.output<typeof schema>, 'set-values'> = {
  id: 'set-values',
  schema,
  label: ({ rows }) => (rows.length === 1 ? `value of ${rows[0].part}` : `values of ${rows.length} parts`),
  apply: (circuit, { rows }) => rows.flatMap(stepsOf).reduce((c, step) => step.apply(c), circuit),
  says: ({ rows }, circuit) => rows.flatMap(stepsOf).flatMap((step) => step.says(circuit)),
}

function stepsOf({ part, field, value, formula, tolerance }: Row) {
  const step = <A>(edit: CircuitEdit<A>, args: A) => ({
    apply: (c: Parameters<typeof edit.apply>[0]) => edit.apply(c, args),
    says: (c: Parameters<typeof edit.apply>[0]) => edit.says?.(args, c) ?? [],
  })
  return [
    ...(field !== undefined && formula !== undefined ? [step(setFormula, { part, field, formula })] : []),
    ...(field !== undefined && formula === undefined && value !== undefined
      ? [step(setValue, { part, field, value })]
      : []),
    ...(tolerance !== undefined ? [step(setProperties, { parts: [part], say: { tolerance } })] : []),
  ]
}
