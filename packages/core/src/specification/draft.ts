import { z } from 'zod'
import type { FilterSpecInput } from './filterSpec.js'
import { RESPONSES } from './responses.js'
import { shapes } from './shapes/index.js'
import type { ShapeField } from './shapes/Shape.js'

/** Numbers and texts as a form holds them while they are typed: of the right type, of any value. */
const number = z.number().optional()
const COMMON = {
  gain: number,
  realization: z.looseObject({ family: z.string() }).optional(),
  requirements: z.array(z.looseObject({ kind: z.string(), limit: z.number() })).optional(),
}

const ApproximatedDraft = z.strictObject({
  ...COMMON,
  response: z.enum(RESPONSES.map((r) => r.id)),
  approximation: z.string(),
  order: number,
  passband: z.strictObject({ edges: z.array(z.number()), ripple: number }),
  stopband: z
    .strictObject({
      edges: z.array(z.number()).optional(),
      attenuation: z.union([z.number(), z.tuple([z.number(), z.number()])]),
    })
    .optional(),
  phaseRipple: number,
  breakDb: number,
  mix: number,
  delay: number,
  evenOrder: z.string().optional(),
  equalizer: z.strictObject({ sections: number, ripple: number, from: number, to: number }).optional(),
  pin: z.string().optional(),
})

/** What each kind of a shape's field holds. */
const FIELD_TYPES: Readonly<Record<ShapeField['kind'], z.ZodType>> = {
  quantity: z.number(),
  choice: z.string(),
  numbers: z.array(z.number()),
  roots: z.array(z.tuple([z.number(), z.number()])),
  limits: z.array(z.array(z.number().nullable())),
}

const shapedDrafts = shapes.map(({ id, fields }) =>
  z.strictObject({
    ...COMMON,
    response: z.literal(id),
    shape: z.strictObject(Object.fromEntries(fields.map((f) => [f.id, FIELD_TYPES[f.kind].optional()]))),
  }),
)

/**
 * A specification as it is being typed, from what was kept of it: what a form can show and have corrected. It need not be
 * one that can be used (`specIssues`).
 *
 * @returns null where it is nothing that a form can show
 */
export function readDraft(value: unknown): FilterSpecInput | null {
  for (const schema of [ApproximatedDraft, ...shapedDrafts]) {
    const parsed = schema.safeParse(value)
    if (parsed.success) return parsed.data as FilterSpecInput
  }
  return null
}
