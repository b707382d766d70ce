import type { End } from '../../../circuit/circuit.js'
import type { Line } from '../../Line.js'
import type { Figure } from '../Figure.js'
import { drawFigure } from '../Figure.js'
import { joined, lying, wired } from '../figures.js'
import { slotKind } from '../SectionKind.js'
import { converter } from '../sections/converters.js'

type Piece = Partial<Figure>
type Point = readonly [x: number, y: number]

/** How far a converter lies below the line, and how much room it takes along it. */
const BELOW = 14
const WIDTH = 46
const APART = 8

const moved = (piece: Piece, by: (p: Point) => Point, turn = false): Piece => {
  const turns = { over: 'back', back: 'over', left: undefined } as const
  return {
    parts: Object.fromEntries(
      Object.entries(piece.parts ?? {}).map(([id, [x, y, rotation]]) => [id, [...by([x, y]), rotation] as const]),
    ),
    amplifiers: (piece.amplifiers ?? []).map(([x, y, turned]) => {
      const to = turn ? (turned ? turns[turned] : ('left' as const)) : turned
      return to ? ([...by([x, y]), to] as const) : by([x, y])
    }),
    strokes: (piece.strokes ?? []).map((s) => s.map(by)),
    grounds: (piece.grounds ?? []).map(by),
  }
}

/** The row of a converter without what hangs at its end. */
function open(names: readonly string[]): Piece {
  const { parts, strokes, grounds, ...rest } = converter(0, [...names, 'end'])
  const { end: _nothing, ...kept } = parts!
  const gone = (s: readonly Point[]) => s[0][0] === 37 || s.at(-1)![0] === 37
  return {
    ...rest,
    parts: kept,
    strokes: strokes!.filter((s) => !gone(s)),
    grounds: grounds!.filter(([x]) => x !== 37),
  }
}

const lowered = (piece: Piece, y: number): Piece => moved(piece, ([px, py]) => [px, py + y])

/** Values of the five parts of a converter, the last one last. */
export type Five = readonly [first: string, second: string, third: string, fourth: string, last: string]

/**
 * A simulated part from the line to ground, `below` units under it; the line goes on beyond it.
 *
 * @param values by the names of the row
 */
export function groundedConverter(
  line: Line,
  five: Five,
  values: Readonly<Record<string, number>>,
  below = BELOW,
): void {
  const figure = joined([0, 0], wired([0, 0], [0, below]), lowered(converter(0, five), below))
  drawAside(line, figure, values)
  line.tap(WIDTH)
}

/** Beside a converter's second part one that gives DC a way. */
const drained = (part: string): Piece => ({
  parts: { [part]: [12, 4] },
  strokes: [
    [
      [8, 4],
      [10, 4],
    ],
    [
      [14, 4],
      [16, 4],
    ],
  ],
})

/**
 * A simulated part in the line: two converters with their last part between them.
 *
 * @param drain of the names, what lies beside each second part
 */
export function floatingConverter(
  line: Line,
  five: Five,
  values: Readonly<Record<string, number>>,
  drain?: string,
): void {
  const bare = open(five.slice(0, 4))
  const row = drain === undefined ? bare : joined([0, 0], bare, drained(drain))
  const other = (id: string) => `${id}'`
  const second = moved(row, ([x, y]) => [2 * 34 + APART - x, y], true)
  const renamed: Piece = {
    ...second,
    parts: Object.fromEntries(Object.entries(second.parts!).map(([id, at]) => [other(id), at])),
  }
  const figure = joined(
    [2 * 34 + APART, 0],
    wired([0, 0], [0, BELOW]),
    lowered(row, BELOW),
    lowered(renamed, BELOW),
    lying(five[4], 34, 34 + APART, BELOW),
    wired([2 * 34 + APART, BELOW], [2 * 34 + APART, 0]),
  )
  drawFigure(line, figure, placer(line, values))
}

const placer =
  (line: Line, values: Readonly<Record<string, number>>) =>
  (slot: string, x: number, y: number, rotation?: 0 | 90 | 180 | 270) => {
    const own = slot.replace("'", '')
    return line.sketch.valued(line.sketch.name(own[0]), slotKind(own), values[own], x, y, rotation)
  }

/** Draws a figure without letting the line go on from it. */
function drawAside(line: Line, figure: Figure, values: Readonly<Record<string, number>>): void {
  const before: { end: End; x: number; y: number } = { end: line.end, x: line.x, y: line.y }
  drawFigure(line, figure, placer(line, values))
  line.goOn(before.end, before.x, before.y)
}
