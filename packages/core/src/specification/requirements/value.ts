import { z } from 'zod'
import { frequencyOf } from '../frequency.js'
import { MEASURES, measureOf } from './measures.js'

/** Hz: analyses of small circuits reach farther than specifications. */
const REACH = 1e15

/** How a complex number is read. */
export const READ_AS = ['db', 'abs', 'deg', 're', 'im'] as const
export type ReadAs = (typeof READ_AS)[number]

/** What is taken of a curve between two places. */
export const TAKEN = ['least', 'greatest', 'peak-to-peak', 'mean', 'rms'] as const
export type Taken = (typeof TAKEN)[number]

const signal = z
  .string({ error: 'The signal is missing or is no text.' })
  .min(1, 'The signal is empty.')
  .max(1000, 'A signal has at most 1000 characters.')
const number = (name: string) => z.number({ error: `The ${name} is missing or is not a number.` })
const readAs = z.enum(READ_AS, { error: `"as" is one of ${READ_AS.join(', ')}.` })

const OfMeasure = z.strictObject({
  measure: z.string({ error: 'The measure is missing or is no text.' }).refine((path) => measureOf(path) !== null, {
    error: `There is no such measure. Measures are ${MEASURES.map((m) => m.path).join(', ')}.`,
  }),
  output: signal.optional(),
})
const AtFrequency = z.strictObject({
  signal,
  /** Hz */
  frequency: frequencyOf('frequency', REACH),
  as: readAs,
})
const AtRest = z.strictObject({ signal, operatingPoint: z.literal(true, { error: '"operatingPoint" is true.' }) })
const OverRange = z
  .strictObject({
    signal,
    from: number('begin of the range').min(0, 'A range begins at 0 or later.'),
    to: number('end of the range'),
    take: z.enum(TAKEN, { error: `"take" is one of ${TAKEN.join(', ')}.` }),
    /** In time, from the operating point, where nothing is said. */
    over: z.enum(['frequency', 'time'], { error: '"over" is frequency or time.' }).optional(),
    as: readAs.optional(),
  })
  .superRefine(({ from, to, over, as }, context) => {
    const issue = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message })
    if (!(to > from)) issue('to', 'The range must end above its begin.')
    if (over === 'frequency') {
      const wrong = frequencyOf('begin of the range', REACH).safeParse(from).error
      if (wrong) issue('from', wrong.issues[0]!.message)
    }
    if (over === 'frequency' && as === undefined)
      issue('as', `Over frequency "as" says how it is read: ${READ_AS.join(', ')}.`)
    if (over !== 'frequency' && as !== undefined)
      issue('as', 'Over time a signal is read as it stands: leave out "as".')
  })

const OfNoise = z
  .strictObject({
    /** The net or current whose noise it is. */
    noise: signal,
    /** Hz */
    from: frequencyOf('begin of the range', REACH),
    to: frequencyOf('end of the range', REACH),
    /** An effective value, V or A: it is read as the signal over the noise, dB. */
    level: number('level').positive('The level must be above 0.').optional(),
  })
  .refine(({ from, to }) => to > from, { path: ['to'], error: 'The range must end above its begin.' })

/** What can be read of a circuit. */
export const ReadingSchema = z.union([OfMeasure, AtFrequency, AtRest, OverRange, OfNoise], {
  error: (issue) => problemOf(issue.input),
})
export type ValueReading = z.output<typeof ReadingSchema>

/** What is wrong with a reading: in the words of the form that it comes nearest to. */
function problemOf(input: unknown): string {
  if (typeof input !== 'object' || input === null) return 'What is promised is missing: "of".'
  const form =
    'measure' in input
      ? OfMeasure
      : 'operatingPoint' in input
        ? AtRest
        : 'frequency' in input
          ? AtFrequency
          : 'noise' in input
            ? OfNoise
            : 'from' in input || 'to' in input || 'take' in input
              ? OverRange
              : null
  if (!form)
    return 'What is promised is one of { "measure" }, { "signal", "frequency", "as" }, { "signal", "operatingPoint": true }, { "signal", "from", "to", "take" }, { "noise", "from", "to" }.'
  const [issue] = form.safeParse(input).error?.issues ?? []
  return issue ? issue.message : 'This is not understood.'
}

/** Anything that can be read, promised between two limits. */
export const ValueRequirementSchema = z
  .strictObject({
    kind: z.literal('value'),
    /** Its name in the ledger. */
    id: z
      .string({ error: 'A promised value needs a name: "id".' })
      .trim()
      .min(1, 'A promised value needs a name: "id".')
      .max(80, 'A name has at most 80 characters.'),
    of: ReadingSchema,
    min: number('least value').optional(),
    max: number('greatest value').optional(),
  })
  .superRefine(({ min, max }, context) => {
    const issue = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message })
    if (min === undefined && max === undefined) issue('min', 'It needs "min", "max" or both.')
    if (min !== undefined && max !== undefined && min > max) issue('max', 'The greatest value is below the least.')
  })
export type ValueRequirement = z.output<typeof ValueRequirementSchema>
