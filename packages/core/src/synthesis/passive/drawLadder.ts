import type { End } from '../../circuit/circuit.js'
import { HALF, type Sketch } from '../Sketch.js'
import type { AllpassSection } from './allpassSections.js'
import { drawBridgedT } from './bridgedT.js'
import type { Arm } from './ladderArms.js'
import { Line } from '../Line.js'

/** Grid units from the ladder's line down to the middle of the first part to ground, and from the last tap to the load. */
const DEPTH = 4
const LOAD_PITCH = 7

/** Distance of neighbouring parts to ground, whose values stand beside them, and how far above the line a parallel part lies. */
const SHUNT_PITCH = 7
const ABOVE = 3

/** Values for the sketch: H, F. */
interface Drawn {
  readonly arms: readonly Arm[]
  /** Ω; absent for an ideal source, and for an open end. */
  readonly source?: number | undefined
  readonly load?: number | undefined
  /** All-pass sections of constant resistance before the load, which must be there. */
  readonly sections?: readonly AllpassSection[]
}

/** Draws a ladder from its source to its load: `in`, source resistance, arms, load resistance, `out`. */
export function drawLadder(sketch: Sketch, { arms, source, load, sections = [] }: Drawn): void {
  const input = sketch.input(0, DEPTH)
  sketch.label('in', input, 0, 0)
  const names = namesOf(arms)

  // Where the line has come to: the end that the next part joins, its place, and whether a part to ground hangs there.
  let end: End = input
  let x = 0
  let tapped = false
  let first = true
  const tap = (at: number): End => {
    if (at !== x || !('junction' in end)) {
      x = at
      const junction = sketch.junction(x, 0)
      join(junction)
      end = junction
    }
    tapped = true
    return end
  }
  /** Wires the line's end to what comes next. */
  function join(next: End): void {
    if (first) sketch.wire(end, next, [0, 0])
    else sketch.wire(end, next)
    first = false
  }
  const inLine = (id: string): void => {
    join({ part: id, pin: 'a' })
    end = { part: id, pin: 'b' }
    x += 2 + 2 * HALF
    tapped = false
  }
  const next = () => x + 2 + HALF

  if (source !== undefined) {
    x = 1
    inLine(sketch.part('RS', 'resistor', { resistance: source }, next(), 0))
  }
  arms.forEach((arm, k) => {
    const { l, c } = arm
    const [coil, capacitor] = [`L${names[k]}`, `C${names[k]}`]
    if (arm.place === 'series') {
      if (l !== undefined && c !== undefined && arm.joined === 'parallel') {
        const left = tap(tapped ? x + 1 : x + 2)
        const from = x
        const bridge = sketch.valued(capacitor, 'capacitor', c, from + 1 + HALF + 1, -ABOVE)
        sketch.wire(left, { part: bridge, pin: 'a' }, [from, -ABOVE])
        inLine(sketch.valued(coil, 'inductor', l, next(), 0))
        const right = tap(x + 2)
        sketch.wire({ part: bridge, pin: 'b' }, right, [x, -ABOVE])
        tapped = false
        return
      }
      if (l !== undefined) inLine(sketch.valued(coil, 'inductor', l, next(), 0))
      if (c !== undefined) inLine(sketch.valued(capacitor, 'capacitor', c, next(), 0))
      return
    }
    const hang = (id: string, below?: string) => {
      sketch.wire(end, { part: id, pin: 'a' })
      if (below) sketch.wire({ part: id, pin: 'b' }, { part: below, pin: 'a' })
      sketch.ground({ part: below ?? id, pin: 'b' }, x, DEPTH + HALF + 1 + (below ? 2 * HALF + 1 : 0))
    }
    const step = () => tap(tapped ? x + SHUNT_PITCH : x + 2)
    if (l !== undefined && c !== undefined && arm.joined === 'series') {
      step()
      const upper = sketch.valued(coil, 'inductor', l, x, DEPTH, 90)
      hang(upper, sketch.valued(capacitor, 'capacitor', c, x, DEPTH + 2 * HALF + 1, 90))
      return
    }
    if (c !== undefined) {
      step()
      hang(sketch.valued(capacitor, 'capacitor', c, x, DEPTH, 90))
    }
    if (l !== undefined) {
      step()
      hang(sketch.valued(coil, 'inductor', l, x, DEPTH, 90))
    }
  })
  if (load !== undefined && sections.length > 0) {
    const line = new Line(sketch, 0, { end, x: tapped ? x + LOAD_PITCH - 2 : x })
    for (const section of sections) drawBridgedT(line, section, load)
    line.finish(load)
    return
  }
  const out = tap(tapped ? x + LOAD_PITCH : x + 2)
  if (load !== undefined) {
    const id = sketch.part('RL', 'resistor', { resistance: load }, x, DEPTH, 90)
    sketch.wire(out, { part: id, pin: 'a' })
    sketch.ground({ part: id, pin: 'b' }, x, DEPTH + HALF + 1)
  }
  sketch.label('out', out, x, 0)
}

const LETTERS = 'abcdefgh'

/** The number of each arm, with a letter where several come from one of the prototype's. */
function namesOf(arms: readonly Arm[]): string[] {
  return arms.map(({ number }, k) => {
    const same = arms.filter((a) => a.number === number)
    return same.length === 1
      ? `${number}`
      : `${number}${LETTERS[arms.slice(0, k).filter((a) => a.number === number).length]}`
  })
}
