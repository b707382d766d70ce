import { z } from 'zod'

/** A place that is kept on a design's diagrams. */
export const CursorSchema = z
  .strictObject({
    /** A letter or a word beside its line. */
    name: z.string().trim().min(1, 'A cursor needs a name.').max(20, 'A name has at most 20 characters.'),
    over: z.enum(['frequency', 'time']),
    /** The curve that it stands on, as `parseSignal` reads it; left out, the output's. */
    on: z.string().min(1).max(1000).optional(),
    /** Hz or s */
    at: z.number({ error: 'The place is not a number.' }),
    /** A source that follows its frequency. */
    drives: z
      .strictObject({
        source: z.string().min(1),
        shape: z.enum(['sine', 'square']),
        /** s after which what is looked at has settled; left out, it is looked at from rest. */
        after: z.number().min(0).optional(),
      })
      .optional(),
  })
  .superRefine(({ over, at }, context) => {
    if (over === 'frequency' && !(at > 0))
      context.addIssue({ code: 'custom', path: ['at'], message: 'A frequency is above 0 Hz.' })
    if (over === 'time' && !(at >= 0))
      context.addIssue({ code: 'custom', path: ['at'], message: 'A time is 0 s or later.' })
  })
export type Cursor = z.output<typeof CursorSchema>

/** Most cursors of a design. */
export const MOST_CURSORS = 50

const LETTERS = 'abcdefghijklmnopqrstuvwxyz'

/** A name that no cursor has yet: a letter, with a number behind it once the letters are used. */
export function freeCursorName(cursors: readonly Pick<Cursor, 'name'>[]): string {
  const taken = new Set(cursors.map((c) => c.name))
  for (let round = 0; ; round++)
    for (const letter of LETTERS) {
      const name = round === 0 ? letter : `${letter}${round + 1}`
      if (!taken.has(name)) return name
    }
}
