import { VoskelError } from '../errors/VoskelError.js'
import { inSeries, scaleFrequency, type TransferFunction } from '../numeric/transferFunction.js'
import {
  type ApproximatedSpec,
  attenuations,
  equalizedBand,
  type FilterSpec,
  isShaped,
  MAX_ORDER,
  type ShapedSpec,
  shapeOf,
} from '../specification/filterSpec.js'
import { atPrototypeRatio, type Band, passbands, prototypeRatio, stopbands } from '../specification/responses.js'
import { type Approximation, frequencyOfLoss, type PrototypeRequest, searchedStopbandRatio } from './Approximation.js'
import { allpassOf, toAllpass, toBandpass, toBandstop, toHighpass } from '../numeric/reactanceTransform.js'
import { type Equalizer, equalize } from './equalizer.js'
import { approximation, familyOf } from './index.js'

/** A specification turned into a response: what the ideal filter does. */
export interface Ideal {
  /** Of the low-pass prototype; where there is none, of the response itself. */
  readonly order: number
  /** Greatest magnitude in the passband 10^(gain/20); s in rad/s. */
  readonly transfer: TransferFunction
  /** The low-pass prototype with its edge at 1 rad/s, greatest magnitude 1; null for a shape, which has none. */
  readonly prototype: TransferFunction | null
  /** Loss allowed in the passband, dB; the default where the specification gives none. */
  readonly rippleDb: number
  /** Hz, ascending */
  readonly passbandEdges: readonly number[]
  /** What the prototype's edge becomes, Hz: the passband edges, or, where the stop-band edges are pinned, what follows. */
  readonly referenceEdges: readonly number[]
  /**
   * Where the stop bands begin, Hz, ascending: as given, or as they follow from order and attenuation; null without a
   * stop band.
   */
  readonly stopbandEdges: readonly number[] | null
  /** The all-pass sections that the transfer has besides, or null; `unequalized` is the transfer without them. */
  readonly equalizer: Equalizer | null
  readonly unequalized: TransferFunction
  /** What lies inside those edges; empty where every frequency passes alike, or as its shape says. */
  readonly passbands: readonly Band[]
  readonly stopbands: readonly Band[]
  /** Frequencies that a diagram shows, Hz. */
  readonly marks: readonly number[]
}

/** A needed order this little above a whole one is that whole one: the edge was computed from it and rounded. */
const ORDER_SLACK = 1e-9

/**
 * The ideal response of a specification.
 *
 * @throws VoskelError `NOT_OFFERED` for an unknown approximation, `SPEC_INVALID` where ripple or attenuation is missing,
 *   `ORDER_TOO_HIGH` where no order up to 20 meets the stop band
 */
export function approximate(spec: FilterSpec): Ideal {
  return isShaped(spec) ? shaped(spec) : approximated(spec)
}

/** What a response is called, as a circuit's title says it. */
export const responseTitle = (spec: FilterSpec, { order }: Ideal): string => titleOf(spec, order)

/** The same without computing the response: of an order that is not given, nothing is said. */
export const specificationTitle = (spec: FilterSpec): string => titleOf(spec, isShaped(spec) ? undefined : spec.order)

const titleOf = (spec: FilterSpec, order: number | undefined): string =>
  isShaped(spec)
    ? `${shapeOf(spec).name} response`
    : `${approximation(spec.approximation).name} ${spec.response}${order === undefined ? '' : `, order ${order}`}`

function shaped(spec: ShapedSpec): Ideal {
  const shape = shapeOf(spec)
  const own = shape.transfer(spec.shape)
  const transfer = { ...own, gain: own.gain * 10 ** (spec.gain / 20) }
  return {
    order: transfer.poles.length,
    transfer,
    unequalized: transfer,
    equalizer: null,
    prototype: null,
    rippleDb: 0,
    passbandEdges: [],
    referenceEdges: [],
    stopbandEdges: null,
    passbands: [],
    stopbands: [],
    marks: shape.marks(spec.shape),
  }
}

