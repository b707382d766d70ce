import { z } from 'zod'
import { rippleFactor } from '../../approximation/Approximation.js'
import type { End } from '../../circuit/circuit.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { HALF, Sketch } from '../Sketch.js'
import type { Topology } from '../Topology.js'
import { ladderElements } from './ladderElements.js'

const resistance = (name: string) =>
  z
    .number({ error: `The ${name} resistance is missing or is not a number.` })
    .min(0, { error: `The ${name} resistance must not be negative.` })
    .max(1e12, { error: `The ${name} resistance is above 1 TΩ.` })

const schema = z.strictObject({
  family: z.literal('lc-ladder'),
  source: resistance('source'),
  load: z.union([resistance('load'), z.literal('open')], { error: 'The load is a resistance in Ω, or "open".' }),
  first: z.enum(['shunt', 'series'], { error: 'The first part is "shunt" or "series".' }).optional(),
})
type LadderRealization = z.output<typeof schema>

/** Grid units from the ladder's line down to the middle of the parts to ground, and from the last of them to the load. */
const DEPTH = 4
const LOAD_PITCH = 7

/** A low-pass ladder of coils in series and capacitors to ground between two resistors. */
export const lcLadder: Topology<LadderRealization> = {
  id: 'lc-ladder',
  name: 'LC ladder',
  family: 'passive',
  character:
    'Coils and capacitors between source and load resistance: no supply, no noise of its own, least sensitive.',
  source:
    'L. Weinberg, P. Slepian, IRE Trans. CT-7, 1960, 88–101; G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, § 4.05',
  schema,
  fields: [
    { id: 'source', name: 'Source resistance', kind: 'quantity', unit: 'Ω', default: 50 },
    { id: 'load', name: 'Load resistance', kind: 'quantity', unit: 'Ω', default: 50 },
    {
      id: 'first',
      name: 'First part',
      kind: 'choice',
      default: '',
      choices: [
        { id: '', name: 'Whichever exists' },
        { id: 'shunt', name: 'Shunt capacitor' },
        { id: 'series', name: 'Series inductor' },
      ],
    },
  ],

  realize({ spec, ideal, realization, values: policy }) {
    const { source, load } = realization
    if (spec.gain !== 0) {
      throw impossible(
        'gain',
        'A passive ladder has no gain of its own: 0 dB is the most that its terminations allow.',
        'Set the gain to 0 dB, or choose an active realization.',
      )
    }
    if (source === 0 || load === 0 || load === 'open') {
      const path = source === 0 ? 'realization.source' : 'realization.load'
      throw impossible(
        path,
        'A ladder with one termination is not offered yet.',
        'Give a source and a load resistance above 0 Ω.',
      )
    }
    if (spec.response !== 'lowpass') {
      throw impossible('response', `An LC ladder of ${spec.response} response is not offered yet.`, 'Offered: lowpass.')
    }
    if (spec.approximation !== 'butterworth' && spec.approximation !== 'chebyshev') {
      throw impossible(
        'approximation',
        `An LC ladder of ${spec.approximation} response is not offered yet.`,
        'Offered: butterworth, chebyshev.',
      )
    }
    const ratio = load / source
    const { first, values } = ladderElements({
      approximation: spec.approximation,
      order: ideal.order,
      rippleDb: ideal.rippleDb,
      ratio,
      first: realization.first,
    })
    const omega = 2 * Math.PI * ideal.passbandEdges[0]
    const sketch = new Sketch(policy)
    const input = sketch.input(0, DEPTH)
    sketch.label('in', input, 0, 0)
    const rs = sketch.part('RS', 'resistor', { resistance: source }, 3 + HALF, 0)
    sketch.wire(input, { part: rs, pin: 'a' }, [0, 0])

    // Where the line has come to: the end that the next part joins, its place, and whether a part to ground hangs there.
    let end: End = { part: rs, pin: 'b' }
    let x = 3 + 2 * HALF
    let tapped = false
    const tap = (at: number): End => {
      x = at
      const junction = sketch.junction(x, 0)
      sketch.wire(end, junction)
      end = junction
      tapped = true
      return junction
    }
    const toGround = (id: string) => {
      sketch.wire(end, { part: id, pin: 'a' })
      sketch.ground({ part: id, pin: 'b' }, x, DEPTH + HALF + 1)
    }
    values.forEach((g, k) => {
      if ((k % 2 === 0) === (first === 'shunt')) {
        tap(x + 2)
        toGround(sketch.valued(`C${k + 1}`, 'capacitor', 'capacitance', g / (source * omega), [x, DEPTH, 90]))
      } else {
        const id = sketch.valued(`L${k + 1}`, 'inductor', 'inductance', (g * source) / omega, [x + 2 + HALF, 0])
        sketch.wire(end, { part: id, pin: 'a' })
        end = { part: id, pin: 'b' }
        x += 2 + 2 * HALF
        tapped = false
      }
    })
    const out = tap(tapped ? x + LOAD_PITCH : x + 2)
    toGround(sketch.part('RL', 'resistor', { resistance: load }, x, DEPTH, 90))
    sketch.label('out', out, x, 0)

    const evenChebyshev = spec.approximation === 'chebyshev' && ideal.order % 2 === 0
    const aboveDc = evenChebyshev ? Math.hypot(1, rippleFactor(ideal.rippleDb)) : 1
    return {
      circuit: sketch.circuit(`LC ladder, order ${ideal.order}`),
      referenceDb: 20 * Math.log10((load / (source + load)) * aboveDc),
      inverting: false,
    }
  },
}

function impossible(path: string, problem: string, fix: string): VoskelError {
  return new VoskelError('REALIZATION_IMPOSSIBLE', { problem, fix }, { path })
}
