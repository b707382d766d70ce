/** Where a square sparse matrix may be nonzero: entry e stands at (rows[e], cols[e]); each place once. */
export interface Pattern {
  readonly size: number
  readonly rows: Int32Array
  readonly cols: Int32Array
}

/** Collects entries and gives every place its slot. */
export class PatternBuilder {
  private readonly slots = new Map<number, number>()
  private readonly rows: number[] = []
  private readonly cols: number[] = []
  private extent = 0

  /** The slot of (row, col), new or known. Rows and columns are below 2²⁶. */
  slot(row: number, col: number): number {
    this.extent = Math.max(this.extent, row + 1, col + 1)
    const key = row * 67108864 + col
    const known = this.slots.get(key)
    if (known !== undefined) return known
    const slot = this.rows.push(row) - 1
    this.cols.push(col)
    this.slots.set(key, slot)
    return slot
  }

  build(size = this.extent): Pattern {
    return { size, rows: Int32Array.from(this.rows), cols: Int32Array.from(this.cols) }
  }
}
