import { type Complex, complex, divide, multiply, scale } from '../numeric/complex.js'
import { gainForDc, magnitudeDb, type TransferFunction, withConjugates } from '../numeric/transferFunction.js'
import type { EvenOrder } from '../specification/filterSpec.js'
import type { Approximation } from './Approximation.js'

/** Where on the axis the lowest summit of the passband and the highest zero lie that are moved; ω. */
interface Moved {
  /** To DC; 0 where it stays. */
  readonly summit: number
  /** To infinity; ∞ where it is there. */
  readonly zero: number
}

/**
 * x′ for x = s²: DC's neighbour to DC, the last zero to infinity, the passband's edge ω = 1 to itself. Levels stay.
 *
 * Source: R. Saal, E. Ulbrich, IRE Trans. CT-5, 1958, 284–327 (types b and c; from memory).
 */
function mapped(x: Complex, { summit, zero }: Moved): Complex {
  const above = scale(complex(x.re + summit * summit, x.im), 1 / (1 - summit * summit))
  if (zero === Infinity) return above
  return divide(scale(above, (zero - 1) * (zero + 1)), complex(x.re + zero * zero, x.im))
}

const mappedFrequency = (w: number, moved: Moved): number => Math.sqrt(-mapped(complex(-w * w), moved).re)

/** The root of the left half plane whose square this is; on the axis the upper one. */
function rootOf(x: Complex): Complex {
  const size = Math.hypot(x.re, x.im)
  const across = Math.sqrt((size + Math.abs(x.re)) / 2)
  const other = Math.abs(x.im) / (2 * across)
  return x.re >= 0 ? complex(-across, other) : complex(-other, across)
}

/** A family with its even orders in another form; odd ones stay as they are. */
export function withEvenOrder(family: Approximation, form: EvenOrder): Approximation {
  type Request = Parameters<Approximation['prototype']>[0]
  const movedOf = (request: Request): Moved | null => {
    if (request.order % 2 === 1) return null
    const zeros = family.prototype(request).zeros.map((z) => z.im)
    const summits = family.reflectionZeros!(request).filter((w) => w > 0)
    const zero = zeros.length > 0 ? Math.max(...zeros) : Infinity
    const summit = form === 'c' && summits.length > 0 ? Math.min(...summits) : 0
    return zero === Infinity && summit === 0 ? null : { summit, zero }
  }
  return {
    ...family,
    // The order follows by trying: the closed form is that of the family itself.
    neededOrder: undefined,
    prototype(request) {
      const h = family.prototype(request)
      const moved = movedOf(request)
      if (!moved) return h
      const upper = h.poles.filter((p) => p.im > 0).map((p) => rootOf(mapped(multiply(p, p), moved)))
      const poles = withConjugates(
        upper.filter((p) => p.im > 0),
        upper.flatMap((p) => (p.im > 0 ? [] : [p.re])),
      )
      const zeros = withConjugates(
        h.zeros.flatMap((z) => (z.im > 0 && z.im < moved.zero ? [complex(0, mappedFrequency(z.im, moved))] : [])),
      )
      const dc = form === 'c' ? 1 : 10 ** (magnitudeDb(h, 0) / 20)
      return { poles, zeros, gain: gainForDc(poles, zeros, dc) } satisfies TransferFunction
    },
    stopbandRatio(request) {
      const own = family.stopbandRatio!(request)
      const moved = movedOf(request)
      return moved ? mappedFrequency(own, moved) : own
    },
    reflectionZeros(request) {
      const own = family.reflectionZeros!(request)
      const moved = movedOf(request)
      if (!moved) return own
      // What comes to DC comes there from both sides.
      return own.flatMap((w) => (w > 0 && w === moved.summit ? [0, 0] : [mappedFrequency(w, moved)]))
    },
  }
}
