import { extremesOf } from './extremes'
import type { Axis } from './frame'

/** A curve as a diagram draws it: arrays of equal length, x ascending but along a path. What is not finite is passed by. */
export interface PlotCurve {
  readonly label: string
  readonly x: Float64Array
  readonly y: Float64Array
  /** Index into the palette's curves. */
  readonly color: number
  readonly dash?: readonly number[]
  /** Its values stand along the axis at the right. */
  readonly right?: boolean
  /** A way through the plane: x goes to and fro. */
  readonly path?: boolean
  /** The points that were computed are marked. */
  readonly points?: boolean
  /** One px wide, behind the others: part of a grid. */
  readonly thin?: boolean
  /** The points stand for themselves, as long as they can be told apart; crowded ones are a thin line. */
  readonly marker?: 'ring' | 'box' | 'cross'
}

/** Colours by what they are for; the palette of the appearance says which. */
export type Ink = 'soft' | 'ink' | 'mask' | 'first' | 'missed'

/** A place, in the units of both axes; NaN for where the axis begins, ±∞ for its ends. */
export type Place = readonly [x: number, y: number]

/** Something drawn besides the curves. */
export type Mark =
  /** A part of the mask, behind the curves. */
  | {
      readonly kind: 'area'
      readonly from: Place
      readonly to: Place
      readonly edge?: 'whole' | 'dashed'
    }
  | {
      readonly kind: 'line'
      readonly from: Place
      readonly to: Place
      readonly ink: Ink
      readonly width?: number
      readonly dash?: readonly number[]
      /** Stands above its beginning. */
      readonly text?: string
    }
  | { readonly kind: 'point'; readonly at: Place; readonly right?: boolean }
  /** A stretch of a curve, drawn over it. */
  | { readonly kind: 'run'; readonly x: Float64Array; readonly y: Float64Array; readonly ink: Ink }
  | { readonly kind: 'pole' | 'zero'; readonly at: Place }
  /** A line across the diagram at a place along x, with its name on a flag at the lower end. */
  | { readonly kind: 'flag'; readonly x: number; readonly name: string }
  /** Free words at a place, over everything else. */
  | { readonly kind: 'note'; readonly at: Place; readonly text: string }
  | {
      readonly kind: 'text'
      readonly at: Place
      readonly text: string
      /** Which side of the place it stands on. */
      readonly side: 'right' | 'left'
      /** px */
      readonly down?: number
    }

/** A part of a diagram that is shown larger: the ends of both axes. */
export interface Lens {
  readonly x: readonly [from: number, to: number]
  readonly y: readonly [from: number, to: number]
}

/** Everything that a diagram shows. */
export interface Plot {
  readonly x: Axis
  readonly y: Axis
  /** A second axis, at the right. */
  readonly right?: Axis | null
  /** Room is kept for an axis at the right: another diagram of the column has one. */
  readonly wide?: boolean
  /** A step along x is as long as one along y. */
  readonly square?: boolean
  readonly curves: readonly PlotCurve[]
  readonly marks: readonly Mark[]
  readonly lens?: Lens | null
  /** Where the cursor stands along x. */
  readonly cursor?: number | null
  /** Above the curves. */
  readonly title?: string
  /** The axes have no numbers and no grid: the plot has its own. */
  readonly bare?: boolean
  /** Names of the curves stand in a frame of their own. */
  readonly legend?: boolean
}

/** Least and greatest of the finite values of some arrays; null where there is none. */
export function extentOf(...arrays: readonly Float64Array[]): readonly [least: number, greatest: number] | null {
  let [least, greatest] = [Infinity, -Infinity]
  for (const values of arrays) {
    const [l, g] = extremesOf(values, 0, values.length)
    least = Math.min(least, l)
    greatest = Math.max(greatest, g)
  }
  return least <= greatest ? [least, greatest] : null
}
