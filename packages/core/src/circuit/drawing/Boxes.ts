import RBush from 'rbush'
import { type Box, inflated, movedBox, overlap } from './geometry.js'

/** Square units below which two outlines only touch. */
export const TOUCHING = 1e-6

/** Grid units between the places that are tried for a box. */
const STEP = 0.5

/** How far they go: most boxes find room near by, and then what lies farther away need not be looked at. */
const REACHES = [4, 12, 30] as const

/** Grid units by which two boxes may share room and still only touch: rounding. */
const ROUNDING = 1e-9

/** Boxes that lie on a drawing, to be asked for by place: a tree of rectangles. */
export class Boxes<T extends Box = Box> extends RBush<T> {
  constructor(boxes: readonly T[] = []) {
    super()
    this.load(boxes)
  }

  override toBBox({ left, top, right, bottom }: Box) {
    return { minX: left, minY: top, maxX: right, maxY: bottom }
  }

  override compareMinX(a: Box, b: Box): number {
    return a.left - b.left
  }

  override compareMinY(a: Box, b: Box): number {
    return a.top - b.top
  }

  /** Those that share room with a box. */
  on(box: Box): T[] {
    return this.search(this.toBBox(box)).filter((other) => overlap(box, other) > 0)
  }

  /** Square units of a box that others lie on. */
  covering(box: Box): number {
    return this.search(this.toBBox(box)).reduce((sum, other) => sum + overlap(box, other), 0)
  }

  isFree(box: Box): boolean {
    return !this.search(this.toBBox(box)).some((other) => overlap(box, other) > TOUCHING)
  }

  /** The place nearest to where a box would lie that is free; the box as it lies where there is none. */
  nearestFree(box: Box): Box {
    if (this.isFree(box)) return box
    let far = STEP
    for (const reach of REACHES) {
      const isBlocked = this.blocking(box, reach)
      for (; far <= reach; far += STEP)
        for (let k = 0; k < far; k += STEP)
          for (const [x, y] of [
            [k, far - k],
            [far - k, -k],
            [-k, k - far],
            [k - far, k],
          ])
            if (!isBlocked(x, y)) return movedBox(box, { x, y })
    }
    return box
  }

  /** Tells of shifts of a box, up to a reach, whether it would lie on something: each box near by forbids a rectangle of them. */
  private blocking(box: Box, reach: number): (x: number, y: number) => boolean {
    const near = this.search(this.toBBox(inflated(box, reach)))
    const forbidden = Float64Array.from(
      near.flatMap((b) => [b.left - box.right, b.right - box.left, b.top - box.bottom, b.bottom - box.top]),
    )
    return (x, y) => {
      for (let k = 0; k < forbidden.length; k += 4)
        if (
          x > forbidden[k] + ROUNDING &&
          x < forbidden[k + 1] - ROUNDING &&
          y > forbidden[k + 2] + ROUNDING &&
          y < forbidden[k + 3] - ROUNDING
        )
          return true
      return false
    }
  }
}
