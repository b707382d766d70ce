import type { End } from '../../circuit/circuit.js'
import { DEPTH, type Line } from '../Line.js'
import { HALF, type Rotation } from '../Sketch.js'

/** Row of a follower's feedback, in grid units below the line. */
const FEEDBACK_ROW = 5

/** Draws one section of a chain where the line has come to. */
export class SectionPen {
  /**
   * @param place draws the part of a slot and gives its name
   * @param entrance draws the resistor through which the section is driven, if it is, with what else belongs there
   */
  constructor(
    readonly line: Line,
    readonly place: (slot: string, x: number, y: number, rotation?: Rotation) => string,
    readonly entrance: () => End,
  ) {}

  /** A part of the section in the line, up to a junction. */
  across(slot: string): End {
    const { line } = this
    line.through(this.place(slot, line.x + 2 + HALF, line.y))
    return line.tap(1)
  }

  /** A part from where the line is to ground. */
  down(slot: string): void {
    const { line } = this
    const id = this.place(slot, line.x, line.y + DEPTH, 90)
    line.sketch.wire(line.end, { part: id, pin: 'a' })
    line.sketch.ground({ part: id, pin: 'b' }, line.x, line.y + DEPTH + HALF + 1)
  }

  /** An amplifier whose output is its inverting input; the line goes on from its output, which is returned. */
  follower(): End {
    const { line } = this
    const { sketch, x } = line
    const y = line.y + 1
    const id = sketch.amplifier(x + 10, y)
    sketch.wire(line.end, { part: id, pin: 'plus' })
    const out = sketch.junction(x + 14, y)
    sketch.wire({ part: id, pin: 'out' }, out)
    const row = line.y + FEEDBACK_ROW
    sketch.wire({ part: id, pin: 'minus' }, out, [x + 6, y + 1], [x + 6, row], [x + 14, row])
    line.goOn(out, x + 14, y)
    return out
  }
}
