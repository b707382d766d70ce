import type { End } from '../../circuit/circuit.js'
import type { Line } from '../Line.js'
import type { Rotation } from '../Sketch.js'

type Point = readonly [x: number, y: number]

/** How an amplifier lies: `over` with its inverting input on top, `left` with its output to the left, `back` both. */
export type Turned = 'over' | 'back' | 'left'

/** Where parts lie, and how they are turned. */
export interface Figure {
  /** By the names of the slots. */
  readonly parts: Readonly<Record<string, readonly [x: number, y: number, rotation?: Rotation]>>
  /** One whose position 1 is to the left, its wiper below; the slot `P1`. */
  readonly potentiometer?: Point
  readonly amplifiers: readonly (readonly [x: number, y: number, turned?: Turned])[]
  /** Wires as they are drawn; where an end lies on another one they join. They begin and end at pins or at each other. */
  readonly strokes: readonly (readonly Point[])[]
  /** Points that are grounded. */
  readonly grounds: readonly Point[]
  /** Where the line goes on. */
  readonly out: Point
}

/** The name under which a figure's potentiometer is placed. */
export const POTENTIOMETER = 'P1'

const key = ([x, y]: Point) => `${x} ${y}`

/**
 * Draws a figure where a line has come to and lets the line go on from its output.
 *
 * @param place draws the part of a slot and gives its name
 */
export function drawFigure(
  line: Line,
  figure: Figure,
  place: (slot: string, x: number, y: number, rotation?: Rotation) => string,
): void {
  const { sketch } = line
  const [x0, y0] = [line.x, line.y]
  const ends = new Map<string, End>([[key([0, 0]), line.end]])
  const pin = (part: string, name: string, x: number, y: number) => ends.set(key([x, y]), { part, pin: name })
  for (const [slot, [x, y, rotation = 0]] of Object.entries(figure.parts)) {
    const id = place(slot, x0 + x, y0 + y, rotation)
    const along = rotation === 0 || rotation === 180
    const way = rotation === 0 || rotation === 90 ? 2 : -2
    pin(id, 'a', along ? x - way : x, along ? y : y - way)
    pin(id, 'b', along ? x + way : x, along ? y : y + way)
  }
  if (figure.potentiometer) {
    const [x, y] = figure.potentiometer
    const id = place(POTENTIOMETER, x0 + x, y0 + y)
    pin(id, 'b', x - 2, y)
    pin(id, 'a', x + 2, y)
    pin(id, 'wiper', x, y + 2)
  }
  for (const [x, y, turned] of figure.amplifiers) {
    const id = sketch.amplifier(x0 + x, y0 + y, turned)
    const isLeft = turned === 'back' || turned === 'left'
    const isOver = turned === 'over' || turned === 'back'
    const [inputs, output] = isLeft ? [x + 3, x - 3] : [x - 3, x + 3]
    pin(id, 'plus', inputs, isOver ? y + 1 : y - 1)
    pin(id, 'minus', inputs, isOver ? y - 1 : y + 1)
    pin(id, 'out', output, y)
  }
  for (const [x, y] of figure.grounds) {
    const id = sketch.part(sketch.name('GND'), 'ground', {}, x0 + x, y0 + y)
    pin(id, 'g', x, y)
  }
  const at = (point: Point): End => {
    const known = ends.get(key(point))
    if (known) return known
    const made = sketch.junction(x0 + point[0], y0 + point[1])
    ends.set(key(point), made)
    return made
  }
  const stops = figure.strokes.flatMap((stroke) => [stroke[0], stroke.at(-1)!])
  for (const stroke of figure.strokes) {
    for (const piece of cut(stroke, [...stops, figure.out]))
      sketch.wire(
        at(piece[0]),
        at(piece.at(-1)!),
        ...piece.slice(1, -1).map(([x, y]): [number, number] => [x0 + x, y0 + y]),
      )
  }
  line.goOn(at(figure.out), x0 + figure.out[0], y0 + figure.out[1])
}

/** A stroke in pieces that end where others do. */
function cut(stroke: readonly Point[], stops: readonly Point[]): Point[][] {
  const pieces: Point[][] = [[stroke[0]]]
  for (let k = 1; k < stroke.length; k++) {
    const [from, to] = [stroke[k - 1], stroke[k]]
    const far = (p: Point) => Math.abs(p[0] - from[0]) + Math.abs(p[1] - from[1])
    const between = stops.filter((p) => isInside(p, from, to)).sort((a, b) => far(a) - far(b))
    for (const stop of between) {
      if (key(stop) === key(pieces.at(-1)!.at(-1)!)) continue
      pieces.at(-1)!.push(stop)
      pieces.push([stop])
    }
    pieces.at(-1)!.push(to)
    const isStop = k < stroke.length - 1 && stops.some((p) => key(p) === key(to))
    if (isStop) pieces.push([to])
  }
  return pieces
}

const isInside = (p: Point, a: Point, b: Point) =>
  a[0] === b[0]
    ? p[0] === a[0] && p[1] > Math.min(a[1], b[1]) && p[1] < Math.max(a[1], b[1])
    : p[1] === a[1] && p[0] > Math.min(a[0], b[0]) && p[0] < Math.max(a[0], b[0])
