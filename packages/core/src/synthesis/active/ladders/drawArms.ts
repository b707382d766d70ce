import type { Arm } from '../../passive/ladderArms.js'
import { Line } from '../../Line.js'
import { HALF, type Sketch } from '../../Sketch.js'
import { drawTwoPole, parallel, resistor, type TwoPole } from '../../twoPole.js'

/** A network of amplifiers that is drawn instead of a part. */
export interface Network {
  inLine(line: Line, value: number): void
  /** @param below grid units under the line that it begins at */
  toGround(line: Line, value: number, below?: number): void
}

/** What is drawn instead of a coil or capacitor: another part, or a network. */
type Instead = ((value: number) => TwoPole) | Network

function drawInLine(line: Line, instead: Instead, value: number): void {
  if (typeof instead === 'function') line.across(instead(value))
  else instead.inLine(line, value)
}

function drawToGround(line: Line, instead: Instead, value: number): void {
  if (typeof instead === 'function') line.down(instead(value))
  else instead.toGround(line, value)
}

/** One of the two is a part, the other a network. */
function apart(
  coil: Instead,
  l: number,
  capacitor: Instead,
  c: number,
): { network: Network; value: number; part: TwoPole } {
  if (typeof coil === 'function') return { network: capacitor as Network, value: c, part: coil(l) }
  return { network: coil, value: l, part: (capacitor as (value: number) => TwoPole)(c) }
}

interface Simulation {
  readonly arms: readonly Arm[]
  readonly source: TwoPole | null
  readonly load: TwoPole | null
  readonly coil: Instead
  readonly capacitor: Instead
  /** Ω from between the parts of a resonant arm to ground, so that DC has a way. */
  readonly drain?: number | undefined
}

/** Row of what bridges a part in the line. */
const BRIDGE = -4

/** Where what hangs below another part begins. */
const DEEP = 22

/**
 * Draws a ladder from its source to its load with other networks instead of its coils or capacitors.
 *
 * @returns the line at the load
 */
export function drawArms(sketch: Sketch, { arms, source, load, coil, capacitor, drain }: Simulation): Line {
  const line = new Line(sketch)
  if (source) line.across(source)
  else line.tap(2)
  for (const arm of arms) {
    const { l, c, joined, place } = arm
    line.tap(2)
    if (place === 'series') {
      if (l !== undefined && c !== undefined && joined === 'parallel') bridged(line, coil, l, capacitor, c)
      else {
        if (l !== undefined) drawInLine(line, coil, l)
        if (c !== undefined) {
          if (l !== undefined) line.tap(2)
          drawInLine(line, capacitor, c)
        }
      }
      line.tap(2)
      continue
    }
    if (l !== undefined && c !== undefined && joined === 'series') resonant(line, drain, coil, l, capacitor, c)
    else {
      if (l !== undefined) drawToGround(line, coil, l)
      if (c !== undefined) drawToGround(line, capacitor, c)
    }
    line.tap(3)
  }
  if (load) {
    line.down(load, 4)
    line.tap(6)
  }
  return line
}

/** A network in the line with a part across it. */
function bridged(line: Line, ...both: Parameters<typeof apart>): void {
  const { network, value, part } = apart(...both)
  const { end: from, x, y } = line
  network.inLine(line, value)
  const to = line.tap(2)
  const middle = Math.round((x + line.x) / 2)
  const ends = drawTwoPole(line.sketch, part, { x: middle - HALF, y: y + BRIDGE, direction: 'across' })
  line.sketch.wire(from, ends.from, [x, y + BRIDGE])
  line.sketch.wire(ends.to, to, [line.x, y + BRIDGE])
}

/** A part and a network in series to ground, the network below. */
function resonant(line: Line, drain: number | undefined, ...both: Parameters<typeof apart>): void {
  const { network, value, part } = apart(...both)
  const { end, x, y, sketch } = line
  const upper = drawTwoPole(sketch, part, { x, y: y + 2, direction: 'down' })
  sketch.wire(end, upper.from)
  const between = sketch.junction(x, y + 8)
  sketch.wire(upper.to, between)
  const branch = new Line(sketch, y + 8, { end: between, x })
  network.toGround(branch, value, DEEP - 8)
  if (drain !== undefined) branch.down(resistor(drain), 2)
  line.goOn(end, x, y)
  line.tap(branch.x - x)
}

export const besideEach = (a: TwoPole, ohms: number): TwoPole => parallel(a, resistor(ohms))
