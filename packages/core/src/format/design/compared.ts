import { z } from 'zod'
import type { Design } from './Design.js'

/** Most things that stand beside a design's own curves. */
export const MOST_COMPARED = 30

/** A pinned run or what was measured, drawn beside the design's own curves; its numbers are kept apart (../kept). */
export const ComparedSchema = z.strictObject({
  /** Under which it is kept. */
  id: z.string().regex(/^[\w-]{1,100}$/, 'This is no name of kept curves.'),
  kind: z.enum(['run', 'data']),
  /** What it is called here. */
  name: z.string().trim().min(1, 'It needs a name.').max(80, 'A name has at most 80 characters.'),
  note: z.string().max(2000, 'A note has at most 2000 characters.').optional(),
  /** It is not drawn at present. */
  hidden: z.boolean().optional(),
})
export type Compared = z.output<typeof ComparedSchema>

/** The design with one thing more beside its curves; of one that is there already, what is said now. */
export function withCompared(design: Design, compared: Compared): Design {
  const before = design.compared ?? []
  const known = before.some((c) => c.id === compared.id)
  return {
    ...design,
    compared: known ? before.map((c) => (c.id === compared.id ? compared : c)) : [...before, compared],
  }
}

/** The design without something that stood beside its curves; it stays where it is kept. */
export function withoutCompared(design: Design, id: string): Design {
  const { compared = [], ...rest } = design
  const others = compared.filter((c) => c.id !== id)
  return others.length > 0 ? { ...rest, compared: others } : rest
}
