import { z } from 'zod'
import { VoskelError } from '../errors/VoskelError.js'
import { formatExact } from '../quantity/formatQuantity.js'
import { frequencyOf } from './frequency.js'
import { ofResponse, REQUIREMENT_KINDS, RequirementSchema } from './requirements/index.js'
import { type ResponseKind, RESPONSES } from './responses.js'
import { shapes } from './shapes/index.js'
import { schemaOf, type Shape } from './shapes/Shape.js'

/** Highest order of the low-pass prototype. */
export const MAX_ORDER = 20

/** Loss at the half-power frequency, 10·log10(2) ≈ 3.0103 dB. */
export const HALF_POWER_DB = 10 * Math.log10(2)

/**
 * Forms of even orders for ladders: `b` falls to nothing at infinity, as every ladder without coupled coils does; `c` also
 * loses nothing at DC, as every ladder between equal resistances does.
 */
export const EVEN_ORDERS = ['b', 'c'] as const
export type EvenOrder = (typeof EVEN_ORDERS)[number]

/** Sections of a delay equaliser at the most. */
export const MOST_SECTIONS = 12

/** Most attenuation that may be asked for, dB: 10^(300/20) still leaves a double its digits. */
const MAX_ATTENUATION_DB = 300

const positive = (name: string, unit: string) =>
  z
    .number({ error: `The ${name} is missing or is not a number.` })
    .positive({ error: `The ${name} must be above 0${unit ? ` ${unit}` : ''}.` })

const attenuation = positive('attenuation', 'dB').max(MAX_ATTENUATION_DB, {
  error: `The attenuation must be at most ${MAX_ATTENUATION_DB} dB.`,
})

/** What every specification may say. */
const COMMON = {
  gain: z.number({ error: 'The gain is not a number.' }).min(-200).max(200).default(0),
  realization: z.looseObject({ family: z.string({ error: 'The realization names no family.' }) }).optional(),
  requirements: z.array(RequirementSchema).optional(),
}

/** A response by an approximation: bands, ripple, order. */
const ApproximatedSchema = z.strictObject({
  response: z.enum(RESPONSES.map((r) => r.id)),
  approximation: z.string({ error: 'The approximation is missing.' }),
  order: z
    .int({ error: 'The order must be a whole number.' })
    .min(1, { error: 'The order must be at least 1.' })
    .max(MAX_ORDER, { error: `The order must be at most ${MAX_ORDER}.` })
    .optional(),
  passband: z.strictObject(
    {
      edges: z.array(frequencyOf('passband edge'), { error: 'The passband edges are a list of frequencies in Hz.' }),
      ripple: positive('ripple', 'dB').max(20, { error: 'The ripple must be at most 20 dB.' }).optional(),
    },
    { error: 'The passband is missing: { "edges": [Hz], "ripple": dB }.' },
  ),
  stopband: z
    .strictObject({
      edges: z.array(frequencyOf('stop-band edge')).optional(),
      attenuation: z.union([attenuation, z.tuple([attenuation, attenuation])], {
        error: ({ input }) =>
          Array.isArray(input)
            ? 'Two attenuations are one for each side, [lower, upper], in dB above 0.'
            : typeof input === 'number' && input > 0
              ? `The attenuation must be at most ${MAX_ATTENUATION_DB} dB.`
              : 'The attenuation is missing, not a number, or not above 0 dB.',
      }),
    })
    .optional(),
  ...COMMON,
  /** Linear phase: greatest deviation, degrees. */
  phaseRipple: positive('phase ripple', '°').max(5, { error: 'The phase ripple must be at most 5°.' }).optional(),
  /** Gaussian: loss to which the magnitude follows the curve, dB. */
  breakDb: z.number().min(3, 'The break must be at least 3 dB.').max(20, 'The break must be at most 20 dB.').optional(),
  /** Butterworth–Thomson: 0 … 1. */
  mix: z.number().min(0, 'The mix must be 0 to 1.').max(1, 'The mix must be 0 to 1.').optional(),
  /** Bessel: delay at DC, s, which then rules instead of the passband edge. */
  delay: positive('delay', 's').optional(),
  /** The form of even orders that ladders need. */
  evenOrder: z.enum(EVEN_ORDERS, { error: 'The form of even orders is "b" or "c".' }).optional(),
  /** All-pass sections behind the filter that flatten its group delay: in the passband where no band is given. */
  equalizer: z
    .strictObject(
      {
        sections: z
          .int({ error: 'The number of sections must be a whole number.' })
          .min(1, 'At least one section.')
          .max(MOST_SECTIONS, `At most ${MOST_SECTIONS} sections.`)
          .optional(),
        ripple: positive('delay ripple', 's').optional(),
        from: z
          .number({ error: 'The lower end is not a number.' })
          .min(0, 'The lower end must not be negative.')
          .optional(),
        to: frequencyOf('upper end of the equalised band').optional(),
      },
      { error: 'An equalizer is { "sections": number } or { "ripple": s }, with "from" and "to" in Hz.' },
    )
    .optional(),
  /** Which edge is met exactly where not both can be. */
  pin: z.enum(['passband', 'stopband'], { error: 'The pin is "passband" or "stopband".' }).optional(),
})

