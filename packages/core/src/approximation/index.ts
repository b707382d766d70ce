import { VoskelError } from '../errors/VoskelError.js'
import type { Approximation } from './Approximation.js'
import { butterworth } from './butterworth.js'
import { chebyshev } from './chebyshev.js'

/** Every approximation on offer. A new one is one file beside these and one line here. */
export const approximations: readonly Approximation[] = [butterworth, chebyshev]

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
