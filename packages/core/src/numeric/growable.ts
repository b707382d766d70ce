/** Numbers appended one by one, kept in blocks: nothing is copied and no box is made while they grow. */
export class GrowableArray {
  private readonly blocks: Float64Array[] = []
  private used = BLOCK

  get length(): number {
    return this.blocks.length === 0 ? 0 : (this.blocks.length - 1) * BLOCK + this.used
  }

  push(value: number): void {
    if (this.used === BLOCK) {
      this.blocks.push(new Float64Array(BLOCK))
      this.used = 0
    }
    this.blocks[this.blocks.length - 1][this.used++] = value
  }

  /** All numbers in one array. */
  toArray(): Float64Array {
    const all = new Float64Array(this.length)
    this.blocks.forEach((block, k) => {
      const from = k * BLOCK
      all.set(block.subarray(0, Math.min(BLOCK, all.length - from)), from)
    })
    return all
  }
}

const BLOCK = 4096
