import { z } from 'zod'

/** Most curves of one run or one table, and most points of all of them together. */
export const MOST_KEPT_CURVES = 60
export const MOST_KEPT_NUMBERS = 12_000_000

/** What a column of a curve may be: Hz or s; the unit of the curve; dB; degrees; s. */
const COLUMNS = ['x', 're', 'im', 'db', 'phase', 'delay', 'value'] as const
export type KeptColumn = (typeof COLUMNS)[number]

const CurveSchema = z
  .strictObject({
    /** What it is of, as `parseSignal` reads it. */
    signal: z.string().min(1).max(1000),
    /** What a table calls it. */
    name: z.string().max(200).optional(),
    over: z.enum(['frequency', 'time']),
    /** SI */
    unit: z.string().max(20),
    /** 10 dB a decade. */
    isPower: z.boolean().optional(),
    /** In dB or degrees already. */
    isLevel: z.boolean().optional(),
    columns: z.array(z.enum(COLUMNS)).min(2).max(COLUMNS.length),
    length: z.number().int().min(1).max(MOST_KEPT_NUMBERS),
  })
  .refine(({ columns }) => columns[0] === 'x' && new Set(columns).size === columns.length, {
    error: 'A curve begins with its x, and has each column once.',
    path: ['columns'],
  })

/** What is said of kept curves besides their numbers. */
export const KeptSchema = z.strictObject({
  /** A run of the circuit, or what was measured. */
  kind: z.enum(['run', 'data']),
  name: z.string().trim().min(1, 'It needs a name.').max(80, 'A name has at most 80 characters.'),
  note: z.string().max(2000, 'A note has at most 2000 characters.').optional(),
  /** Name of the design that it was pinned in. */
  from: z.string().max(200).optional(),
  curves: z.array(CurveSchema).min(1, 'There is no curve.').max(MOST_KEPT_CURVES),
  /** What was measured then, by the paths of measures. */
  measures: z.record(z.string().max(100), z.number()).optional(),
  /** Values of the parts of a run, as they are written. */
  parts: z.record(z.string().max(200), z.string().max(200)).optional(),
  /** What was assumed when a table was read. */
  notes: z.array(z.string().max(1000)).max(20).optional(),
})
export type KeptFacts = z.output<typeof KeptSchema>
export type KeptFactsOfCurve = KeptFacts['curves'][number]

/** A curve with its numbers, one array a column. */
export interface KeptCurve extends Omit<KeptFactsOfCurve, 'columns' | 'length'> {
  readonly numbers: Readonly<Partial<Record<KeptColumn, Float64Array>>>
}

/** Curves that stay when what made them changes. */
export interface KeptCurves extends Omit<KeptFacts, 'curves'> {
  readonly curves: readonly KeptCurve[]
}
