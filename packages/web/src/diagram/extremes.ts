/** Values of a block whose least and greatest are known: about as many as two pixel columns of a crowded curve hold. */
const BLOCK = 128

/** Values from which on the blocks of an array are kept: it is asked again with every move. */
const MANY = 20_000

interface Blocks {
  readonly least: Float64Array
  readonly greatest: Float64Array
}

const known = new WeakMap<Float64Array, Blocks>()

function blocksOf(y: Float64Array): Blocks {
  let blocks = known.get(y)
  if (!blocks) {
    const count = Math.floor(y.length / BLOCK)
    blocks = { least: new Float64Array(count).fill(Infinity), greatest: new Float64Array(count).fill(-Infinity) }
    for (let b = 0; b < count; b++) {
      const [least, greatest] = plainly(y, b * BLOCK, (b + 1) * BLOCK)
      blocks.least[b] = least
      blocks.greatest[b] = greatest
    }
    known.set(y, blocks)
  }
  return blocks
}

function plainly(y: Float64Array, from: number, to: number): readonly [least: number, greatest: number] {
  let least = Infinity
  let greatest = -Infinity
  for (let k = from; k < to; k++) {
    const v = y[k]!
    if (v < least && v > -Infinity) least = v
    if (v > greatest && v < Infinity) greatest = v
  }
  return [least, greatest]
}

/**
 * Least and greatest of the finite values of a stretch [from, to); ∞ and −∞ where there is none. Of long arrays by blocks, which are
 * worked out once: arrays of curves never change.
 */
export function extremesOf(y: Float64Array, from: number, to: number): readonly [least: number, greatest: number] {
  const [first, end] = [Math.ceil(from / BLOCK), Math.floor(to / BLOCK)]
  if (y.length < MANY || end - first < 2) return plainly(y, from, to)
  const blocks = blocksOf(y)
  let [least, greatest] = plainly(y, from, first * BLOCK)
  for (let b = first; b < end; b++) {
    if (blocks.least[b]! < least) least = blocks.least[b]!
    if (blocks.greatest[b]! > greatest) greatest = blocks.greatest[b]!
  }
  const [l, g] = plainly(y, end * BLOCK, to)
  return [Math.min(least, l), Math.max(greatest, g)]
}
