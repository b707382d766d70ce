import { leastBetween } from '../numeric/goldenSection.js'
import { turnsOf } from './overFrequency.js'

/** The narrowest strip around a straight line that holds a curve. */
export interface Strip {
  /** Half of the strip's height. */
  readonly deviation: number
  /** Where the curve touches it. */
  readonly at: number
}

/** Rounds of putting the touching points among those that count; each squares what is missing. */
const ROUNDS = 8

/**
 * How far a curve departs from the straight line that suits it best: by the slope at which the greatest and the least of
 * what is left lie closest together. The points that count are those of the grid and, round by round, the extremes of
 * what is left between them (the exchange of E. Ya. Remez, C. R. Acad. Sci. Paris 198, 1934, 2063–2065; from memory).
 *
 * @param grid ascending, so fine that the curve bends at most once between neighbours
 */
export function narrowestStrip(curve: (x: number) => number, grid: readonly number[]): Strip {
  const points = new Map(grid.map((x) => [x, curve(x)]))
  const reach = grid.at(-1)! - grid[0]
  let strip: Strip = { deviation: 0, at: grid[0] }
  for (let round = 0; round < ROUNDS; round++) {
    const slope = bestSlope([...points], reach)
    const left = (x: number) => curve(x) - slope * x
    let [low, high] = [
      { omega: grid[0], value: Infinity },
      { omega: grid[0], value: -Infinity },
    ]
    for (const turn of turnsOf(
      left,
      [...points.keys()].sort((a, b) => a - b),
    )) {
      points.set(turn.omega, curve(turn.omega))
      if (turn.value < low.value) low = turn
      if (turn.value > high.value) high = turn
    }
    const deviation = (high.value - low.value) / 2
    const done = Math.abs(deviation - strip.deviation) <= 1e-12 * deviation
    strip = { deviation, at: high.omega }
    if (done) break
  }
  return strip
}

/** The slope at which points leave the least height: convex in it, so that no trough is missed. */
function bestSlope(points: readonly (readonly [x: number, y: number])[], reach: number): number {
  const ys = points.map(([, y]) => y)
  const mean = (ys.at(-1)! - ys[0]) / reach
  const height = (slope: number) => {
    let [low, high] = [Infinity, -Infinity]
    for (const [x, y] of points) {
      const off = y - slope * x
      if (off < low) low = off
      if (off > high) high = off
    }
    return high - low
  }
  // The best line leaves no more than the chord does, so that it is no steeper than that allows.
  const span = height(mean) / reach
  return leastBetween(height, mean - 2 * span, mean + 2 * span)
}
