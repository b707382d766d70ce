import type { Pattern } from './pattern.js'

/** Values of a pattern's entries at one test point, as real and imaginary parts by slot. */
export interface TestValues {
  readonly re: Float64Array
  readonly im: Float64Array
}

/** Pivots in order of elimination, and the pattern with its fill-in. */
export interface PivotOrder {
  readonly rows: Int32Array
  readonly cols: Int32Array
  /** The given pattern followed by the fill-in. */
  readonly filled: Pattern
}

/** No pivot could be found for this column (an index into the unknowns). */
export class SingularPattern extends Error {
  constructor(readonly column: number) {
    super(`no usable pivot in column ${column}`)
  }
}

/**
 * A pivot must be at least this part of the largest entry of its column, at every test point. With 0.3 the stop band
 * keeps its digits; 1e-3 loses them.
 */
const THRESHOLD = 0.3

/** Columns looked at before the best pivot so far is taken. A wider search saves little fill-in and costs time. */
const CANDIDATE_COLUMNS = 4

/** An entry this small against the largest value that its place has held is cancellation: it counts as zero. */
const CANCELLED = 1e-14

/**
 * Chooses pivots by Markowitz counts under a threshold that holds at every test point (a choice made at one frequency
 * loses digits at others), eliminating numerically on the way.
 *
 * Source: H. M. Markowitz, Management Science 3, 1957, 255–269; T. A. Davis, Direct Methods for Sparse Linear
 * Systems, SIAM 2006.
 *
 * @param last columns that are left to the end
 * @throws SingularPattern where a column has no usable pivot left
 */
export function choosePivots(pattern: Pattern, tests: readonly TestValues[], last: readonly number[] = []): PivotOrder {
  return new Elimination(pattern, tests, new Set(last)).run()
}

/** Sweeps of evening out; more change nothing that matters for a threshold. */
const EVENING_SWEEPS = 3

/**
 * The values with rows and columns multiplied so that the largest entry of each is near 1: voltages and currents,
 * conductances and plain factors are then told apart by their weight, not by their units. The elimination of a scaled
 * matrix has the same pivots.
 */
function evened(pattern: Pattern, { re, im }: TestValues): TestValues {
  const { size, rows, cols } = pattern
  const rowScale = new Float64Array(size).fill(1)
  const colScale = new Float64Array(size).fill(1)
  const magnitude = re.map((v, e) => Math.hypot(v, im[e]))
  const largest = new Float64Array(size)
  const even = (own: Int32Array, ownScale: Float64Array, other: Int32Array, otherScale: Float64Array) => {
    largest.fill(0)
    for (let e = 0; e < magnitude.length; e++)
      largest[own[e]] = Math.max(largest[own[e]], magnitude[e] * otherScale[other[e]])
    for (let k = 0; k < size; k++) if (largest[k] > 0) ownScale[k] = 1 / largest[k]
  }
  for (let sweep = 0; sweep < EVENING_SWEEPS; sweep++) {
    even(rows, rowScale, cols, colScale)
    even(cols, colScale, rows, rowScale)
  }
  const factor = magnitude.map((_, e) => rowScale[rows[e]] * colScale[cols[e]])
  return { re: re.map((v, e) => v * factor[e]), im: im.map((v, e) => v * factor[e]) }
}

class Elimination {
  private readonly size: number
  /** Entries of the active rows: column → slot. */
  private readonly rows: Map<number, number>[]
  /** Rows that are active in each column. */
  private readonly columns: Set<number>[]
  private readonly re: number[][]
  private readonly im: number[][]
  private readonly slotRows: number[]
  private readonly slotCols: number[]
  /** Largest magnitude that each slot has held, by test point. */
  private readonly peak: number[][]
  /** Active columns by their number of entries. */
  private readonly byCount: Set<number>[]
  /** Columns that wait until all others are eliminated. */
  private held: ReadonlySet<number>

  constructor(pattern: Pattern, tests: readonly TestValues[], last: ReadonlySet<number>) {
    const n = (this.size = pattern.size)
    this.rows = Array.from({ length: n }, () => new Map())
    this.columns = Array.from({ length: n }, () => new Set())
    const even = tests.map((t) => evened(pattern, t))
    this.re = even.map((t) => Array.from(t.re))
    this.im = even.map((t) => Array.from(t.im))
    this.slotRows = Array.from(pattern.rows)
    this.slotCols = Array.from(pattern.cols)
    this.peak = even.map((t) => Array.from(t.re, (re, e) => Math.hypot(re, t.im[e])))
    for (let e = 0; e < pattern.rows.length; e++) {
      this.rows[pattern.rows[e]].set(pattern.cols[e], e)
      this.columns[pattern.cols[e]].add(pattern.rows[e])
    }
    this.byCount = Array.from({ length: n + 1 }, () => new Set())
    this.columns.forEach((rows, col) => {
      if (!last.has(col)) this.byCount[rows.size].add(col)
    })
    this.held = last
  }

  run(): PivotOrder {
    const n = this.size
    const rows = new Int32Array(n)
    const cols = new Int32Array(n)
    for (let k = 0; k < n; k++) {
      if (k === n - this.held.size) this.letGo()
      const { row, col } = this.pick()
      rows[k] = row
      cols[k] = col
      this.eliminate(row, col)
    }
    const filled = { size: n, rows: Int32Array.from(this.slotRows), cols: Int32Array.from(this.slotCols) }
    return { rows, cols, filled }
  }

