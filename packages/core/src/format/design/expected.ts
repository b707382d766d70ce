import { z } from 'zod'
import { ReadingSchema } from '../../specification/requirements/value.js'

/** A number that somebody found by hand for what can be read, and how far from it the circuit may be. */
export const ExpectedSchema = z.strictObject({
  /** Its name, in words. */
  id: z.string().trim().min(1, 'It needs a name.').max(80, 'A name has at most 80 characters.'),
  of: ReadingSchema,
  value: z.number({ error: 'The expected value is not a number.' }),
  /** % of the expected value, to both sides. */
  tolerance: z.number({ error: 'The tolerance is not a number.' }).min(0, 'A tolerance is 0 % or more.').default(5),
})
export type Expected = z.output<typeof ExpectedSchema>

/** Most of them in a design. */
export const MOST_EXPECTED = 100

/** How far something is from what was expected. */
export interface Deviation {
  /** % of the expected value; of an expected zero the difference itself. */
  readonly percent: number
  readonly isWithin: boolean
}

/** @param found what the circuit has */
export function deviationOf({ value, tolerance }: Pick<Expected, 'value' | 'tolerance'>, found: number): Deviation {
  const percent = value === 0 ? found : (100 * (found - value)) / Math.abs(value)
  return { percent, isWithin: Math.abs(percent) <= tolerance * (1 + 1e-9) }
}
