import { type FilterSpec, isShaped } from '../../specification/filterSpec.js'
import { impossible, Line } from '../Line.js'
import { plainPlan } from '../Plan.js'
import { type Realized, topology } from '../Topology.js'
import { amplifierOf } from './amplifier.js'
import { refuseTwoSizes } from './cascade.js'
import { COMMON_FIELDS } from './fields.js'
import { drawFigure, type Figure, POTENTIOMETER } from './Figure.js'
import { hung, joined, lying, summing, wired } from './figures.js'
import { nearestPreferred } from '../../quantity/preferredValues.js'
import { drawFollower, sourceFollower } from './front.js'
import { slotKind } from './SectionKind.js'
import { biased } from './singleSupply.js'

const FIELDS = [
  ...COMMON_FIELDS,
  {
    id: 'position',
    name: 'Position of the wiper',
    kind: 'quantity',
    unit: '',
    default: 0.5,
    least: 0,
    most: 1,
    optional: true,
    empty: 'where the response is reached',
  },
] as const

/** What stays of a potentiometer's track at its ends (circuit/parts/potentiometer.ts). */
const END = 1e-6

/** Resistances lie around this where nothing is said, Ω. */
const LEVEL = 10e3

/** How much larger than the other resistances a potentiometer is. */
const LARGER = 10

/** A stage whose potentiometer lies between input and output of an amplifier that turns over. */
interface Stage {
  readonly values: Readonly<Record<string, number>>
  readonly potentiometer: number
  readonly figure: Figure
  readonly lines: readonly string[]
}

type Shape = Readonly<Record<string, number>>

/** First-order low shelf: P ∥ C of the potentiometer's two parts in the input's and the output's arm. */
function lowShelf({ corner, boost }: Shape, level: number): Stage {
  const raised = 10 ** (Math.abs(boost) / 20)
  const P = LARGER * level
  const w = 2 * Math.PI * corner
  const pole = w / Math.sqrt(raised)
  // What stays of the track at its end counts with the resistor there.
  const R = (P * (1 - END)) / (raised - 1)
  const atEnd = R - P * END
  const C = 1 / (P * (1 - END) * pole)
  return {
    values: boost > 0 ? { R1: atEnd, R2: R, C1: C, C2: C } : { R1: R, R2: atEnd, C1: C, C2: C },
    potentiometer: P,
    lines: ['g = 1 + P/R₁, pole at 1/(P·C₁)'],
    figure: joined(
      [46, 1],
      { potentiometer: [17, 0] },
      { parts: { R1: [4, 0], C1: [12, 6], C2: [22, 6], R2: [30, 0] } },
      wired([0, 0], [2, 0]),
      wired([6, 0], [15, 0]),
      wired([19, 0], [28, 0]),
      wired([10, 6], [9, 6], [9, 0]),
      wired([14, 6], [17, 6]),
      wired([17, 2], [17, 6]),
      wired([17, 6], [20, 6]),
      wired([24, 6], [25, 6], [25, 0]),
      wired([17, 6], [17, 11], [35, 11], [35, 1]),
      wired([32, 0], [33, 0], [33, -4], [46, -4], [46, 1]),
      wired([35, 1], [37, 1]),
      { amplifiers: [[40, 2, 'over']], grounds: [[36, 6]] },
      wired([37, 3], [36, 3], [36, 6]),
      wired([43, 2], [46, 2], [46, 1]),
    ),
  }
}