function approximated(spec: ApproximatedSpec): Ideal {
  const family = familyOf(spec)
  const rippleDb = rippleOf(spec, family)
  const attenuationDb = shapingAttenuation(spec)
  const given = spec.stopband?.edges
  checkAttenuation(spec, family, rippleDb)

  const request = (order: number): PrototypeRequest => ({ order, rippleDb, attenuationDb, parameters: spec })
  if (spec.order === undefined && !spec.stopband?.edges) {
    const facts = {
      problem: 'The order is left open, and no stop band says which.',
      fix: 'Give an order, or a stop band with its edges.',
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'order' })
  }
  const order = spec.order ?? leastOrder(spec, family, rippleDb)
  checkShape(spec, family, order)
  const prototype = family.prototype(request(order))
  const passbandEdges = passbandOf(spec, family, prototype, rippleDb)
  const referenceEdges = spec.pin === 'stopband' ? pinned(spec, family, request(order)) : passbandEdges
  const scaled = transformed(spec, prototype, referenceEdges)
  const ratio = attenuationDb === undefined ? null : stopbandRatio(family, { ...request(order), attenuationDb })
  const stopbandEdges = given ?? (ratio === null ? null : atPrototypeRatio(spec.response, passbandEdges, ratio))
  const unequalized = { ...scaled, gain: scaled.gain * 10 ** (spec.gain / 20) }
  const equalizer = spec.equalizer ? equalizerOf(spec, unequalized, passbandEdges) : null
  return {
    order,
    transfer: equalizer ? inSeries(unequalized, allpassOf(equalizer.poles)) : unequalized,
    unequalized,
    equalizer,
    prototype,
    rippleDb,
    passbandEdges,
    referenceEdges,
    stopbandEdges,
    passbands: passbands(spec.response, passbandEdges),
    stopbands: stopbands(spec.response, stopbandEdges ?? []),
    marks: [...passbandEdges, ...(stopbandEdges ?? [])],
  }
}

/** The attenuation that shapes a response: the most that is asked on either side, dB. */
export const shapingAttenuation = ({ stopband }: ApproximatedSpec): number | undefined =>
  stopband && Math.max(...attenuations(stopband))

function equalizerOf({ equalizer }: ApproximatedSpec, h: TransferFunction, edges: readonly number[]): Equalizer {
  const { sections, ripple = 0 } = equalizer!
  return equalize(h, equalizedBand(edges, equalizer!), sections === undefined ? { ripple } : { sections })
}

function rippleOf(spec: ApproximatedSpec, family: Approximation): number {
  const rippleDb = spec.passband.ripple ?? family.defaultRippleDb
  if (rippleDb !== null) return rippleDb
  const facts = {
    problem: `${article(family.name)} response needs its passband ripple.`,
    fix: 'Give "ripple" in dB, for example 0.5.',
  }
  throw new VoskelError('SPEC_INVALID', facts, { path: 'passband.ripple' })
}

function checkAttenuation({ stopband, response }: ApproximatedSpec, family: Approximation, rippleDb: number): void {
  if (family.shapesStopband && response === 'allpass') {
    const facts = {
      problem: `An all-pass has no stop band, which ${family.name.toLowerCase()} poles are made for.`,
      fix: 'Choose a family without stop-band zeros, for example bessel.',
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'approximation' })
  }
  if (family.shapesStopband && !stopband) {
    const facts = {
      problem: `${article(family.name)} response needs its stop-band attenuation.`,
      fix: 'Give "stopband": { "attenuation": dB }, for example 60.',
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'stopband.attenuation' })
  }
  const least = stopband && Math.min(...attenuations(stopband))
  if (least !== undefined && least <= rippleDb) {
    const facts = {
      problem: `The attenuation of ${least} dB is no more than the loss of ${rippleDb.toFixed(4)} dB at the passband edge.`,
      fix: `Ask for more than ${rippleDb.toFixed(4)} dB, or give a smaller ripple.`,
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'stopband.attenuation' })
  }
}

function checkShape(spec: ApproximatedSpec, family: Approximation, order: number): void {
  const least = family.leastOrder?.(spec) ?? 1
  if (order >= least) return
  const facts = {
    problem: `${article(family.name)} response of this shape has at least order ${least}.`,
    fix: `Give an order from ${least} on, or leave it out.`,
  }
  throw new VoskelError('SPEC_INVALID', facts, { path: 'order' })
}

/** As in "an Elliptic". */
export const withArticle = (name: string) => `${/^[aeio]/i.test(name) ? 'an' : 'a'} ${name}`

const article = (name: string) => `${/^[AEIO]/.test(name) ? 'An' : 'A'} ${name}`

