import type { Approximation, PrototypeRequest, ShapeParameters } from '../approximation/Approximation.js'
import { withEvenOrder } from '../approximation/evenOrder.js'
import { approximations } from '../approximation/index.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { HALF_POWER_DB } from '../specification/filterSpec.js'

/** A number between two ends, on the axis on which it is sought. */
export type Ends = readonly [from: number, to: number]

/** A family with the numbers that are open in it. */
export interface Candidate {
  readonly family: Approximation
  readonly open: readonly Ends[]
  readonly request: (order: number, at: readonly number[]) => PrototypeRequest
  readonly evenOnly?: boolean
  /** Its open number mostly has the value that it has by itself. */
  readonly unusual?: boolean
}

/** A family that comes near to a response. */
export interface Fit {
  readonly family: Approximation
  readonly order: number
  /** How many numbers were chosen to come so near. */
  readonly chosen: number
  /** dB, of families whose shape they are. */
  readonly rippleDb?: number
  readonly attenuationDb?: number
}

const plain = (order: number, rippleDb = HALF_POWER_DB, parameters: ShapeParameters = {}): PrototypeRequest => ({
  order,
  rippleDb,
  parameters,
})

/** dB as logarithms: a ripple is sought from 0.001 dB on, an attenuation from 10 dB. */
const RIPPLES = [Math.log(1e-3), Math.log(6)] as const
const ATTENUATIONS = [Math.log(10), Math.log(160)] as const

/** How the numbers of a family are open, by what it says of itself. */
function candidatesOf(family: Approximation): Candidate[] {
  const shaped = family.defaultRippleDb === null
  if (family.shapesStopband) {
    const both: Candidate = {
      family,
      open: shaped ? [RIPPLES, ATTENUATIONS] : [ATTENUATIONS],
      request: (order, at) => ({
        ...plain(order, shaped ? Math.exp(at[0]) : HALF_POWER_DB),
        attenuationDb: Math.exp(at.at(-1)!),
      }),
    }
    return [both, ...evenForms(both)]
  }
  if (shaped) return [rippled(family), ...evenForms(rippled(family))]
  const [field] = family.fields ?? []
  const fixed: Candidate = { family, open: [], request: (order) => plain(order) }
  if (!field) return family.followsEdgeLoss ? [fixed, { ...rippled(family), unusual: true }] : [fixed]
  // What is left out says something of its own, and what is given is mostly one of a few.
  if (field.default === null)
    return [
      fixed,
      ...(field.usual ?? []).map((v) => ({
        ...fixed,
        request: (n: number) => plain(n, HALF_POWER_DB, { [field.id]: v }),
      })),
    ]
  const isRatio = field.least > 0
  const ends = [field.least, field.most].map((v) => (isRatio ? Math.log(v) : v)) as [number, number]
  const at = (order: number, value: number) => plain(order, HALF_POWER_DB, { [field.id]: value })
  return [
    // Its usual number is none that was chosen to suit.
    { ...fixed, request: (order) => at(order, field.default!) },
    { family, open: [ends], request: (order, [x]) => at(order, isRatio ? Math.exp(x) : x), unusual: true },
  ]
}

const rippled = (family: Approximation): Candidate => ({
  family,
  open: [RIPPLES],
  request: (order, at) => plain(order, Math.exp(at[0])),
})

/** The other forms of even orders. */
const evenForms = (candidate: Candidate): Candidate[] =>
  candidate.family.reflectionZeros
    ? (['b', 'c'] as const).map((form) => ({
        ...candidate,
        family: withEvenOrder(candidate.family, form),
        evenOnly: true,
      }))
    : []

/** All, from those that leave nothing open on. */
const candidates = approximations.flatMap(candidatesOf).sort((a, b) => a.open.length - b.open.length)

/** Those that make an order. */
export const candidatesFor = (order: number): Candidate[] => candidates.filter((c) => !c.evenOnly || order % 2 === 0)

/** The most numbers that a family leaves open. */
export const MOST_OPEN = Math.max(...candidates.map((c) => c.open.length))

/** The response of a candidate; null where its numbers make none. */
export function madeBy({ family, request }: Candidate, order: number, at: readonly number[]): TransferFunction | null {
  try {
    return family.prototype(request(order, at))
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

/** Numbers of a candidate, and what it makes of them. */
export interface Begin {
  readonly at: readonly number[]
  readonly made: TransferFunction
}

/** Of the range of an open number, where a search for it begins. */
const STARTS = [0.05, 0.35, 0.65, 0.95]

/** Where a search begins, and what is made there: the same for every circuit, and kept. */
export function startsOf(candidate: Candidate, order: number): readonly Begin[] {
  const own = begins.get(candidate) ?? []
  begins.set(candidate, own)
  const all = candidate.open.reduce<number[][]>(
    (places, [from, to]) => places.flatMap((at) => STARTS.map((part) => [...at, from + part * (to - from)])),
    [[]],
  )
  return (own[order] ??= all.flatMap((at) => {
    const made = madeBy(candidate, order, at)
    return made ? [{ at, made }] : []
  }))
}
const begins = new Map<Candidate, Begin[][]>()

/** A candidate with its numbers, as it is told. */
export function fitOf({ family, open, request }: Candidate, order: number, at: readonly number[]): Fit {
  const { rippleDb, attenuationDb } = request(order, at)
  const isShaped = family.defaultRippleDb === null || open.length > 0
  return {
    family,
    order,
    chosen: open.length,
    ...(isShaped && rippleDb !== HALF_POWER_DB && { rippleDb }),
    ...(attenuationDb !== undefined && { attenuationDb }),
  }
}
