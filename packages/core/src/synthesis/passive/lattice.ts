import type { End } from '../../circuit/circuit.js'
import { plainPlan } from '../Plan.js'
import { HALF, type Sketch } from '../Sketch.js'
import { topology } from '../Topology.js'
import { type AllpassSection, demandAllpass } from './allpassSections.js'
import { DEPTH, impossible, Line, resistanceField } from '../Line.js'
import { capacitor, coil, drawTwoPole, dual, parallel, sizeOf, type TwoPole } from '../twoPole.js'

/** Grid units between the two lines of the lattice. */
const APART = 18

/** Balanced sections: Z in both lines, R²/Z crosswise between them, behind a transformer that lets both float. */
export const lattice = topology({
  id: 'lattice',
  name: 'Lattice all-pass',
  family: 'passive',
  character: 'Balanced all-pass sections for any Q without coupled coils; twice the parts, and a transformer.',
  source: 'G. A. Campbell, Bell System Technical Journal 1, 1922, 1–32; O. J. Zobel, ibid. 7, 1928 (from memory)',
  formulas: ['(R − Z)/(R + Z) = (s² − b·s + ω₀²)/(s² + b·s + ω₀²): Z = R·b·s/(s² + ω₀²), crosswise R²/Z'],
  fields: [resistanceField('resistance', 'Source and load', 600)],

  plan({ spec, ideal, realization: { resistance: r } }) {
    if (spec.gain !== 0) throw impossible('gain', 'A passive all-pass has no gain of its own.', 'Set the gain to 0 dB.')
    const found = demandAllpass(ideal)
    return plainPlan((sketch) => {
      const line = new Line(sketch)
      line.resistor('RS', r)
      const id = sketch.part('T1', 'transformer', { ratio: 1 }, line.x + 4, HALF)
      sketch.wire(line.end, { part: id, pin: 'primary' })
      sketch.ground({ part: id, pin: 'primaryReturn' }, line.x + 2, 2 * HALF + 1)
      let [upper, lower]: [End, End] = [
        { part: id, pin: 'secondary' },
        { part: id, pin: 'secondaryReturn' },
      ]
      let x = line.x + 6
      found.forEach((section, k) => {
        ;[upper, lower, x] = drawLattice(sketch, section, r, { upper, lower, x, first: k === 0 })
      })
      const out = sketch.junction(x + 3, 0)
      sketch.wire(upper, out)
      const rl = sketch.part('RL', 'resistor', { resistance: r }, x + 3, DEPTH, 90)
      sketch.wire(out, { part: rl, pin: 'a' })
      const foot = sketch.junction(x + 3, APART)
      sketch.wire({ part: rl, pin: 'b' }, foot)
      sketch.wire(lower, foot)
      sketch.ground(foot, x + 3, APART + 2)
      sketch.label('out', out, x + 3, 0)
      return {
        circuit: sketch.circuit(`Lattice all-pass, order ${ideal.order}`),
        referenceDb: 20 * Math.log10(1 / 2),
        inverting: ideal.transfer.gain * (-1) ** ideal.order < 0,
      }
    })
  },
})

function drawLattice(
  sketch: Sketch,
  section: AllpassSection,
  r: number,
  { upper, lower, x, first }: { upper: End; lower: End; x: number; first: boolean },
): [End, End, number] {
  const arm: TwoPole =
    'a' in section ? coil(r / section.a) : parallel(coil((r * section.b) / section.w2), capacitor(1 / (r * section.b)))
  const cross = dual(arm, r)
  const length = Math.max(sizeOf(arm, 'across').length, sizeOf(cross, 'down').length + 2)
  const [left, right] = [x + 3, x + 3 + length + 8]
  const corner = (end: End, cx: number, cy: number, ...bends: [number, number][]): End => {
    const junction = sketch.junction(cx, cy)
    sketch.wire(end, junction, ...bends)
    return junction
  }
  const from = corner(upper, left, 0)
  const below = first ? corner(lower, left, APART, [x, APART]) : corner(lower, left, APART)
  // What crosses between the lines finds no branch in its way.
  const row = (end: End, y: number, branches: 'above' | 'below'): End => {
    const drawn = drawTwoPole(sketch, arm, { x: left + 4, y, direction: 'across', length, branches })
    sketch.wire(end, drawn.from)
    return corner(drawn.to, right, y)
  }
  const to = row(from, 0, 'above')
  const toBelow = row(below, APART, 'below')
  // The crossing branches stand beside each other between the lines.
  const down = (top: End, bottom: End, at: number, tx: number, bx: number, apart: number) => {
    const own = sizeOf(cross, 'down').length
    const start = (APART - own) / 2
    const drawn = drawTwoPole(sketch, cross, { x: at, y: start, direction: 'down' })
    sketch.wire(top, drawn.from, [tx, start - 1 - apart], [at, start - 1 - apart])
    sketch.wire(drawn.to, bottom, [at, start + own + 1 + apart], [bx, start + own + 1 + apart])
  }
  down(from, toBelow, left + 3, left, right, 0)
  down(to, below, right - 3, right, left, 1)
  return [to, toBelow, right]
}