/** A response that follows from its own parameters. */
const shapedSchema = (shape: Shape) =>
  z.strictObject({ response: z.literal(shape.id), shape: schemaOf(shape), ...COMMON })

const Union = z.discriminatedUnion('response', [ApproximatedSchema, ...shapes.map(shapedSchema)], {
  error: ({ input }) => {
    const response =
      typeof input === 'object' && input !== null ? (input as { response?: unknown }).response : undefined
    return response === undefined
      ? 'The response is missing.'
      : `The response ${JSON.stringify(response)} is not offered.`
  },
})

/**
 * What is asked of a filter: the specification JSON of the command line, and the one schema from which the forms'
 * and the server's checks follow. Frequencies in Hz, losses in dB, times in s.
 */
// The union over a list tells its types less well than they are known below.
export const FilterSpecSchema = Union as unknown as z.ZodType<FilterSpec, FilterSpecInput>

/** A specification as it may be written: what has a default may be left out. */
export type FilterSpecInput = ApproximatedSpecInput | ShapedSpecInput
export type ApproximatedSpecInput = z.input<typeof ApproximatedSchema>
export type FilterSpec = ApproximatedSpec | ShapedSpec

/** One by an approximation. */
export type ApproximatedSpec = z.output<typeof ApproximatedSchema>

/** One of a shape (specification/shapes/). */
export type ShapedSpec = Pick<ApproximatedSpec, 'gain' | 'realization' | 'requirements'> & Shaped
type ShapedSpecInput = Pick<z.input<typeof ApproximatedSchema>, 'gain' | 'realization' | 'requirements'> & Shaped

interface Shaped {
  response: string
  /** The values of the shape's fields. */
  shape: Record<string, unknown>
}

/** Whether a response follows from its own parameters. */
export const isShaped = <A extends object, S extends Shaped>(spec: A | S): spec is S => 'shape' in spec

/** The shape of a specification that has one. */
export const shapeOf = (spec: Shaped): Shape => shapes.find((s) => s.id === spec.response)!

/** One thing wrong with a specification, at its place. */
export interface SpecIssue {
  /** Path into the specification, such as `passband.edges.0`; empty for the whole. */
  path: string
  problem: string
  fix: string
}

/** Everything that is wrong with a specification as such; empty when it can be used. */
export function specIssues(input: unknown): SpecIssue[] {
  const parsed = FilterSpecSchema.safeParse(withImpliedEdge(input))
  if (!parsed.success) return parsed.error.issues.map(issueOf)
  return crossChecks(parsed.data as FilterSpec)
}

/**
 * The specification with its defaults.
 *
 * @throws VoskelError `SPEC_INVALID` or `NOT_OFFERED`, placed at the field
 */
export function parseSpec(input: unknown): FilterSpec {
  const parsed = FilterSpecSchema.safeParse(withImpliedEdge(input))
  const issues = parsed.success ? crossChecks(parsed.data as FilterSpec) : parsed.error.issues.map(issueOf)
  const first = issues[0]
  if (first) throw new VoskelError('SPEC_INVALID', first, { path: first.path })
  return parsed.data as FilterSpec
}

/** Where a delay at DC rules, an edge that is left out is the frequency at which it is one radian. */
function withImpliedEdge(input: unknown): unknown {
  if (typeof input !== 'object' || input === null || 'shape' in input) return input
  const { delay, passband } = input as { delay?: unknown; passband?: object }
  const isGiven = passband !== undefined && (typeof passband !== 'object' || passband === null || 'edges' in passband)
  if (isGiven || typeof delay !== 'number' || !(delay > 0)) return input
  return { ...input, passband: { ...passband, edges: [1 / (2 * Math.PI * delay)] } }
}

