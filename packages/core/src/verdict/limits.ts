import { leastBetween } from '../numeric/goldenSection.js'
import { magnitudeDb } from '../numeric/transferFunction.js'
import { isShaped, shapeOf } from '../specification/filterSpec.js'
import { limitsAt } from '../specification/shapes/Shape.js'
import { type Requirement, verdict } from './Requirement.js'

/** Points looked at between two points of the limits. */
const BETWEEN = 8

/**
 * The level stays inside the limits of a standard, against that at the reference frequency. What is told is the worst share
 * of the way from the middle of the limits to one of them, or, where only one is set, how near it is reached.
 */
export const limits: Requirement = {
  id: 'limits',
  name: 'Limits',
  judge({ spec, transfer, referenceDb }) {
    const wanted = isShaped(spec) ? shapeOf(spec).limits?.(spec.shape) : undefined
    if (!wanted) return []
    const level = (f: number) => magnitudeDb(transfer, TAU * f)
    const reference = wanted.reference === null ? referenceDb + spec.gain : level(wanted.reference)
    /** dB that are left to the nearer limit; below 0 where it is passed. */
    const room = (f: number) => {
      const [lowest, highest] = limitsAt(wanted.points, f)
      const db = level(f) - reference
      return Math.min(db - lowest, highest - db)
    }
    const grid = wanted.points.flatMap(([f], k) => {
      const next = wanted.points[k + 1]?.[0]
      return next === undefined ? [f] : Array.from({ length: BETWEEN }, (_, i) => f * (next / f) ** (i / BETWEEN))
    })
    const rooms = grid.map(room)
    const tight = rooms.indexOf(Math.min(...rooms))
    const at = leastBetween(room, grid[Math.max(0, tight - 1)], grid[Math.min(grid.length - 1, tight + 1)])
    const worst = Math.min(room(at), rooms[tight])
    const asked = { id: 'limits', name: wanted.name, unit: 'dB', sense: 'at least', limit: 0 } as const
    return [verdict(asked, worst, worst < rooms[tight] ? at : grid[tight], 'Hz')]
  },
}

const TAU = 2 * Math.PI
