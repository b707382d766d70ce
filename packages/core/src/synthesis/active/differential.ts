import type { End } from '../../circuit/circuit.js'
import { impossible } from '../Line.js'
import { plainPlan } from '../Plan.js'
import { HALF, type Sketch } from '../Sketch.js'
import { type Realized, topology } from '../Topology.js'
import { amplifierOf } from './amplifier.js'
import { biquadOf, type Biquad } from './biquad.js'
import { capacitorOf } from './cascade.js'
import { FIELDS } from './fields.js'
import { distributed } from './gains.js'
import { ordered } from './pairing.js'
import { notMade } from './refusals.js'
import { planSection } from './SectionKind.js'
import { inverterLowpass } from './sections/inverterLowpass.js'
import { mfbLowpass } from './sections/mfbLowpass.js'

/** Row of the lower half, grid units below the upper one's. */
const LOWER = 20

/** The two lines of a balanced chain: where they have come to. */
interface Pair {
  upper: End
  lower: End
  x: number
}

/**
 * Both halves of a section around an amplifier with two outputs: one that amplifies the difference of its inputs, and a source
 * that turns its output over.
 */
function drawSection(sketch: Sketch, pair: Pair, wanted: Biquad, size: number, source: number): void {
  const isPair = wanted.order === 2
  const kind = isPair ? mfbLowpass : inverterLowpass
  const v = planSection(kind, wanted, size).solve({})!
  const begin = pair.x
  const draw = (letter: 'R' | 'C', value: number, x: number, y: number, rotation: 0 | 90 = 0) =>
    sketch.valued(sketch.name(letter), letter === 'R' ? 'resistor' : 'capacitor', value, x, y, rotation)
  const through = (from: End, id: string) => {
    sketch.wire(from, { part: id, pin: 'a' })
    return { part: id, pin: 'b' } as End
  }
  const node = (from: End, x: number, y: number) => {
    const at = sketch.junction(x, y)
    sketch.wire(from, at)
    return at
  }
  const a = begin + 7
  // The source's own resistance stands in the upper half: what its resistor lacks.
  let upper = node(through(pair.upper, draw('R', v.R1 - source, begin + 2 + HALF, 0)), a, 0)
  let lower = node(through(pair.lower, draw('R', v.R1, begin + 2 + HALF, LOWER)), a, LOWER)
  const [upperTee, lowerTee] = [upper, lower]
  let s = a
  if (isPair) {
    // One capacitor between both halves does what two of twice its size to ground would.
    const between = draw('C', v.C1 / 2, a, LOWER / 2, 90)
    sketch.wire(upper, { part: between, pin: 'a' })
    sketch.wire({ part: between, pin: 'b' }, lower)
    s = a + 13
    upper = node(through(upper, draw('R', v.R2, a + 9, 0)), s, 0)
    lower = node(through(lower, draw('R', v.R2, a + 9, LOWER)), s, LOWER)
  }
  const out = s + 24
  const amplifier = sketch.amplifier(s + 7, LOWER / 2)
  sketch.wire(upper, { part: amplifier, pin: 'plus' }, [s, LOWER / 2 - 1])
  sketch.wire(lower, { part: amplifier, pin: 'minus' }, [s, LOWER / 2 + 1])
  const driven = sketch.junction(s + 12, LOWER / 2)
  sketch.wire({ part: amplifier, pin: 'out' }, driven)
  const turner = sketch.part(sketch.name('E'), 'vcvs', { gain: -1 }, s + 18, LOWER / 2 - 3)
  sketch.wire(driven, { part: turner, pin: 'sensePlus' }, [s + 12, LOWER / 2 - 5])
  sketch.ground({ part: turner, pin: 'senseMinus' }, s + 16, LOWER / 2 + 1)
  sketch.ground({ part: turner, pin: 'minus' }, s + 20, LOWER / 2 + 1)
  const [top, bottom] = [sketch.junction(out, 0), sketch.junction(out, LOWER)]
  sketch.wire({ part: turner, pin: 'plus' }, top, [out, LOWER / 2 - 5])
  sketch.wire(driven, bottom, [s + 12, LOWER / 2 + 4], [out, LOWER / 2 + 4])
  const back = (from: End, fx: number, to: End, row: number, letter: 'R' | 'C', value: number) => {
    const middle = Math.round((fx + out) / 2)
    const id = draw(letter, value, middle, row)
    sketch.wire(from, { part: id, pin: 'a' }, [fx, row])
    sketch.wire({ part: id, pin: 'b' }, to, [out, row])
  }
  back(upper, s, top, -4, 'C', isPair ? v.C2 : v.C1)
  back(lower, s, bottom, LOWER + 4, 'C', isPair ? v.C2 : v.C1)
  const resistor = isPair ? v.R3 : v.R2
  const [fromUpper, fromLower, fx] = isPair ? [upperTee, lowerTee, a] : [upper, lower, s]
  back(fromUpper, fx, top, -8, 'R', resistor)
  back(fromLower, fx, bottom, LOWER + 8, 'R', resistor)
  pair.upper = top
  pair.lower = bottom
  pair.x = out
}

