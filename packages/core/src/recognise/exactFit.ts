import { abs, type Complex } from '../numeric/complex.js'
import { type Candidate, candidatesFor, type Fit, fitOf, madeBy, MOST_OPEN, startsOf } from './candidates.js'
import { type Off, type Place, placeAt, refined } from './leastSquares.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { onAxis, type Roots } from './prototypes.js'

/** Roots of one low-pass, as they are compared. */
interface Shape {
  /** By their angle from the negative real axis: what rounding splits stays in its place. */
  readonly poles: readonly Complex[]
  /** On the axis above DC, ascending. */
  readonly zeros: readonly number[]
}

function shapeOf({ poles, zeros }: Roots): Shape | null {
  if (!zeros.every(onAxis)) return null
  const angle = (p: Complex) => Math.atan2(p.im, -p.re)
  const above = zeros.filter((z) => z.im > 0).map((z) => abs(z))
  return { poles: poles.toSorted((a, b) => angle(a) - angle(b)), zeros: above.toSorted((a, b) => a - b) }
}

/** The geometric mean of some poles. */
const sizeOf = (poles: readonly Complex[]): number =>
  Math.exp(poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / poles.length)

/** The relative distances of the roots of two shapes, in real numbers; null where these have not as many. */
function distances(seen: Shape, made: Shape): number[] | null {
  if (seen.poles.length !== made.poles.length || seen.zeros.length !== made.zeros.length) return null
  const unit = sizeOf(made.poles) / sizeOf(seen.poles)
  const found: number[] = []
  made.poles.forEach((p, k) => {
    const [q, far] = [seen.poles[k], abs(p)]
    found.push((unit * q.re - p.re) / far, (unit * q.im - p.im) / far)
  })
  made.zeros.forEach((z, k) => found.push((unit * seen.zeros[k] - z) / z))
  return found
}

/** Relative distance of roots, as a mean square, within which they are the same: nothing that is rounded is nearer. */
const EXACT = 1e-7

/** The same for circuits that are near to their response and not it: those that simulate a ladder. */
const NEAR = 1e-4

/** From farther away no search between two starts comes near. */
const TOO_FAR = 0.35

/** Relative gain of a step below which it is the last: roots that are met are met by leaps. */
const LEAPS = 0.05

/**
 * The family whose roots these are, to rounding, with the fewest numbers chosen; null where they are none's. What is explained
 * without a free number is not sought with one.
 */
export function exactFit(roots: Roots): Fit | null {
  const seen = shapeOf(roots)
  return seen && (fitWithin(seen, roots, EXACT) ?? fitWithin(seen, roots, NEAR))
}

function fitWithin(seen: Shape, roots: Roots, within: number): Fit | null {
  const order = roots.poles.length
  for (let chosen = 0; chosen <= MOST_OPEN; chosen++)
    for (const candidate of candidatesFor(order)) {
      if (candidate.open.length !== chosen) continue
      const nearest = nearestTo(seen, candidate, order)
      if (nearest && rms(nearest) < within) return fitOf(candidate, order, nearest.at)
    }
  return null
}

const rms = ({ size, values }: Place) => Math.sqrt(size / values.length)

function nearestTo(seen: Shape, candidate: Candidate, order: number): Place | null {
  const offOf = (made: TransferFunction | null) => {
    const shape = made && shapeOf(made)
    return shape && distances(seen, shape)
  }
  const off: Off = (at) => offOf(madeBy(candidate, order, at))
  const begun = startsOf(candidate, order).flatMap(({ at, made }) => placeAt(at, () => offOf(made)) ?? [])
  if (begun.length === 0) return null
  const start = begun.reduce((a, b) => (b.size < a.size ? b : a))
  if (candidate.open.length > 0 && rms(start) > TOO_FAR) return null
  return refined(start, candidate.open, off, { settled: LEAPS, enough: start.values.length * (EXACT / 100) ** 2 })
}
