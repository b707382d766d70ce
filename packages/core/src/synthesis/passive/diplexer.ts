import { isShaped } from '../../specification/filterSpec.js'
import { plainPlan } from '../Plan.js'
import { topology } from '../Topology.js'
import { singlyTerminated } from './insertionLoss.js'
import { type Arm, transformArms } from './ladderArms.js'
import { impossible, Line, resistanceField } from '../Line.js'
import { capacitor, coil, type TwoPole } from '../twoPole.js'

/** Grid units between the two branches. */
const APART = 16

/**
 * Low-pass and high-pass with the same Butterworth poles side by side on one input: each made for an ideal source, together
 * they are a resistance at every frequency, because their powers add up to one.
 */
export const diplexer = topology({
  id: 'diplexer',
  name: 'Diplexer',
  family: 'passive',
  character: 'Low-pass and high-pass side by side on one source, which sees a resistance at every frequency.',
  source: 'E. A. Guillemin, "Synthesis of Passive Networks", Wiley 1957 (complementary pair; from memory)',
  formulas: ['low-pass and high-pass of one Butterworth prototype for an ideal source: Y₁ + Y₂ = 1/R'],
  fields: [resistanceField('resistance', 'Source and loads', 600)],

  plan({ spec, ideal, realization: { resistance: r } }) {
    if (spec.gain !== 0) throw impossible('gain', 'A diplexer has no gain of its own.', 'Set the gain to 0 dB.')
    const low = spec.response === 'lowpass'
    if (isShaped(spec) || !ideal.prototype || !(low || spec.response === 'highpass') || ideal.equalizer)
      throw impossible(
        'response',
        'A diplexer parts low from high frequencies.',
        'Choose the lowpass response for its low output or the highpass for its high one, without an equaliser.',
      )
    if (spec.approximation !== 'butterworth')
      throw impossible(
        'approximation',
        'Only a Butterworth low-pass and high-pass with the same poles pass all of the power between them.',
        'Choose the butterworth approximation.',
      )
    // The half-power frequency is where both meet; the edge may have another loss.
    const meeting = 2 * Math.PI * ideal.passbandEdges[0]
    const arms = singlyTerminated(ideal.prototype, 'source')!.arms.toReversed()
    const exponent = 1 / (2 * ideal.order)
    const turn = (10 ** (ideal.rippleDb / 10) - 1) ** exponent
    const half = low ? meeting / turn : meeting * turn
    // Both from the prototype with half power at 1 rad/s.
    const normal = arms.map((arm) => ({
      ...arm,
      ...(arm.l !== undefined && { l: arm.l / turn }),
      ...(arm.c !== undefined && { c: arm.c / turn }),
    }))
    return plainPlan((sketch) => {
      const line = new Line(sketch)
      line.resistor('RS', r)
      const parting = line.tap(3)
      const x = line.x
      const branch = (response: 'lowpass' | 'highpass', y: number) => {
        const corner = y === 0 ? parting : sketch.junction(x, y)
        if (y !== 0) sketch.wire(parting, corner)
        const along = new Line(sketch, y, { end: corner, x })
        for (const arm of transformArms(normal, response, [half])) put(along, arm, r)
        const own = (response === 'lowpass') === low
        along.finish(r, {
          name: own ? 'out' : response === 'lowpass' ? 'low' : 'high',
          part: response === 'lowpass' ? 'RL' : 'RH',
        })
      }
      branch('lowpass', 0)
      branch('highpass', APART)
      return {
        circuit: sketch.circuit(`Diplexer, order ${ideal.order}`),
        referenceDb: 20 * Math.log10(1 / 2),
        inverting: false,
      }
    })
  },
})

/** One coil or capacitor, for r instead of 1 Ω. */
function put(line: Line, { place, l, c }: Arm, r: number): void {
  const pole: TwoPole = l !== undefined ? coil(l * r) : capacitor(c! / r)
  if (place === 'series') line.across(pole)
  else line.down(pole)
}
