import { VoskelError } from '../errors/VoskelError.js'
import { scaleFrequency, type TransferFunction } from '../numeric/transferFunction.js'
import { type FilterSpec, MAX_ORDER, passbandEdge } from '../specification/filterSpec.js'
import { approximation } from './index.js'

/** A specification turned into a response: what the ideal filter does. */
export interface Ideal {
  order: number
  /** Greatest magnitude in the passband 10^(gain/20); s in rad/s. */
  transfer: TransferFunction
  /** Loss allowed in the passband, dB; the default where the specification gives none. */
  rippleDb: number
  /** Hz */
  passbandEdge: number
  /** Where the stop band begins, Hz: as given, or as it follows from order and attenuation; null without a stop band. */
  stopbandEdge: number | null
}

/** A needed order this little above a whole one is that whole one: the edge was computed from it and rounded. */
const ORDER_SLACK = 1e-9

/**
 * The ideal response of a specification.
 *
 * @throws VoskelError `NOT_OFFERED` for an unknown approximation, `SPEC_INVALID` where the ripple is missing,
 *   `ORDER_TOO_HIGH` where no order up to 20 meets the stop band
 */
export function approximate(spec: FilterSpec): Ideal {
  const family = approximation(spec.approximation)
  const rippleDb = spec.passband.ripple ?? family.defaultRippleDb
  if (rippleDb === null) {
    const facts = {
      problem: `A ${family.name} response needs its passband ripple.`,
      fix: 'Give "ripple" in dB, for example 0.5.',
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'passband.ripple' })
  }
  const edge = passbandEdge(spec)
  const { attenuation: attenuationDb, edges: stopEdges } = spec.stopband ?? {}
  if (attenuationDb !== undefined && attenuationDb <= rippleDb) {
    const facts = {
      problem: `The attenuation of ${attenuationDb} dB is no more than the loss of ${rippleDb.toFixed(4)} dB at the passband edge.`,
      fix: `Ask for more than ${rippleDb.toFixed(4)} dB, or give a smaller ripple.`,
    }
    throw new VoskelError('SPEC_INVALID', facts, { path: 'stopband.attenuation' })
  }

  const order = spec.order ?? leastOrder(spec, rippleDb)
  const prototype = family.prototype({ order, rippleDb })
  const scaled = scaleFrequency(prototype, 2 * Math.PI * edge)
  let stopbandEdge: number | null = null
  if (stopEdges) stopbandEdge = stopEdges[0]
  else if (attenuationDb !== undefined) stopbandEdge = edge * family.stopbandRatio({ order, rippleDb, attenuationDb })
  return {
    order,
    transfer: { ...scaled, gain: scaled.gain * 10 ** (spec.gain / 20) },
    rippleDb,
    passbandEdge: edge,
    stopbandEdge,
  }
}

/** The least order, 1 … 20, that meets the stop band of a specification that has one with its edge. */
function leastOrder(spec: FilterSpec, rippleDb: number): number {
  const family = approximation(spec.approximation)
  const edgeRatio = spec.stopband!.edges![0] / passbandEdge(spec)
  const needed = family.neededOrder({ rippleDb, attenuationDb: spec.stopband!.attenuation, edgeRatio })
  const order = Math.max(1, Math.ceil(needed - ORDER_SLACK))
  if (order > MAX_ORDER) {
    const facts = { approximation: family.name, needed: Number.isFinite(order) ? order : null, most: MAX_ORDER }
    throw new VoskelError('ORDER_TOO_HIGH', facts, { path: 'stopband.edges.0' })
  }
  return order
}
