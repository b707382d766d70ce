import { least, searchGrid, type Turn, turnsOf } from '../measure/overFrequency.js'
import { magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import { isShaped, shapeOf } from '../specification/filterSpec.js'
import { limitBetween, type LimitPoint } from '../specification/shapes/Shape.js'
import { type Requirement, verdict } from './Requirement.js'

/**
 * The level stays inside the limits of a standard, against that at the reference frequency. What is told is the worst share
 * of the way from the middle of the limits to one of them, or, where only one is set, how near it is reached.
 */
export const limits: Requirement = {
  judge(evidence) {
    const { promised, referenceDb } = evidence
    if (!promised) return []
    const { spec } = promised
    const wanted = isShaped(spec) ? shapeOf(spec).limits?.(spec.shape) : undefined
    if (!wanted) return []
    const { transfer } = evidence
    const levelAt = (omega: number) => magnitudeDb(transfer, omega)
    const reference = wanted.reference === null ? referenceDb + spec.gain : levelAt(TAU * wanted.reference)
    const level = (omega: number) => levelAt(omega) - reference
    const rooms = wanted.points.slice(1).flatMap((end, k) => roomsBetween(transfer, wanted.points[k], end, level))
    const worst = least(rooms)
    const asked = {
      kind: 'limits',
      place: null,
      name: wanted.name,
      unit: 'dB',
      sense: 'at least',
      limit: 0,
      decided: 'frequency',
    } as const
    return [verdict(asked, worst.value, worst.omega / TAU, 'Hz')]
  },
}

const TAU = 2 * Math.PI

/** Where the level comes nearest to either limit between two points of the mask; below 0 where it passes it, dB. */
function roomsBetween(
  h: TransferFunction,
  [f0, low0, high0]: LimitPoint,
  [f1, low1, high1]: LimitPoint,
  level: (omega: number) => number,
): Turn[] {
  const [from, to] = [TAU * f0, TAU * f1]
  const within = (low: number, high: number) => (w: number) => Math.min(level(w) - low, high - level(w))
  // A step stands at one frequency, and both its sides count there.
  const ends = [
    { omega: from, value: within(low0, high0)(from) },
    { omega: to, value: within(low1, high1)(to) },
  ]
  if (f1 === f0) return ends
  const grid = searchGrid(h, from, to)
  const sides = [
    { a: low0, b: low1, room: (limit: number, db: number) => db - limit },
    { a: high0, b: high1, room: (limit: number, db: number) => limit - db },
  ]
  return sides.reduce<Turn[]>((rooms, { a, b, room }) => {
    const limit = limitBetween(a, b, from, to)
    return limit ? [...rooms, ...turnsOf((w) => room(limit(w), level(w)), grid)] : rooms
  }, ends)
}
