import { z } from 'zod'
import type { End } from '../../circuit/circuit.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { HALF, type Sketch } from '../Sketch.js'
import { drawTwoPole, sizeOf, type TwoPole } from './twoPole.js'

/** Grid units from the line down to the middle of the first part to ground. */
export const DEPTH = 4

/** A positive value of a realization. */
export const positive = (name: string, unit: string) =>
  z
    .number({ error: `The ${name} is missing or is not a number.` })
    .positive({ error: `The ${name} must be above 0 ${unit}.` })
    .max(1e12, { error: `The ${name} is above 1e12 ${unit}.` })

export function impossible(path: string, problem: string, fix: string): VoskelError {
  return new VoskelError('REALIZATION_IMPOSSIBLE', { problem, fix }, { path })
}

/** Draws what lies along a line from a source to the right: `end` is where it has come to, at (x, y). */
export class Line {
  end: End
  x = 0
  private bare = true

  constructor(
    readonly sketch: Sketch,
    readonly y = 0,
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
    const id = this.sketch.part(name, 'resistor', { resistance }, this.x + 2 + HALF, this.y)
    this.join({ part: id, pin: 'a' })
    this.end = { part: id, pin: 'b' }
    this.x += 2 + 2 * HALF
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
    this.sketch.wire(this.end, next, ...(this.bare ? [[0, this.y] as [number, number]] : []))
    this.bare = false
  }
}
