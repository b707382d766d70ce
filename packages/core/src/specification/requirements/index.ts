import { z } from 'zod'
import { frequencyOf } from '../frequency.js'
import { attenuation } from './attenuation.js'
import { cutoff } from './cutoff.js'
import { delayAt } from './delayAt.js'
import { delayVariation } from './delayVariation.js'
import { gainAt } from './gainAt.js'
import { impedanceLeast } from './impedanceLeast.js'
import { impedanceMost } from './impedanceMost.js'
import { largestInductor } from './largestInductor.js'
import { overshoot } from './overshoot.js'
import { amplifiers } from './amplifiers.js'
import { parts } from './parts.js'
import { phaseAt } from './phaseAt.js'
import { phaseLinearity } from './phaseLinearity.js'
import { ringing } from './ringing.js'
import { riseTime } from './riseTime.js'
import { settlingTime } from './settlingTime.js'
import { stepDelay } from './stepDelay.js'
import { ValueRequirementSchema } from './value.js'
import { valueSpread } from './valueSpread.js'
import type { RequirementKind } from './RequirementKind.js'

/** Every kind of requirement. A new one is one file beside these and one line here. */
export const REQUIREMENT_KINDS = [
  overshoot,
  riseTime,
  settlingTime,
  stepDelay,
  attenuation,
  gainAt,
  phaseAt,
  phaseLinearity,
  delayVariation,
  delayAt,
  cutoff,
  ringing,
  impedanceLeast,
  impedanceMost,
  parts,
  amplifiers,
  largestInductor,
  valueSpread,
] as const satisfies readonly RequirementKind[]

export type RequirementId = (typeof REQUIREMENT_KINDS)[number]['kind']

export const requirementKindOf = (kind: RequirementId): RequirementKind =>
  REQUIREMENT_KINDS.find((k) => k.kind === kind)!

/** A limit on something that its kind knows how to find. */
const LimitRequirementSchema = z
  .strictObject({
    kind: z.enum(
      REQUIREMENT_KINDS.map((k) => k.kind),
      { error: `Requirements are of kind ${REQUIREMENT_KINDS.map((k) => k.kind).join(', ')}.` },
    ),
    limit: z.number({ error: 'The limit is missing or is not a number.' }).min(0, 'The limit must not be negative.'),
    /** Hz */
    at: frequencyOf('frequency').optional(),
    from: frequencyOf('lower frequency').optional(),
    to: frequencyOf('upper frequency').optional(),
    /** What the limit is a tolerance of. */
    target: z.number({ error: 'The wanted value is not a number.' }).optional(),
  })
  .superRefine((given, context) => {
    const { at, target, name } = requirementKindOf(given.kind)
    const wants = {
      at: at === 'frequency',
      from: at === 'band',
      to: at === 'band',
      target: target !== undefined,
    }
    for (const field of ['at', 'from', 'to', 'target'] as const) {
      if (wants[field] === (given[field] !== undefined)) continue
      context.addIssue({
        code: 'custom',
        path: [field],
        message: wants[field] ? `${name} needs "${field}".` : `${name} takes no "${field}".`,
      })
    }
    if (given.from !== undefined && given.to !== undefined && given.from >= given.to)
      context.addIssue({ code: 'custom', path: ['to'], message: 'The upper frequency must be above the lower one.' })
  })

export type LimitRequirement = z.output<typeof LimitRequirementSchema>

/** One requirement of a specification: a limit of a kind that is known by name, or on anything that can be read. */
export const RequirementSchema = z.discriminatedUnion('kind', [LimitRequirementSchema, ValueRequirementSchema], {
  error: `Requirements are of kind ${[...REQUIREMENT_KINDS.map((k) => k.kind), 'value'].join(', ')}.`,
})

export type AskedRequirement = z.output<typeof RequirementSchema>

export const isLimit = (asked: AskedRequirement): asked is LimitRequirement => asked.kind !== 'value'

/** Whether the response decides it, so that another order may meet it. */
export const ofResponse = (asked: AskedRequirement): boolean =>
  isLimit(asked) && !requirementKindOf(asked.kind).ofCircuit