const DIFFERENTIAL_FIELDS = FIELDS.filter((f) => f.id !== 'buffer')

/** Low-pass sections in two halves, as drivers of converters: nets `outp` and `outn`, their difference at `out`. */
export const differentialMultipleFeedback = topology({
  id: 'differential-multiple-feedback',
  name: 'Differential multiple-feedback sections',
  family: 'active',
  character: 'Two halves alike, for converters with differential inputs: what disturbs both cancels.',
  source: `${mfbLowpass.source}; its two halves: common practice, no source`,
  formulas: [
    'each half as the single section: R₁, R₂, R₃, C₂ twice; C₁/2 between the halves instead of C₁ to ground twice',
  ],
  fields: DIFFERENTIAL_FIELDS,
  plan({ spec, ideal, realization }) {
    const { source, load, pairing, gains: typed, supply } = realization
    if (supply === 'single')
      throw impossible(
        'realization.supply',
        'The output’s middle of a differential amplifier is its own matter: a single supply changes nothing in this circuit.',
        'Leave "supply" out.',
      )
    const factors = ordered(ideal.transfer, ideal.passbands, pairing, () => 0)
    const kinds = factors.map((factor) => {
      const kind = factor.poles.length === 2 ? mfbLowpass : inverterLowpass
      if (!kind.fits(factor)) throw notMade('differential-multiple-feedback', [mfbLowpass], factor, { spec, ideal })
      return kind
    })
    const size = capacitorOf(ideal, realization)
    const { gains } = distributed(kinds, factors, ideal, typed)
    const wanted = factors.map((factor, k) => biquadOf(factor, gains[k]))
    const first = planSection(kinds[0], wanted[0], size).solve({})!
    if (first.R1 <= source)
      throw impossible(
        'realization.source',
        `The source resistance of ${source} Ω is no less than the ${first.R1.toPrecision(4)} Ω through which the first section is driven.`,
        'Choose a smaller capacitor, a higher level, or buffer the source.',
      )
    const amplifier = amplifierOf(realization)
    return plainPlan((plain): Realized => {
      const sketch = plain.withAmplifier(amplifier.model)
      const input = sketch.input(0, 4)
      sketch.label('in', input, 0, 0)
      const start = sketch.junction(3, 0)
      sketch.wire(input, start, [0, 0])
      const pair: Pair = { upper: start, lower: sketch.junction(3, LOWER), x: 3 }
      sketch.ground(pair.lower, 3, LOWER + 2)
      if (source > 0) {
        const id = sketch.part('RS', 'resistor', { resistance: source }, 7, 0)
        sketch.wire(start, { part: id, pin: 'a' })
        pair.upper = sketch.junction(10, 0)
        sketch.wire({ part: id, pin: 'b' }, pair.upper)
        const lower = sketch.junction(10, LOWER)
        sketch.wire(pair.lower, lower)
        pair.lower = lower
        pair.x = 10
      }
      wanted.forEach((section, k) => drawSection(sketch, pair, section, size, k === 0 ? source : 0))
      finish(sketch, pair, factors.length % 2 === 1, load === 'open' ? undefined : load)
      const circuit = sketch.circuit(`Differential multiple-feedback sections, order ${ideal.order}`)
      return { circuit, referenceDb: 0, inverting: ideal.transfer.gain < 0 }
    })
  },
})

/** The outputs' names, a load between them, and the sensor of their difference. */
function finish(sketch: Sketch, { upper, lower, x }: Pair, isTurned: boolean, load: number | undefined): void {
  const [top, bottom] = [sketch.junction(x + 6, 0), sketch.junction(x + 6, LOWER)]
  sketch.wire(upper, top)
  sketch.wire(lower, bottom)
  sketch.label(isTurned ? 'outn' : 'outp', top, x + 6, 0)
  sketch.label(isTurned ? 'outp' : 'outn', bottom, x + 6, LOWER)
  let [endUp, endDown, at] = [top, bottom, x + 6]
  if (load !== undefined) {
    at += 6
    const id = sketch.part('RL', 'resistor', { resistance: load }, at, LOWER / 2, 90)
    const [a, b] = [sketch.junction(at, 0), sketch.junction(at, LOWER)]
    sketch.wire(endUp, a)
    sketch.wire(endDown, b)
    sketch.wire(a, { part: id, pin: 'a' })
    sketch.wire({ part: id, pin: 'b' }, b)
    ;[endUp, endDown] = [a, b]
  }
  const sensor = sketch.part(sketch.name('E'), 'vcvs', { gain: isTurned ? -1 : 1 }, at + 14, LOWER / 2)
  sketch.wire(endUp, { part: sensor, pin: 'sensePlus' }, [at + 12, 0])
  sketch.wire(endDown, { part: sensor, pin: 'senseMinus' }, [at + 12, LOWER])
  sketch.ground({ part: sensor, pin: 'minus' }, at + 16, LOWER / 2 + 4)
  const out = sketch.junction(at + 20, LOWER / 2 - 2)
  sketch.wire({ part: sensor, pin: 'plus' }, out)
  sketch.label('out', out, at + 20, LOWER / 2 - 2)
}