function issueOf(issue: z.core.$ZodIssue): SpecIssue {
  const path = issue.path.map(String)
  if (issue.code === 'unrecognized_keys') {
    return {
      path: [...path, issue.keys[0]].join('.'),
      problem: `"${issue.keys[0]}" is not a field of ${path.length ? path.join('.') : 'a specification'}.`,
      fix: `Remove it, or correct its spelling.`,
    }
  }
  const problem =
    /^[A-Z]/.test(issue.message) && !issue.message.startsWith('Invalid') && !issue.message.startsWith('Too')
      ? issue.message
      : `The value of "${path.join('.') || 'the specification'}" does not fit: ${issue.message}.`
  return { path: path.join('.'), problem, fix: FIXES[path[0] ?? ''] ?? 'Correct this field.' }
}

const FIXES: Readonly<Record<string, string>> = {
  '': 'A specification is a JSON object with response, approximation, passband and more.',
  response: `Offered: ${[...RESPONSES, ...shapes].map((r) => r.id).join(', ')}.`,
  shape: 'Give the values that this response has; docs/guide/specification.md lists them.',
  order: `Give a whole number from 1 to ${MAX_ORDER}, or leave the order out to take the least that meets the stop band.`,
  passband: 'Give "passband": { "edges": [Hz], "ripple": dB } with values above 0.',
  stopband: 'Give "stopband": { "edges": [Hz], "attenuation": dB } with values above 0.',
  gain: 'Give the gain in dB, 0 for none.',
  realization: 'Give "realization": { "family": … }.',
  requirements: `A requirement is { "kind": …, "limit": number } with "at", "from" and "to", or "target" where its kind needs them; kinds: ${REQUIREMENT_KINDS.map((k) => k.kind).join(', ')}.`,
}

/** Parameters that only some approximations have, and which. */
export const OWN_FIELDS = {
  phaseRipple: ['linear-phase'],
  breakDb: ['gaussian'],
  mix: ['transitional'],
  delay: ['bessel'],
  evenOrder: ['chebyshev', 'inverse-chebyshev', 'elliptic'],
} as const

/** Whether an approximation has a parameter of its own. */
export const ownsField = (approximation: string, field: keyof typeof OWN_FIELDS): boolean =>
  OWN_FIELDS[field].some((id) => id === approximation)

function crossChecks(spec: FilterSpec): SpecIssue[] {
  if (!isShaped(spec)) return bandChecks(spec)
  const found = shapeOf(spec).problem?.(spec.shape)
  return found ? [{ path: `shape.${found.field}`, problem: found.problem, fix: found.fix }] : []
}

function bandChecks(spec: ApproximatedSpec): SpecIssue[] {
  const response = RESPONSES.find((r) => r.id === spec.response)!
  const issues = [...edgeIssues(spec, response), ...ownFieldIssues(spec), ...equalizerIssues(spec)]
  const stop = spec.stopband
  if (stop && !response.stops) {
    issues.push({
      path: 'stopband',
      problem: `An ${response.name} response has no stop band.`,
      fix: 'Leave "stopband" out, and give an order.',
    })
  }
  const least = stop && Math.min(...attenuations(stop))
  if (least !== undefined && spec.passband.ripple !== undefined && least <= spec.passband.ripple) {
    issues.push({
      path: 'stopband.attenuation',
      problem: `The attenuation of ${least} dB is no more than the passband's ripple of ${spec.passband.ripple} dB.`,
      fix: `Ask for more than ${spec.passband.ripple} dB.`,
    })
  }
  if (stop && Array.isArray(stop.attenuation) && response.edges === 1) {
    issues.push({
      path: 'stopband.attenuation',
      problem: `A ${response.name} response has one stop band, not two.`,
      fix: 'Give one attenuation in dB.',
    })
  }
  if (spec.order === undefined && !stop?.edges && !spec.requirements?.some(ofResponse)) {
    issues.push({
      path: 'order',
      problem:
        'Neither an order nor a stop band with its edge, nor another requirement on the response is given, so no order follows.',
      fix: `Give an order from 1 to ${MAX_ORDER}, a stop band with edge and attenuation, or requirements that an order can meet.`,
    })
  }
  return issues
}

/** What is asked of each stop band, lower one first; of one alone where there is one. */
export const attenuations = ({ attenuation }: NonNullable<ApproximatedSpec['stopband']>): readonly number[] =>
  Array.isArray(attenuation) ? attenuation : [attenuation]