  private letGo(): void {
    const held = this.held
    this.held = new Set()
    for (const col of held) this.byCount[this.columns[col].size].add(col)
  }

  private pick(): { row: number; col: number } {
    let best: { row: number; col: number } | null = null
    let bestCost = Infinity
    let bestSize = 0
    let looked = 0
    const empty = this.byCount[0].values().next()
    if (!empty.done) throw new SingularPattern(empty.value)
    for (let count = 1; count <= this.size; count++) {
      for (const col of this.byCount[count]) {
        const largest = this.re.map((_, t) => this.largest(t, col))
        if (largest.every((v) => v === 0)) throw new SingularPattern(col)
        for (const row of this.columns[col]) {
          const slot = this.rows[row].get(col)!
          const share = this.share(slot, largest)
          if (share < THRESHOLD) continue
          const cost = (this.rows[row].size - 1) * (count - 1)
          if (cost < bestCost || (cost === bestCost && share > bestSize)) {
            best = { row, col }
            bestCost = cost
            bestSize = share
          }
        }
        looked++
        if (best && (bestCost <= (count - 1) ** 2 || looked >= CANDIDATE_COLUMNS)) return best
      }
    }
    // Every column was looked at; one without any entry above the threshold at all test points remains possible.
    return best ?? this.pickCompromise()
  }

  /** The pivot whose worst share over the test points is best, where none reaches the threshold at all of them. */
  private pickCompromise(): { row: number; col: number } {
    let best: { row: number; col: number } | null = null
    let bestShare = 0
    let last = 0
    for (let count = 1; count <= this.size; count++) {
      for (const col of this.byCount[count]) {
        last = col
        const largest = this.re.map((_, t) => this.largest(t, col))
        for (const row of this.columns[col]) {
          const share = this.share(this.rows[row].get(col)!, largest)
          if (share > bestShare) {
            best = { row, col }
            bestShare = share
          }
        }
      }
    }
    if (!best) throw new SingularPattern(last)
    return best
  }

  /** Smallest, over the test points, of the entry's magnitude against its column's largest. */
  private share(slot: number, largest: readonly number[]): number {
    let share = Infinity
    for (let t = 0; t < largest.length; t++) {
      // Where a whole column has cancelled at one test point, the others decide.
      if (largest[t] > 0) share = Math.min(share, this.magnitude(t, slot) / largest[t])
    }
    return share
  }

  private largest(t: number, col: number): number {
    let largest = 0
    for (const row of this.columns[col]) largest = Math.max(largest, this.magnitude(t, this.rows[row].get(col)!))
    return largest
  }

  private magnitude(t: number, slot: number): number {
    const size = Math.hypot(this.re[t][slot], this.im[t][slot])
    return size > CANCELLED * this.peak[t][slot] ? size : 0
  }

  private eliminate(pivotRow: number, pivotCol: number): void {
    const upper = this.rows[pivotRow]
    const pivot = upper.get(pivotCol)!
    this.byCount[this.columns[pivotCol].size].delete(pivotCol)
    for (const col of upper.keys()) {
      if (col === pivotCol) continue
      this.recount(col, () => this.columns[col].delete(pivotRow))
    }
    for (const row of this.columns[pivotCol]) {
      if (row === pivotRow) continue
      const target = this.rows[row]
      const lower = target.get(pivotCol)!
      const factors = this.re.map((_, t) => this.quotient(t, lower, pivot))
      for (const [col, slot] of upper) {
        if (col === pivotCol) continue
        let hit = target.get(col)
        if (hit === undefined) {
          hit = this.fillIn(row, col)
        }
        for (let t = 0; t < factors.length; t++) {
          const [fr, fi] = factors[t]
          const ur = this.re[t][slot]
          const ui = this.im[t][slot]
          this.re[t][hit] -= fr * ur - fi * ui
          this.im[t][hit] -= fr * ui + fi * ur
          this.peak[t][hit] = Math.max(this.peak[t][hit], Math.hypot(this.re[t][hit], this.im[t][hit]))
        }
      }
      target.delete(pivotCol)
    }
    this.columns[pivotCol].clear()
  }

  private fillIn(row: number, col: number): number {
    const slot = this.slotRows.push(row) - 1
    this.slotCols.push(col)
    for (let t = 0; t < this.re.length; t++) {
      this.re[t].push(0)
      this.im[t].push(0)
      this.peak[t].push(0)
    }
    this.rows[row].set(col, slot)
    this.recount(col, () => this.columns[col].add(row))
    return slot
  }

  private recount(col: number, change: () => void): void {
    this.byCount[this.columns[col].size].delete(col)
    change()
    if (!this.held.has(col)) this.byCount[this.columns[col].size].add(col)
  }

  private quotient(t: number, a: number, b: number): [number, number] {
    const br = this.re[t][b]
    const bi = this.im[t][b]
    const d = br * br + bi * bi
    const ar = this.re[t][a]
    const ai = this.im[t][a]
    return [(ar * br + ai * bi) / d, (ai * br - ar * bi) / d]
  }
}
