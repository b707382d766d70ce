import { isShaped } from '../../specification/filterSpec.js'
import { plainPlan } from '../Plan.js'
import { topology } from '../Topology.js'
import { drawLadder } from './drawLadder.js'
import { type Arm, scaledArm, transformArms } from './ladderArms.js'
import { impossible, resistanceField } from '../Line.js'

/** Coil and capacitor of a constant-k section for 1 Ω and a cutoff of 1 rad/s: √(L/C) = 1, cutoff 2/√(LC). */
const K = 2

/**
 * Sections that meet each other with equal image impedances: constant-k ones between two m-derived halves, whose image
 * impedance stays near the resistance over most of the band. The cutoff is the passband edge; what comes out is not the
 * approximation's response, and the ledger says by how much.
 */
export const imageSections = topology({
  id: 'image-sections',
  name: 'Image-parameter sections',
  family: 'passive',
  near: true,
  character: 'Constant-k sections between m-derived halves, as taught: simple values, a response that is only near.',
  source:
    'G. A. Campbell, Bell System Technical Journal 1, 1922, 1–32; O. J. Zobel, ibid. 2, 1923, 1–46; G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, ch. 3',
  formulas: ['L = R/(π·f), C = 1/(π·f·R); m-derived: m·L, m·C and (1 − m²)/(4m)·L, f∞ = f/√(1 − m²)'],
  fields: [
    resistanceField('resistance', 'Source and load', 600),
    {
      id: 'sections',
      name: 'Constant-k sections',
      kind: 'quantity',
      unit: '',
      default: 2,
      least: 1,
      most: 10,
      whole: true,
    },
    { id: 'ends', name: 'm of the ends', kind: 'quantity', unit: '', default: 0.6, above: 0, most: 1 },
  ],

  plan({ spec, ideal, realization: { resistance: r, sections, ends: m } }) {
    if (spec.gain !== 0) throw impossible('gain', 'These sections have no gain of their own.', 'Set the gain to 0 dB.')
    if (isShaped(spec) || spec.response === 'allpass' || ideal.equalizer)
      throw impossible(
        'response',
        'Image-parameter sections have a passband and a stop band, and no equaliser.',
        'Choose a low-pass, high-pass, band-pass or band-stop response.',
      )
    const edges = ideal.referenceEdges.map((f) => 2 * Math.PI * f)
    const arms = transformArms(composite(sections, m), spec.response, edges).map((arm) => scaledArm(arm, r))
    return plainPlan((sketch) => {
      drawLadder(sketch, { arms, source: r, load: r })
      return {
        circuit: sketch.circuit(`Image-parameter sections, ${sections} between ends of m = ${m}`),
        referenceDb: 20 * Math.log10(1 / 2),
        inverting: false,
      }
    })
  },
})

/** Half an m-derived section, constant-k T sections, the other half: coils that meet in the line are one. */
function composite(sections: number, m: number): Arm[] {
  const end = (number: number): Arm =>
    m === 1
      ? { place: 'shunt', c: K / 2, number }
      : { place: 'shunt', l: (K * (1 - m * m)) / (2 * m), c: (m * K) / 2, joined: 'series', number }
  const inner = Array.from({ length: sections }, (_, k): Arm[] => [
    { place: 'shunt', c: K, number: 2 * k + 3 },
    { place: 'series', l: k === sections - 1 ? (K * (1 + m)) / 2 : K, number: 2 * k + 4 },
  ]).flat()
  return [end(1), { place: 'series', l: (K * (1 + m)) / 2, number: 2 }, ...inner, end(2 * sections + 3)]
}
