import { z } from 'zod'

/** A kind of requirement besides pass- and stop band, as schema, form and ledger take it. */
export interface RequirementKind {
  readonly kind: string
  readonly name: string
  /** Of its limit. */
  readonly unit: string
  readonly sense: 'at most' | 'at least'
  /** What it is asked at: one frequency, a band, or nothing. */
  readonly at: 'none' | 'frequency' | 'band'
  /** Unit of a wanted value that the limit is a tolerance of. */
  readonly target?: string
  /** The response alone does not tell it. */
  readonly ofCircuit?: true
  /** The stage that shows it. */
  readonly decided: 'frequency' | 'time' | 'circuit'
}

/** Every kind. A new one is one line here and how it is judged in verdict/. */
export const REQUIREMENT_KINDS = [
  { kind: 'overshoot', name: 'Overshoot', unit: '%', sense: 'at most', at: 'none', decided: 'time' },
  { kind: 'rise-time', name: 'Rise time', unit: 's', sense: 'at most', at: 'none', decided: 'time' },
  { kind: 'settling-time', name: 'Settling to 1 %', unit: 's', sense: 'at most', at: 'none', decided: 'time' },
  { kind: 'step-delay', name: 'Delay to 50 %', unit: 's', sense: 'at most', at: 'none', decided: 'time' },
  { kind: 'attenuation', name: 'Attenuation', unit: 'dB', sense: 'at least', at: 'band', decided: 'frequency' },
  { kind: 'gain-at', name: 'Gain', unit: 'dB', sense: 'at most', at: 'frequency', target: 'dB', decided: 'frequency' },
  { kind: 'phase-at', name: 'Phase', unit: '°', sense: 'at most', at: 'frequency', target: '°', decided: 'frequency' },
  { kind: 'phase-linearity', name: 'Phase linearity', unit: '°', sense: 'at most', at: 'band', decided: 'frequency' },
  { kind: 'delay-variation', name: 'Delay variation', unit: 's', sense: 'at most', at: 'band', decided: 'frequency' },
  { kind: 'delay-at', name: 'Group delay', unit: 's', sense: 'at most', at: 'frequency', decided: 'frequency' },
  { kind: 'cutoff', name: 'Cutoff', unit: '%', sense: 'at most', at: 'none', target: 'Hz', decided: 'frequency' },
  { kind: 'ringing', name: 'Ringing', unit: '%', sense: 'at most', at: 'none', decided: 'time' },
  {
    kind: 'impedance-least',
    name: 'Impedance',
    unit: 'Ω',
    sense: 'at least',
    at: 'band',
    decided: 'frequency',
    ofCircuit: true,
  },
  {
    kind: 'impedance-most',
    name: 'Impedance',
    unit: 'Ω',
    sense: 'at most',
    at: 'band',
    decided: 'frequency',
    ofCircuit: true,
  },
  { kind: 'parts', name: 'Parts', unit: '', sense: 'at most', at: 'none', decided: 'circuit', ofCircuit: true },
  {
    kind: 'largest-inductor',
    name: 'Largest inductor',
    unit: 'H',
    sense: 'at most',
    at: 'none',
    decided: 'circuit',
    ofCircuit: true,
  },
  {
    kind: 'value-spread',
    name: 'Spread of values',
    unit: '',
    sense: 'at most',
    at: 'none',
    decided: 'circuit',
    ofCircuit: true,
  },
] as const satisfies readonly RequirementKind[]

export type RequirementId = (typeof REQUIREMENT_KINDS)[number]['kind']

const frequency = (name: string) =>
  z
    .number({ error: `The ${name} is missing or is not a number.` })
    .positive(`The ${name} must be above 0 Hz.`)
    .max(1e12, `The ${name} is above 1e12 Hz.`)

/** One requirement of a specification. */
export const RequirementSchema = z
  .strictObject({
    kind: z.enum(
      REQUIREMENT_KINDS.map((k) => k.kind),
      { error: `Requirements are of kind ${REQUIREMENT_KINDS.map((k) => k.kind).join(', ')}.` },
    ),
    limit: z.number({ error: 'The limit is missing or is not a number.' }).min(0, 'The limit must not be negative.'),
    /** Hz */
    at: frequency('frequency').optional(),
    from: frequency('lower frequency').optional(),
    to: frequency('upper frequency').optional(),
    /** What the limit is a tolerance of. */
    target: z.number({ error: 'The wanted value is not a number.' }).optional(),
  })
  .superRefine((given, context) => {
    const { at, target, name }: RequirementKind = REQUIREMENT_KINDS.find((k) => k.kind === given.kind)!
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

/** Whether the response decides it, so that another order may meet it. */
export const ofResponse = ({ kind }: { kind: RequirementId }): boolean =>
  !(REQUIREMENT_KINDS.find((k) => k.kind === kind) as RequirementKind).ofCircuit

export type AskedRequirement = z.output<typeof RequirementSchema>
