import type { End } from '../circuit/circuit.js'
import { VoskelError } from '../errors/VoskelError.js'
import { HALF, type Sketch } from './Sketch.js'
import { drawTwoPole, sizeOf, type TwoPole } from './twoPole.js'

/** Grid units from the line down to the middle of the first part to ground. */
export const DEPTH = 4

/** A resistance above 0 Ω that a realization has. */
export const resistanceField = <const I extends string>(id: I, name: string, usual: number) => ({
  id,
  name,
  kind: 'quantity' as const,
  unit: 'Ω',
  default: usual,
  above: 0,
  most: 1e12,
})

export function impossible(path: string, problem: string, fix: string): VoskelError {
  return new VoskelError('REALIZATION_IMPOSSIBLE', { problem, fix }, { path })
}

/** Draws what lies along a line from a source to the right: `end` is where it has come to, at (x, y). */
export class Line {
  end: End
  x = 0
  private bare = true
  /** Where the next wire turns. */
  private turns: [number, number][] = []

  constructor(
    readonly sketch: Sketch,
    public y = 0,
    /** Where the line leaves another one; left out, it begins with the source, labelled `in`. */
    branch?: { end: End; x: number },
  ) {
    if (branch) {
      this.end = branch.end
      this.x = branch.x
      this.bare = false
      return
    }
    this.end = sketch.input(0, y + DEPTH)
    sketch.label('in', this.end, 0, y)
  }

  /** A part or network in the line. */
  across(pole: TwoPole): void {
    const { length } = sizeOf(pole, 'across')
    this.x += 2
    const drawn = drawTwoPole(this.sketch, pole, { x: this.x, y: this.y, direction: 'across' })
    this.join(drawn.from)
    this.end = drawn.to
    this.x += length
  }

  /** A resistor of a name of its own in the line. */
  resistor(name: string, resistance: number): void {
    this.through(this.sketch.part(name, 'resistor', { resistance }, this.x + 2 + HALF, this.y))
  }

  /** A part with two pins, drawn 2 + HALF farther on, in the line. */
  through(id: string): void {
    this.join({ part: id, pin: 'a' })
    this.end = { part: id, pin: 'b' }
    this.x += 2 + 2 * HALF
  }

  /** The line goes on from somewhere else. */
  goOn(end: End, x: number, y: number): void {
    this.end = end
    this.x = x
    this.y = y
  }

  /** The line goes on at another height, behind a part whose output lies lower. */
  level(y: number): void {
    if (y === this.y) return
    this.turns = [
      [this.x + 1, this.y],
      [this.x + 1, y],
    ]
    this.y = y
  }

  /** A junction so much farther on. */
  tap(ahead = 2): End {
    this.x += ahead
    const junction = this.sketch.junction(this.x, this.y)
    this.join(junction)
    this.end = junction
    return junction
  }

  /** A network from the line to ground; leaves room for its branches. */
  down(pole: TwoPole, ahead = 2): void {
    const junction = this.tap(ahead)
    this.hang(junction, pole)
    this.x += sizeOf(pole, 'down').width - 2
  }

  /** A network from a point of the line to ground. */
  hang(from: End, pole: TwoPole, x = this.x, y = this.y): void {
    const drawn = drawTwoPole(this.sketch, pole, { x, y: y + DEPTH - HALF, direction: 'down' })
    this.sketch.wire(from, drawn.from)
    this.sketch.ground(drawn.to, x, y + DEPTH - HALF + sizeOf(pole, 'down').length + 1)
  }

  /** The load, left out where the end is open, and the output's name. */
  finish(load?: number, { name = 'out', part = 'RL' } = {}): void {
    const out = this.tap(load === undefined ? 2 : 3)
    if (load !== undefined) {
      const id = this.sketch.part(part, 'resistor', { resistance: load }, this.x, this.y + DEPTH, 90)
      this.sketch.wire(out, { part: id, pin: 'a' })
      this.sketch.ground({ part: id, pin: 'b' }, this.x, this.y + DEPTH + HALF + 1)
    }
    this.sketch.label(name, out, this.x, this.y)
  }

  private join(next: End): void {
    const corner: [number, number][] = this.bare ? [[0, this.y]] : []
    this.sketch.wire(this.end, next, ...corner, ...this.turns)
    this.bare = false
    this.turns = []
  }
}
