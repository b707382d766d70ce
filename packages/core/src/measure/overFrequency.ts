import { abs } from '../numeric/complex.js'
import { leastBetween } from '../numeric/goldenSection.js'
import type { TransferFunction } from '../numeric/transferFunction.js'

/** Points a decade of a search, besides those set by the roots themselves. */
const DENSITY = 40

/** Where a root is looked around, in widths of it: whatever a response does there it does inside of these. */
const AROUND = [-30, -10, -5, -3, -2, -1.3, -1, -0.6, -0.3, 0, 0.3, 0.6, 1, 1.3, 2, 3, 5, 10, 30]

/** A root on the axis has no width; stand this near to it on both sides, relative to its frequency. */
const BESIDE = 1e-9

/**
 * Frequencies fine enough that magnitude, phase and delay of a response have at most one extremum between neighbours.
 *
 * @param from and @param to rad/s, 0 < from < to
 * @param corners further frequencies, rad/s, at which what is looked for bends
 * @returns ascending, both ends among them
 */
export function searchGrid(h: TransferFunction, from: number, to: number, corners: readonly number[] = []): number[] {
  const grid = new Set<number>([from, to])
  const steps = Math.ceil(DENSITY * Math.log10(to / from))
  for (let k = 1; k < steps; k++) grid.add(from * (to / from) ** (k / steps))
  const put = (omega: number) => {
    if (omega > from && omega < to) grid.add(omega)
  }
  corners.forEach(put)
  for (const root of [...h.poles, ...h.zeros]) {
    if (root.im < 0 || abs(root) === 0) continue
    const width = Math.abs(root.re)
    for (const k of AROUND) put(root.im + k * width)
    if (width < BESIDE * root.im) for (const k of [1 - BESIDE, 1 + BESIDE]) put(root.im * k)
  }
  return [...grid].sort((a, b) => a - b)
}

/** A point at which a function is least or greatest among its neighbours, or the end of what was looked at. */
export interface Turn {
  readonly omega: number
  readonly value: number
}

/**
 * The ends of a grid, and every extremum between them, each solved: where a point lies beyond both its neighbours the
 * extremum is between these.
 */
export function turnsOf(f: (omega: number) => number, grid: readonly number[]): Turn[] {
  const values = grid.map(f)
  const turns: Turn[] = []
  const take = (omega: number) => turns.push({ omega, value: f(omega) })
  grid.forEach((omega, k) => {
    const [before, here, after] = [values[k - 1], values[k], values[k + 1]]
    if (before === undefined || after === undefined) turns.push({ omega, value: here })
    else if (here <= before && here <= after) take(leastBetween(f, grid[k - 1], grid[k + 1]))
    else if (here >= before && here >= after) take(leastBetween((w) => -f(w), grid[k - 1], grid[k + 1]))
  })
  return turns
}

export const least = (turns: readonly Turn[]): Turn => turns.reduce((a, b) => (b.value < a.value ? b : a))
export const greatest = (turns: readonly Turn[]): Turn => turns.reduce((a, b) => (b.value > a.value ? b : a))
