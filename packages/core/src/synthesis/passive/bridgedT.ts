import { plainPlan } from '../Plan.js'
import { topology } from '../Topology.js'
import { type AllpassSection, demandAllpass } from './allpassSections.js'
import { impossible, Line, resistanceField } from '../Line.js'
import { capacitor, coil, series } from '../twoPole.js'

/**
 * All-pass sections against ground: two coils in the line, a capacitor over both, a branch from between them. Below a Q of 1
 * the branch would need a negative coil, which the coupling of the two in the line gives.
 */
export const bridgedT = topology({
  id: 'bridged-t',
  name: 'Bridged-T all-pass',
  family: 'passive',
  character: 'All-pass sections against ground; coupled coils where a pole pair has a Q below 1.',
  source: 'O. J. Zobel, Bell System Technical Journal 7, 1928, 438–534; by bisection of the lattice (from memory)',
  formulas: [
    'lattice arm L = R·b/ω₀², C = 1/(R·b); bridged T: L in the line, C/2 over it, (L₂ − L)/2 and 2·C₂ to ground',
  ],
  fields: [resistanceField('resistance', 'Source and load', 600)],

  plan({ spec, ideal, realization: { resistance: r } }) {
    if (spec.gain !== 0) throw impossible('gain', 'A passive all-pass has no gain of its own.', 'Set the gain to 0 dB.')
    return plainPlan((sketch) => {
      const line = new Line(sketch)
      line.resistor('RS', r)
      for (const section of demandAllpass(ideal)) drawBridgedT(line, section, r)
      line.finish(r)
      return {
        circuit: sketch.circuit(`Bridged-T all-pass, order ${ideal.order}`),
        referenceDb: 20 * Math.log10(1 / 2),
        inverting: ideal.transfer.gain * (-1) ** ideal.order < 0,
      }
    })
  },
})

/** One section between resistances r; the line goes on behind it. */
export function drawBridgedT(line: Line, section: AllpassSection, r: number): void {
  const { sketch } = line
  // The lattice's arms: a coil and a capacitor in parallel, and their duals in series.
  const first = 'a' in section
  const inLine = first ? r / section.a : (r * section.b) / section.w2
  const over = first ? 0 : 1 / (r * section.b)
  const under = first ? 0 : r / section.b
  const toGround = first ? 1 / (r * section.a) : section.b / (r * section.w2)

  const left = line.tap(2)
  const from = line.x
  const mutual = Math.max(0, (inLine - under) / 2)
  const own = inLine - mutual
  line.across(coil(own))
  const one = line.end
  const middle = line.tap(2)
  const at = line.x
  line.across(coil(own))
  const two = line.end
  const right = line.tap(2)
  if (mutual > 0 && 'part' in one && 'part' in two) sketch.couple([one.part, two.part], mutual / own, at, line.y - 2)
  const spare = (under - inLine) / 2
  line.hang(middle, spare > 0 ? series(coil(spare), capacitor(2 * toGround)) : capacitor(2 * toGround), at)
  if (over > 0) {
    const above = line.y - (mutual > 0 ? 7 : 5)
    const id = sketch.valued(sketch.name('C'), 'capacitor', over / 2, at, above)
    sketch.wire(left, { part: id, pin: 'a' }, [from, above])
    sketch.wire({ part: id, pin: 'b' }, right, [line.x, above])
  }
}
