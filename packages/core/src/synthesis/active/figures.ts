import type { Figure } from './Figure.js'

type Piece = Partial<Omit<Figure, 'out'>>

/** One figure of several pieces. */
export function joined(out: Figure['out'], ...pieces: readonly Piece[]): Figure {
  const potentiometer = pieces.find((p) => p.potentiometer)?.potentiometer
  return {
    ...(potentiometer && { potentiometer }),
    parts: Object.assign({}, ...pieces.map((p) => p.parts)) as Figure['parts'],
    amplifiers: pieces.flatMap((p) => p.amplifiers ?? []),
    strokes: pieces.flatMap((p) => p.strokes ?? []),
    grounds: pieces.flatMap((p) => p.grounds ?? []),
    out,
  }
}

/** A part from a point to ground. */
export const hung = (part: string, x: number, y: number): Piece => ({
  parts: { [part]: [x, y + 4, 90] },
  strokes: [
    [
      [x, y],
      [x, y + 2],
    ],
    [
      [x, y + 6],
      [x, y + 7],
    ],
  ],
  grounds: [[x, y + 7]],
})

/** A part that lies between two points of a row. */
export const lying = (part: string, from: number, to: number, y: number): Piece => {
  const middle = (from + to) / 2
  return {
    parts: { [part]: [middle, y] },
    strokes: [
      [
        [from, y],
        [middle - 2, y],
      ],
      [
        [middle + 2, y],
        [to, y],
      ],
    ],
  }
}

/** A wire through points. */
export const wired = (...points: readonly (readonly [number, number])[]): Piece => ({ strokes: [points] })

/** An amplifier at (x, 1) whose output is its inverting input; its other one is at (x − 3, 0), its output at (x + 5, 1). */
export const follower = (x: number): Piece => ({
  amplifiers: [[x, 1]],
  strokes: [
    [
      [x + 3, 1],
      [x + 5, 1],
    ],
    [
      [x - 3, 2],
      [x - 4, 2],
      [x - 4, 5],
      [x + 5, 5],
      [x + 5, 1],
    ],
  ],
})

/** The same with a gain of 1 + `back`/`down`. */
export const amplified = (x: number, back: string, down: string): Piece =>
  joined(
    [x + 5, 1],
    {
      amplifiers: [[x, 1]],
      parts: { [back]: [x + 1, 6] },
      strokes: [
        [
          [x + 3, 1],
          [x + 5, 1],
        ],
        [
          [x - 3, 2],
          [x - 4, 2],
          [x - 4, 6],
          [x - 1, 6],
        ],
        [
          [x + 3, 6],
          [x + 5, 6],
          [x + 5, 1],
        ],
      ],
    },
    hung(down, x - 4, 6),
  )

/** Rows of parts over an amplifier. */
const ROW = 4

/**
 * An amplifier that turns its output over: what its inverting input sums comes at (x, 0), its output is at (x + 11, 1), and
 * parts between the two lie in rows above.
 */
export const summing = (x: number, ...rows: readonly string[]): Piece =>
  joined([x + 11, 1], inverter(x, ...rows), wired([x + 3, 2], [x + 2, 2], [x + 2, 4]), { grounds: [[x + 2, 4]] })

/** The same with its other input, at (x + 3, 2), left open. */
export function inverter(x: number, ...rows: readonly string[]): Piece {
  const highest = -ROW * rows.length
  return {
    amplifiers: [[x + 6, 1, 'over']],
    parts: Object.fromEntries(rows.map((part, k) => [part, [x + 6, -ROW * (k + 1)] as const])),
    strokes: [
      [
        [x, 0],
        [x + 3, 0],
      ],
      [
        [x + 9, 1],
        [x + 11, 1],
      ],
      [
        [x, 0],
        [x, highest],
        [x + 4, highest],
      ],
      [
        [x + 8, highest],
        [x + 11, highest],
        [x + 11, 1],
      ],
      ...rows.slice(0, -1).flatMap((_, k) => {
        const y = -ROW * (k + 1)
        return [
          [
            [x, y],
            [x + 4, y],
          ],
          [
            [x + 8, y],
            [x + 11, y],
          ],
        ] as const
      }),
    ],
  }
}

/** From a summing amplifier's output at (x, 1) through a part to what is summed at (x + 8, 0). */
export const onwards = (part: string, x: number): Piece => ({
  parts: { [part]: [x + 5, 0] },
  strokes: [
    [
      [x, 1],
      [x + 1, 1],
      [x + 1, 0],
      [x + 3, 0],
    ],
    [
      [x + 7, 0],
      [x + 8, 0],
    ],
  ],
})

/** From (from) up to a row, along it through a part, and down to (to): feedback over the top. */
export const over = (part: string, from: Point, to: Point, row: number): Piece => {
  const middle = Math.round((from[0] + to[0]) / 2)
  const way = from[0] < to[0] ? 2 : -2
  const rotation = way > 0 ? 0 : 180
  return {
    parts: { [part]: [middle, row, rotation] },
    strokes: [
      [from, [from[0], row], [middle - way, row]],
      [[middle + way, row], [to[0], row], to],
    ],
  }
}

type Point = readonly [x: number, y: number]