/** Where the prototype's edge lies so that every stop-band edge is met exactly: their centre is that of the response. */
function pinned(spec: ApproximatedSpec, family: Approximation, request: PrototypeRequest): number[] {
  const own = stopbandRatio(family, { ...request, attenuationDb: request.attenuationDb! })
  const [low, high = low] = spec.stopband!.edges!
  const around = (width: number): number[] => {
    const upper = width / 2 + Math.sqrt((width / 2) ** 2 + low * high)
    return [(low * high) / upper, upper]
  }
  switch (spec.response) {
    case 'highpass':
      return [low * own]
    case 'bandpass':
      return around((high - low) / own)
    case 'bandstop':
      return around((high - low) * own)
    default:
      return [low / own]
  }
}

/**
 * How many times farther out than the passband edges the stop-band edges lie in the prototype, each: the least order
 * follows. Pinned stop-band edges set the centre, against which the farther passband edge counts.
 */
function edgeRatios({ response, passband, stopband, pin }: ApproximatedSpec): number[] {
  const edges = stopband!.edges!
  if (pin !== 'stopband' || edges.length < 2) return edges.map((f) => prototypeRatio(response, passband.edges, f))
  const outward = passband.edges.map((f) => prototypeRatio(response, edges, f))
  return edges.map(() => 1 / Math.max(...outward))
}

/** As given, or, where a delay at DC is asked, where that puts the edge. */
function passbandOf(
  spec: ApproximatedSpec,
  family: Approximation,
  prototype: TransferFunction,
  rippleDb: number,
): number[] {
  if (spec.delay === undefined || !family.unscaled) return [...spec.passband.edges]
  const { transfer, delay } = family.unscaled(prototype.poles.length)
  return [(frequencyOfLoss(transfer, rippleDb) * delay) / spec.delay / (2 * Math.PI)]
}

function transformed(spec: ApproximatedSpec, prototype: TransferFunction, edges: readonly number[]): TransferFunction {
  const [low, high = low] = edges.map((f) => 2 * Math.PI * f)
  switch (spec.response) {
    case 'highpass':
      return toHighpass(prototype, low)
    case 'bandpass':
      return toBandpass(prototype, Math.sqrt(low * high), high - low)
    case 'bandstop':
      return toBandstop(prototype, Math.sqrt(low * high), high - low)
    case 'allpass':
      return toAllpass(prototype, low)
    default:
      return scaleFrequency(prototype, low)
  }
}

/** Stop-band edge over passband edge of a prototype, by the family's closed form or by search. */
export function stopbandRatio(family: Approximation, request: PrototypeRequest & { attenuationDb: number }): number {
  return family.stopbandRatio ? family.stopbandRatio(request) : searchedStopbandRatio(family, request)
}

/** The least order, 1 … 20, that meets the stop band of a specification that has one with its edges. */
function leastOrder(spec: ApproximatedSpec, family: Approximation, rippleDb: number): number {
  const ratios = edgeRatios(spec)
  const asked = attenuations(spec.stopband!)
  // Each side with its own attenuation; where one shape serves both, the deeper and the nearer.
  const sides = family.shapesStopband
    ? [{ attenuationDb: Math.max(...asked), edgeRatio: Math.min(...ratios) }]
    : ratios.map((edgeRatio, k) => ({ attenuationDb: asked[k] ?? asked[0], edgeRatio }))
  const orders = sides.map((side) => neededOrder(family, spec, { rippleDb, ...side }))
  const order = orders.includes(null) ? null : Math.max(...(orders as number[]))
  if (order !== null && order <= MAX_ORDER) return order
  const facts = { approximation: withArticle(family.name), needed: order, most: MAX_ORDER }
  throw new VoskelError('ORDER_TOO_HIGH', facts, { path: 'stopband.edges.0' })
}

/** null where no order does */
function neededOrder(
  family: Approximation,
  parameters: ApproximatedSpec,
  wanted: { rippleDb: number; attenuationDb: number; edgeRatio: number },
): number | null {
  const closed = family.neededOrder?.(wanted)
  if (closed !== undefined) {
    const order = Math.max(1, Math.ceil(closed - ORDER_SLACK))
    return Number.isFinite(order) ? order : null
  }
  const { edgeRatio, ...shape } = wanted
  const meets = (order: number) =>
    stopbandRatio(family, { ...shape, order, parameters }) <= edgeRatio * (1 + ORDER_SLACK)
  for (let order = family.leastOrder?.(parameters) ?? 1; order <= MAX_ORDER; order++) if (meets(order)) return order
  return null
}