function edgeIssues({ passband, stopband: stop, pin }: ApproximatedSpec, response: ResponseKind): SpecIssue[] {
  const { edges } = passband
  const two = response.edges === 2
  const example = two ? '[110000, 150000]' : '[20000]'
  const count = `${response.edges} ${two ? 'edges' : 'edge'}`
  if (edges.length !== response.edges) {
    return [
      {
        path: 'passband.edges',
        problem: `A ${response.name} response has ${count}, ${response.meaning}, not ${edges.length}.`,
        fix: `Give "edges": ${example}, in Hz.`,
      },
    ]
  }
  if (two && edges[0] >= edges[1]) {
    return [
      { path: 'passband.edges', problem: 'The passband edges do not ascend.', fix: 'Give the lower frequency first.' },
    ]
  }
  if (pin === 'stopband' && !stop?.edges) {
    return [
      {
        path: 'pin',
        problem: 'The stop-band edge is to rule, but none is given.',
        fix: 'Give "stopband": { "edges": [Hz], … }, or leave "pin" out.',
      },
    ]
  }
  if (!stop?.edges || !response.stops) return []
  if (stop.edges.length !== response.edges) {
    return [
      {
        path: 'stopband.edges',
        problem: `A ${response.name} response has ${count} of its stop band, not ${stop.edges.length}.`,
        fix: `Give ${response.edges === 1 ? 'one frequency' : 'two frequencies'} in Hz, or leave the edges out.`,
      },
    ]
  }
  return stop.edges.flatMap((edge, k): SpecIssue[] => {
    const own = edges[k]
    // Below a high-pass and outside a band-pass on its lower side, inside a band-stop there.
    const below = response.id === 'highpass' || (two && (response.id === 'bandpass') === (k === 0))
    if (below ? edge < own : edge > own) return []
    return [
      {
        path: `stopband.edges.${k}`,
        problem: `The stop band would begin at ${formatExact(edge, 'Hz')}, inside the passband, whose edge is ${formatExact(own, 'Hz')}.`,
        fix: `Give a stop-band edge ${below ? 'below' : 'above'} ${formatExact(own, 'Hz')}.`,
      },
    ]
  })
}

function equalizerIssues({ equalizer, response, passband }: ApproximatedSpec): SpecIssue[] {
  if (!equalizer) return []
  const { sections, ripple, from, to } = equalizer
  if ((sections === undefined) === (ripple === undefined))
    return [
      {
        path: 'equalizer',
        problem: `An equaliser takes ${sections === undefined ? 'a number of sections, or a ripple that they follow from' : 'either a number of sections or a ripple, not both'}.`,
        fix: 'Give "equalizer": { "sections": 2 } or { "ripple": 1e-6 }.',
      },
    ]
  if (response === 'allpass')
    return [
      {
        path: 'equalizer',
        problem: 'An all-pass is not equalised by another one.',
        fix: 'Leave "equalizer" out, and raise the order.',
      },
    ]
  if ((response === 'highpass' || response === 'bandstop') && (from === undefined || to === undefined))
    return [
      {
        path: `equalizer.${from === undefined ? 'from' : 'to'}`,
        problem: `The passband of a ${response} response does not end; the band that is to be flat must be given.`,
        fix: 'Give "from" and "to" in Hz.',
      },
    ]
  const [low, high] = equalizedBand(passband.edges, equalizer)
  return low < high
    ? []
    : [
        {
          path: 'equalizer.to',
          problem: `The band from ${low} Hz to ${high} Hz does not ascend.`,
          fix: 'Give the lower end first.',
        },
      ]
}

/** The band that an equaliser makes flat: as given, else the passband of a low-pass or band-pass. */
export function equalizedBand(
  edges: readonly number[],
  { from, to }: { from?: number; to?: number },
): readonly [from: number, to: number] {
  return [from ?? (edges.length === 2 ? edges[0] : 0), to ?? edges.at(-1)!]
}

function ownFieldIssues(spec: ApproximatedSpec): SpecIssue[] {
  const issues = Object.entries(OWN_FIELDS).flatMap(([field, families]): SpecIssue[] => {
    if (spec[field as keyof typeof OWN_FIELDS] === undefined || families.some((f) => f === spec.approximation))
      return []
    return [
      {
        path: field,
        problem: `"${field}" belongs to ${families.join(', ')}, not to ${spec.approximation}.`,
        fix: `Leave "${field}" out, or choose ${families.join(' or ')}.`,
      },
    ]
  })
  if (spec.delay !== undefined && spec.response !== 'lowpass' && spec.response !== 'allpass') {
    issues.push({
      path: 'delay',
      problem: `A ${spec.response} response has no delay at DC to be asked for.`,
      fix: 'Leave "delay" out: the passband edges rule.',
    })
  }
  return issues
}
