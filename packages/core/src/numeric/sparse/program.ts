import type { PivotOrder } from './order.js'

/**
 * The elimination laid down once as flat lists over value slots, to be replayed for any values of the same pattern.
 * Slots are those of the filled pattern: first the given entries, then the fill-in, which starts at zero.
 *
 * After `factor` the slots hold: at the pivots their reciprocals, below them L (unit diagonal), beside them U.
 */
export interface Program {
  readonly size: number
  /** Number of slots, and of those that are given from outside (the first ones). */
  readonly slots: number
  readonly given: number
  readonly pivotSlot: Int32Array
  readonly pivotRow: Int32Array
  readonly pivotCol: Int32Array
  /**
   * Per pivot k, multipliers: lowerSlot[lowerStart[k] … lowerStart[k+1]) with their rows; likewise U with its columns.
   */
  readonly lowerStart: Int32Array
  readonly lowerSlot: Int32Array
  readonly lowerRow: Int32Array
  readonly upperStart: Int32Array
  readonly upperSlot: Int32Array
  readonly upperCol: Int32Array
  /** Slots to be updated at pivot k, row by row of L against all of U: target[targetStart[k] + i·nU + j]. */
  readonly targetStart: Int32Array
  readonly target: Int32Array
}

/** Lays the elimination in the given order down as a program. */
export function layProgram(order: PivotOrder, given: number): Program {
  const { filled } = order
  const n = filled.size
  const rowRank = inverse(order.rows)
  const colRank = inverse(order.cols)
  const slotAt = new Map<number, number>()
  const lowerOf: number[][] = Array.from({ length: n }, () => [])
  const upperOf: number[][] = Array.from({ length: n }, () => [])
  const pivotSlot = new Int32Array(n)
  for (let e = 0; e < filled.rows.length; e++) {
    const r = rowRank[filled.rows[e]]
    const c = colRank[filled.cols[e]]
    slotAt.set(r * n + c, e)
    if (r === c) pivotSlot[r] = e
    else if (r > c) lowerOf[c].push(e)
    else upperOf[r].push(e)
  }
  const targets: number[] = []
  const targetStart = new Int32Array(n + 1)
  for (let k = 0; k < n; k++) {
    for (const l of lowerOf[k]) {
      const r = rowRank[filled.rows[l]]
      for (const u of upperOf[k]) targets.push(slotAt.get(r * n + colRank[filled.cols[u]])!)
    }
    targetStart[k + 1] = targets.length
  }
  const lower = flat(lowerOf)
  const upper = flat(upperOf)
  return {
    size: n,
    slots: filled.rows.length,
    given,
    pivotSlot,
    pivotRow: order.rows,
    pivotCol: order.cols,
    lowerStart: lower.start,
    lowerSlot: lower.items,
    lowerRow: lower.items.map((e) => filled.rows[e]),
    upperStart: upper.start,
    upperSlot: upper.items,
    upperCol: upper.items.map((e) => filled.cols[e]),
    targetStart,
    target: Int32Array.from(targets),
  }
}

function inverse(permutation: Int32Array): Int32Array {
  const result = new Int32Array(permutation.length)
  for (let k = 0; k < permutation.length; k++) result[permutation[k]] = k
  return result
}

function flat(lists: readonly number[][]): { start: Int32Array; items: Int32Array } {
  const start = new Int32Array(lists.length + 1)
  lists.forEach((list, k) => (start[k + 1] = start[k] + list.length))
  return { start, items: Int32Array.from(lists.flat()) }
}
