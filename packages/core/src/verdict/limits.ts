import { leastBetween } from '../numeric/goldenSection.js'
import { magnitudeDb } from '../numeric/transferFunction.js'
import { isShaped, shapeOf } from '../specification/filterSpec.js'
import type { LimitPoint } from '../specification/shapes/Shape.js'
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
  judge({ spec, transfer }) {
    const wanted = isShaped(spec) ? shapeOf(spec).limits?.(spec.shape) : undefined
    if (!wanted) return []
    const level = (f: number) => magnitudeDb(transfer, TAU * f)
    const reference = level(wanted.reference)
    /** dB that are left to the nearer limit; below 0 where it is passed. */
    const room = (f: number) => {
      const [lowest, highest] = between(wanted.points, f)
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

/** Both limits at a frequency, straight over log f between their points. */
function between(points: readonly LimitPoint[], f: number): [lowest: number, highest: number] {
  const k = Math.max(
    1,
    points.findIndex(([at]) => at >= f),
  )
  const [[f0, low0, high0], [f1, low1, high1]] = [points[k - 1], points[k]]
  const part = Math.log(f / f0) / Math.log(f1 / f0)
  const line = (a: number, b: number) => {
    // Where a limit is not set at one end it is not set between.
    if (Number.isFinite(a) && Number.isFinite(b)) return a + part * (b - a)
    return part === 0 ? a : part === 1 ? b : Number.isFinite(a) ? b : a
  }
  return [line(low0, low1), line(high0, high1)]
}
