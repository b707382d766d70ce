import { VoskelError } from '../errors/VoskelError.js'
import type { ApproximatedSpec } from '../specification/filterSpec.js'
import type { Approximation } from './Approximation.js'
import { bessel } from './bessel.js'
import { butterworth } from './butterworth.js'
import { chebyshev } from './chebyshev.js'
import { criticallyDamped } from './criticallyDamped.js'
import { elliptic } from './elliptic.js'
import { withEvenOrder } from './evenOrder.js'
import { gaussian } from './gaussian.js'
import { inverseChebyshev } from './inverseChebyshev.js'
import { legendre } from './legendre.js'
import { linearPhase } from './linearPhase.js'
import { transitional } from './transitional.js'

/** Every approximation on offer. A new one is one file beside these and one line here. */
export const approximations: readonly Approximation[] = [
  butterworth,
  chebyshev,
  inverseChebyshev,
  elliptic,
  legendre,
  bessel,
  linearPhase,
  gaussian,
  transitional,
  criticallyDamped,
]

/**
 * The family of a specification, its even orders in the form that is asked.
 *
 * @throws VoskelError `NOT_OFFERED`
 */
export function familyOf({ approximation: id, evenOrder }: ApproximatedSpec): Approximation {
  const family = approximation(id)
  return evenOrder && family.reflectionZeros ? withEvenOrder(family, evenOrder) : family
}

/** @throws VoskelError `NOT_OFFERED` */
export function approximation(id: string): Approximation {
  const found = approximations.find((a) => a.id === id)
  if (!found) {
    throw new VoskelError(
      'NOT_OFFERED',
      { what: 'approximation', name: id, offered: approximations.map((a) => a.id) },
      { path: 'approximation' },
    )
  }
  return found
}
