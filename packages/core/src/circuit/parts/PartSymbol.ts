/**
 * A graphical symbol after IEC 60617, as data: in grid units around the part's centre, unrotated; y points down. Strokes
 * are SVG paths drawn in ink, some of them filled with it; texts stand upright.
 */
export interface PartSymbol {
  readonly strokes: readonly string[]
  /** The strokes of a resistance as the other common practice draws it: a zigzag (IEEE 315), of the same outline. */
  readonly zigzag?: readonly string[]
  readonly filled?: readonly string[]
  readonly texts?: readonly { readonly x: number; readonly y: number; readonly text: string }[]
  /** Where its name and value stand while it is not turned upright; above where nothing is said. */
  readonly labelled?: 'below' | 'beside'
  /** Half width and half height, with room for a finger. */
  readonly half: readonly [number, number]
  /** Its upper edge, where that is not as far from the part's place as the lower one. */
  readonly top?: number
}

/** A circle around a point. */
export const circle = (radius: number, x = 0, y = 0): string =>
  `M${x - radius} ${y}a${radius} ${radius} 0 1 1 ${2 * radius} 0a${radius} ${radius} 0 1 1 ${-2 * radius} 0`

/** A resistance lying between x = −2 and 2, as many symbols have one. */
export const RESISTANCE: readonly string[] = ['M-2 0H-1.25M1.25 0H2', 'M-1.25 -.45H1.25V.45H-1.25Z']

/** The same as a zigzag. Source: IEEE 315, 2.1.1; from memory. */
export const ZIGZAG: readonly string[] = ['M-2 0H-1.25L-1.04 -.5L-.62 .5L-.21 -.5L.21 .5L.62 -.5L1.04 .5L1.25 0H2']

/** The strokes of a symbol as they are wanted. */
export const strokesOf = ({ strokes, zigzag }: PartSymbol, resistors: ResistorLook): readonly string[] =>
  resistors === 'zigzag' && zigzag ? zigzag : strokes

/** Both ways that resistances are drawn in practice. */
export type ResistorLook = 'box' | 'zigzag'
