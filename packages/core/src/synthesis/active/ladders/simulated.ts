import { approximate, type Ideal } from '../../../approximation/approximate.js'
import type { Field, ValuesOf } from '../../../specification/fields.js'
import type { FilterSpec } from '../../../specification/filterSpec.js'
import { isShaped } from '../../../specification/filterSpec.js'
import type { Arm } from '../../passive/ladderArms.js'
import { LADDER_FIELDS, ladderOf } from '../../passive/lcLadder.js'
import { Line, resistanceField } from '../../Line.js'
import { plainPlan } from '../../Plan.js'
import { Sketch } from '../../Sketch.js'
import { type Realized, type Topology, topology } from '../../Topology.js'
import { amplifierOf } from '../amplifier.js'
import { biquadOf } from '../biquad.js'
import { capacitorOf } from '../cascade.js'
import { taken } from '../factors.js'
import { COMMON_FIELDS } from '../fields.js'
import { type Figure, drawFigure } from '../Figure.js'
import { amplified, follower, hung, joined, lying, wired } from '../figures.js'
import { planSection, slotKind } from '../SectionKind.js'
import { allpassFirst } from '../sections/allpassFirst.js'
import { allpassSecond } from '../sections/allpassSecond.js'
import { biased } from '../singleSupply.js'

/** Resistances at both ends, where nothing is said, Ω. */
const ENDS = 10e3

/** DC comes through resistances so many times larger than the others where none are given: the response is kept to 1e-7 dB. */
export const DRAIN = 5e7

/** The largest resistance that stands in a circuit at all, Ω. */
export const LARGEST = 9e11

export const DRAIN_FIELD = {
  ...resistanceField('drain', 'Resistances that let DC through', 1e7),
  optional: true,
  empty: 'so large that none sees them',
} as const

/** Of a passive ladder the fields that its simulation has, with resistances that suit amplifiers. */
const OWN = ['source', 'load', 'first', 'fewest']
const usual = (id: string) => (id === 'source' || id === 'load' ? { default: ENDS } : {})
const FIELDS: readonly Field[] = [
  ...LADDER_FIELDS.filter((f) => OWN.includes(f.id)).map((f) => ({ ...f, ...usual(f.id) }) as Field),
  ...COMMON_FIELDS.filter((f) => !OWN.includes(f.id) && f.id !== 'buffer'),
]

/** What a simulation is drawn from. */
export interface Simulated {
  readonly sketch: Sketch
  readonly arms: readonly Arm[]
  readonly source: number | undefined
  readonly load: number | undefined
  /** Of its capacitors, F, and of its resistors, Ω. */
  readonly size: number
  readonly level: number
  /** Whether the ladder lets DC through, and by how much. */
  readonly dc: number | null
  /** The values of its own fields, where they are given. */
  readonly given: Readonly<Record<string, unknown>>
}

interface Own {
  readonly id: string
  readonly name: string
  readonly character: string
  readonly source: string
  readonly formulas: readonly string[]
  readonly near?: true | number | number
  readonly own?: readonly Field[]
  readonly remarks?: readonly string[]
  /** Draws from the input on; the line it gives stands at the ladder's output, and is not loaded. */
  draw(simulated: Simulated): Line
}

type Realization = ValuesOf<typeof LADDER_FIELDS> & ValuesOf<typeof COMMON_FIELDS>

/** The topology of a way to simulate the LC ladder of a specification with amplifiers. */
export function simulatedLadder({ draw, own: ownFields = [], remarks, ...own }: Own): Topology {
  return topology({
    ...own,
    family: 'active',
    fields: [...FIELDS, ...ownFields],
    plan({ spec, ideal, realization: given }) {
      const realization = given as unknown as Realization
      const plain = { ...spec, gain: 0, equalizer: undefined } as FilterSpec
      const bare: Ideal = approximate(plain)
      const { arms, source, load, referenceDb, steps } = ladderOf({ spec: plain, ideal: bare, realization })
      const makeUp = 10 ** ((spec.gain - referenceDb) / 20)
      const level = realization.level ?? ENDS
      const size = capacitorOf(bare, realization)
      const amplifier = amplifierOf(realization)
      const passesDc = isShaped(spec) || spec.response === 'lowpass' || spec.response === 'bandstop'
      const dc = passesDc ? (source === undefined || load === undefined ? 1 : load / (source + load)) : null
      return plainPlan((values): Realized => {
        const sketch = values.withAmplifier(amplifier.model)
        const line = draw({ sketch, arms, source, load, size, level, dc, given })
        drawMakeUp(line, makeUp, level)
        for (const factor of ideal.equalizer ? taken(ideal.transfer).allpass : []) {
          const kind = factor.poles.length === 1 ? allpassFirst : allpassSecond
          const exact = planSection(kind, biquadOf(factor, 1), size).solve({})!
          line.level(0)
          line.tap(2)
          drawNamed(
            line,
            kind.figure((part) => part in exact),
            exact,
          )
        }
        line.finish()
        const circuit = sketch.circuit(`${own.name}, order ${ideal.order}`)
        const turns = ideal.equalizer ? taken(ideal.transfer).allpass.length % 2 === 1 : false
        return {
          circuit: realization.supply === 'single' ? biased(circuit, amplifier.model) : circuit,
          referenceDb: 0,
          inverting: turns !== ideal.transfer.gain < 0,
          steps,
          ...(remarks && { remarks }),
        }
      })
    },
  })
}

/** A figure whose parts take the next free names. */
export function drawNamed(line: Line, figure: Figure, values: Readonly<Record<string, number>>): void {
  drawFigure(line, figure, (slot, x, y, rotation) => {
    const id = line.sketch.name(slot[0])
    return line.sketch.valued(id, slotKind(slot), values[slot], x, y, rotation)
  })
}

/** An amplifier behind the ladder, which makes the gain absolute. */
function drawMakeUp(line: Line, gain: number, level: number): void {
  line.level(0)
  line.tap(2)
  if (Math.abs(gain - 1) < 1e-9) drawNamed(line, joined([10, 1], wired([0, 0], [2, 0]), follower(5)), {})
  else if (gain > 1) {
    const down = gain < 2 ? level / (gain - 1) : level
    drawNamed(line, joined([10, 1], wired([0, 0], [2, 0]), amplified(5, 'R2', 'R1')), {
      R1: down,
      R2: down * (gain - 1),
    })
  } else {
    const figure = joined(
      [33, 2],
      wired([0, 0], [2, 0]),
      follower(5),
      lying('R1', 10, 18, 1),
      hung('R2', 18, 1),
      wired([18, 1], [25, 1]),
      { amplifiers: [[28, 2]] },
      wired([31, 2], [33, 2]),
      wired([25, 3], [24, 3], [24, 6], [33, 6], [33, 2]),
    )
    drawNamed(line, figure, { R1: level * (1 - gain), R2: level * gain })
  }
}