/** First-order high shelf: a flat way through R3 and R4, and the wiper through C1 into the same sum. */
function highShelf({ corner, boost }: Shape, level: number): Stage {
  const raised = 10 ** (Math.abs(boost) / 20)
  const P = LARGER * level
  const R = level
  const w = 2 * Math.PI * corner
  const track = P * (1 - 2 * END)
  const sum = track + R
  const near = (-sum + Math.sqrt(sum * sum + (4 * R * track) / (raised - 1))) / 2
  const far = near + track
  const end = near - END * P
  const C = (1 / near + 1 / far) / (w * Math.sqrt(raised) * (1 + R / far))
  return {
    values: { R1: end, R2: end, R3: R, R4: R, C1: C },
    potentiometer: P,
    lines: ['g = (1 + R₃/R₁)/(1 + R₃/(R₁ + P)), pole at (1/R₁ + 1/(R₁ + P))/(C₁·(1 + R₃/(R₁ + P)))'],
    figure: joined(
      [46, 1],
      { potentiometer: [17, 0] },
      { parts: { R1: [4, 0], R2: [30, 0], C1: [22, 8], R3: [10, 14], R4: [40, -4] } },
      wired([0, 0], [2, 0]),
      wired([6, 0], [15, 0]),
      wired([19, 0], [28, 0]),
      wired([17, 2], [17, 8], [20, 8]),
      wired([24, 8], [34, 8], [34, 1]),
      wired([0, 0], [0, 14], [8, 14]),
      wired([12, 14], [34, 14], [34, 8]),
      wired([32, 0], [33, 0], [33, -8], [46, -8], [46, -4]),
      wired([34, 1], [37, 1]),
      wired([34, 1], [34, -4], [38, -4]),
      wired([42, -4], [46, -4]),
      wired([46, -4], [46, 1]),
      { amplifiers: [[40, 2, 'over']], grounds: [[36, 6]] },
      wired([37, 3], [36, 3], [36, 6]),
      wired([43, 2], [46, 2], [46, 1]),
    ),
  }
}

/** Part of the band-pass' input that comes through where it resonates. */
const HEIGHT = 0.5

/** A bell: what the wiper has, through a follower and a band-pass, into the sum of input and output. */
function peaking({ center, boost, q }: Shape, level: number, isGiven: boolean): Stage {
  const raised = 10 ** (Math.abs(boost) / 20)
  const w = 2 * Math.PI * center
  const k = (raised - 1) / (1 - END * (1 + raised))
  const width = w / (q * (1 + k * END))
  const Q = w / width
  if (Q < Math.SQRT1_2 / 2)
    throw impossible(
      'shape.q',
      `The band-pass of this bell would need a Q of ${Q.toPrecision(3)}; its one amplifier begins at ${(Math.SQRT1_2 / 2).toPrecision(3)}.`,
      'Ask for a higher Q, or take two-integrator-loop.',
    )
  const R = level
  const C = isGiven ? 1 / (w * level) : nearestPreferred(1 / (w * level), 'E6')
  const [g1, g2] = [HEIGHT * width * C, ((1 - HEIGHT) * width * C) / 2]
  const g3 = (w * w * C * C) / g2 - g1
  return {
    values: { R1: R, R2: R, R3: 1 / g1, R4: 1 / g2, R5: 1 / g3, R6: (R * HEIGHT) / k, C1: C, C2: C },
    potentiometer: LARGER * level,
    lines: ['H = −(1 + k·β·B)/(1 + k·(1 − β)·B), g = 1 + k, k = R₂·h/R₆; B a band-pass of height h = 1/2'],
    figure: joined(
      [72, 1],
      // Input and output into the sum.
      { potentiometer: [17, 0] },
      { parts: { R1: [6, -8], R5: [38, 8], R6: [54, 13] } },
      wired([0, 0], [15, 0]),
      wired([2, 0], [2, -8], [4, -8]),
      wired([8, -8], [61, -8], [61, 0]),
      // The wiper's follower.
      wired([17, 2], [17, 12]),
      { amplifiers: [[20, 13]] },
      wired([23, 13], [25, 13]),
      wired([17, 14], [16, 14], [16, 17], [25, 17], [25, 13]),
      lying('R3', 25, 32, 13),
      hung('C1', 32, 13),
      lying('C2', 32, 41, 13),
      hung('R4', 41, 13),
      wired([41, 13], [44, 13]),
      { amplifiers: [[47, 14]] },
      wired([50, 14], [51, 14]),
      wired([44, 15], [43, 15], [43, 23], [51, 23], [51, 14]),
      wired([32, 13], [32, 8], [36, 8]),
      wired([40, 8], [51, 8], [51, 13]),
      wired([51, 14], [51, 13]),
      wired([51, 13], [52, 13]),
      wired([56, 13], [61, 13], [61, 0]),
      wired([19, 0], [56, 0], [56, -12], [72, -12], [72, -4]),
      summing(61, 'R2'),
    ),
  }
}

/** Stages by response: of resistances around a level, Ω, as given, or where capacitors may come out as they are sold. */
const STAGES: Readonly<Record<string, (shape: Shape, level: number, isGiven: boolean) => Stage>> = {
  'low-shelf': lowShelf,
  'high-shelf': highShelf,
  peaking,
}

/** Shelves and bells that a potentiometer turns from full boost over flat to full cut. */
export const toneControl = topology({
  id: 'tone-control',
  name: 'Tone control',
  family: 'active',
  character: 'One potentiometer turns a shelf or a bell from boost over flat to cut.',
  source: 'P. J. Baxandall, "Negative-feedback tone control", Wireless World 58, 1952, 402–405 (from memory)',
  formulas: ['H = −Z₂/Z₁: at one end of the potentiometer the boost, at the other the same cut, in the middle −1'],
  fields: FIELDS,
  plan({ spec, realization }) {
    const shape = shapeOf(spec)
    const { boost } = shape
    const { source, load, buffer } = realization
    const stage = stageOf(spec.response, shape, realization)
    const position = realization.position ?? (boost >= 0 ? 1 : 0)
    const amplifier = amplifierOf(realization)
    return plainPlan((plain): Realized => {
      const sketch = plain.withAmplifier(amplifier.model)
      const line = new Line(sketch)
      if (source > 0) {
        line.resistor('RS', source)
        drawFollower(line)
      }
      line.tap(2)
      drawFigure(line, stage.figure, (slot, x, y, rotation) =>
        slot === POTENTIOMETER
          ? sketch.potentiometer(slot, { resistance: stage.potentiometer, position, taper: 0 }, x, y)
          : sketch.valued(slot, slotKind(slot), stage.values[slot], x, y, rotation),
      )
      if (buffer) drawFollower(line)
      line.finish(load === 'open' ? undefined : load)
      const circuit = sketch.circuit(`Tone control, ${spec.response}`)
      return {
        circuit: realization.supply === 'single' ? biased(circuit, amplifier.model) : circuit,
        referenceDb: 0,
        inverting: true,
        remarks: source > 0 ? [sourceFollower.name] : [],
        steps: [{ title: 'Values', lines: stage.lines, source: 'common practice, no source' }],
      }
    })
  },
})

/** The stage of the size that is asked: the larger its resistances, the smaller its capacitors. */
function stageOf(response: string, shape: Shape, size: { capacitor?: number; level?: number }): Stage {
  refuseTwoSizes(size)
  const { capacitor, level } = size
  const make = STAGES[response]
  if (capacitor !== undefined) return make(shape, make(shape, 1, true).values.C1 / capacitor, true)
  return make(shape, level ?? LEVEL, level !== undefined)
}

function shapeOf(spec: FilterSpec): Shape {
  if (!isShaped(spec) || !(spec.response in STAGES))
    throw impossible(
      'response',
      'A tone control makes peaking, low-shelf and high-shelf responses and no others.',
      `Choose one of these, or another family: two-integrator-loop makes every second-order response.`,
    )
  const shape = spec.shape as Shape
  if (spec.gain !== 0)
    throw impossible('gain', 'A tone control leaves a gain of 0 dB where nothing is raised.', 'Set the gain to 0 dB.')
  if (shape.order !== undefined && shape.order > 1)
    throw impossible(
      'shape.order',
      `One potentiometer makes a shelf of order 1, not ${shape.order}.`,
      'Give order 1, or take two-integrator-loop.',
    )
  if (shape.boost === 0)
    throw impossible('shape.boost', 'A boost of 0 dB leaves nothing to turn.', 'Give a boost or a cut in dB.')
  return shape
}
