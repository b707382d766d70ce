import { type Ideal, shapingAttenuation } from '../../approximation/approximate.js'
import { approximation, familyOf } from '../../approximation/index.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { abs, complex } from '../../numeric/complex.js'
import { magnitudeDb, scaleFrequency, type TransferFunction } from '../../numeric/transferFunction.js'
import type { ValuesOf } from '../../specification/fields.js'
import { type FilterSpec, isShaped } from '../../specification/filterSpec.js'
import type { ResponseId } from '../../specification/responses.js'
import { plainPlan } from '../Plan.js'
import { type FormulaStep, type PlanRequest, topology } from '../Topology.js'
import { allpassSections } from './allpassSections.js'
import { drawLadder } from './drawLadder.js'
import { doublyTerminated, leastRatio, singlyTerminated } from './insertionLoss.js'
import { type Arm, scaledArm, transformArms } from './ladderArms.js'
import { ladderElements } from './ladderElements.js'
import { ladderSteps } from './ladderSteps.js'
import { impossible, resistanceField } from '../Line.js'
import { raisedByNorton } from './norton.js'
import { highestOf, predistorted, withLosses } from './predistortion.js'

/** An end of 0 Ω is an ideal source. */
const NOT_NEGATIVE = { above: undefined, least: 0 } as const

export const LADDER_FIELDS = [
  { ...resistanceField('source', 'Source resistance', 50), ...NOT_NEGATIVE },
  { ...resistanceField('load', 'Load resistance', 50), ...NOT_NEGATIVE, word: 'open' },
  { ...resistanceField('matched', 'Matched load', 0), optional: true, empty: 'as it is' },
  {
    id: 'quality',
    name: 'Q at the edge',
    kind: 'quantity',
    unit: '',
    default: 0,
    above: 0,
    optional: true,
    empty: 'no loss',
  },
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
  {
    id: 'fewest',
    name: 'Fewest',
    kind: 'choice',
    default: '',
    choices: [
      { id: '', name: 'Whichever' },
      { id: 'inductors', name: 'Inductors' },
      { id: 'capacitors', name: 'Capacitors' },
    ],
  },
] as const
export type LadderRealization = ValuesOf<typeof LADDER_FIELDS>

/** A ladder of coils and capacitors between two resistances, or with one of them. */
export const lcLadder = topology({
  id: 'lc-ladder',
  name: 'LC ladder',
  family: 'passive',
  character:
    'Coils and capacitors between source and load resistance: no supply, no noise of its own, least sensitive.',
  source:
    'S. Darlington, J. Math. Phys. 18, 1939, 257–353; L. Weinberg, P. Slepian, IRE Trans. CT-7, 1960, 88–101; G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, § 4.05',
  formulas: [
    '|S11|² = 1 − |S21|²; Z = (1 + S11)/(1 − S11), taken apart from its pole at infinity on',
    'before each zero so much of a part is taken out that what is left has a zero there; its inverse gives the resonant arm',
  ],
  fields: LADDER_FIELDS,

  plan(request) {
    const { spec, ideal, realization } = request
    if (spec.gain !== 0) {
      throw impossible(
        'gain',
        'A passive ladder has no gain of its own: 0 dB is the most that its terminations allow.',
        'Set the gain to 0 dB, or choose an active realization.',
      )
    }
    if (ideal.equalizer && realization.load === 'open')
      throw impossible(
        'realization.load',
        'The sections of the delay equaliser need a resistance behind them.',
        'Give a load in Ω, or leave the equaliser out.',
      )
    const { arms, source, load, referenceDb, lossy, steps, edges } = ladderOf(request)
    return plainPlan((sketch) => {
      drawLadder(sketch, {
        arms,
        source,
        load,
        ...(ideal.equalizer && { sections: allpassSections(ideal.equalizer.poles) }),
      })
      const circuit = sketch.circuit(`LC ladder, order ${ideal.order}`)
      return {
        circuit: lossy ? withLosses(circuit, lossy.damping * edges[0]) : circuit,
        referenceDb,
        inverting: ideal.transfer.gain < 0,
        steps,
        ...(lossy && {
          remarks: [
            `The losses of coils and capacitors cost ${lossy.lossDb.toPrecision(3)} dB everywhere; the shape is kept.`,
          ],
        }),
      }
    })
  },
})

/** A ladder with its values, before it is drawn, or simulated with amplifiers. */
interface Ladder {
  readonly arms: readonly Arm[]
  /** Ω; undefined for an ideal source, and for an open end. */
  readonly source: number | undefined
  readonly load: number | undefined
  /** Its level where the ideal response, of gain 0 dB, has 0 dB. */
  readonly referenceDb: number
  /** Where losses of its parts were counted in. */
  readonly lossy: ReturnType<typeof predistorted> | null
  readonly steps: readonly FormulaStep[]
  /** rad/s */
  readonly edges: readonly number[]
}

/** @throws VoskelError `REALIZATION_IMPOSSIBLE` with what would be possible */
export function ladderOf({ spec, ideal, realization }: PlanRequest<LadderRealization>): Ladder {
  checkEnds(realization)
  const task = taskOf(spec, ideal)
  const { source, load } = realization
  const lossy =
    realization.quality === undefined ? null : predistorted(task.response, task.prototype, realization.quality)
  const { response, edges } = task
  const own = lossy ? { ...task, prototype: lossy.prototype, closed: null, reflectionZeros: null } : task
  const made = (wanted: LadderRealization) => prototypeArms(own, wanted)
  const unit = source === 0 ? (load as number) : source
  const normal = withFewest(response, realization, made)
  const plain = transformArms(normal, response, edges).map((arm) => scaledArm(arm, unit))
  const raised = realization.matched === undefined ? 1 : realization.matched / matchable(response, realization)
  // Where the prototype is at DC the ladder is a through-connection between the resistances.
  const through = source === 0 || load === 'open' ? 1 : load / (source + load)
  return {
    arms: raised === 1 ? plain : matchedArms(plain, raised),
    source: source === 0 ? undefined : source,
    load: load === 'open' ? undefined : load * raised,
    referenceDb: 20 * Math.log10(through) + 10 * Math.log10(raised) - task.dcDb - (lossy ? lossy.lossDb : 0),
    lossy,
    steps: ladderSteps(normal, { response, edges, unit, load, matched: realization.matched }),
    edges,
  }
}

/** The load that Norton transformations start from. */
function matchable(response: ResponseId, { source, load }: LadderRealization): number {
  if (response !== 'bandpass' || source === 0 || load === 'open')
    throw impossible(
      'realization.matched',
      'Norton transformations change the load of a band-pass ladder between two resistances.',
      'Leave the matched load out, or choose the bandpass response with source and load.',
    )
  return load
}

/** The ladder whose load is multiplied: raised at its end, or at its begin and brought back down. */
function matchedArms(arms: readonly Arm[], factor: number): Arm[] {
  if (factor > 1) return raisedByNorton(arms, factor)
  return raisedByNorton(arms.toReversed(), 1 / factor)
    .toReversed()
    .map((arm) => scaledArm(arm, factor))
}

/** Of the ladders with either first part the one with the fewest coils or capacitors, where that is asked. */
function withFewest(
  response: ResponseId,
  realization: LadderRealization,
  made: (wanted: LadderRealization) => readonly Arm[],
): readonly Arm[] {
  const { first, fewest } = realization
  if (!fewest || first !== undefined) return made(realization)
  // A high-pass exchanges the kinds of the prototype's parts.
  const part = (fewest === 'inductors') === (response !== 'highpass') ? 'l' : 'c'
  const count = (arms: readonly Arm[]) => arms.filter((arm) => arm[part] !== undefined).length
  const both = (['shunt', 'series'] as const).flatMap((begin) => {
    try {
      return [made({ ...realization, first: begin })]
    } catch (error) {
      // Which of the two exists is what is asked here.
      if (error instanceof VoskelError && error.code === 'REALIZATION_IMPOSSIBLE') return []
      throw error
    }
  })
  return both.length === 0 ? made(realization) : both.reduce((a, b) => (count(b) < count(a) ? b : a))
}

function checkEnds({ source, load }: LadderRealization): void {
  if (load === 0)
    throw impossible('realization.load', 'A load of 0 Ω takes all of the output.', 'Give a load above 0 Ω, or "open".')
  if (source === 0 && load === 'open') {
    throw impossible(
      'realization.load',
      'Between an ideal source and an open end nothing takes up power: the ladder would ring for ever.',
      'Give a source resistance, or a load in Ω.',
    )
  }
}

/** What a ladder is to do. */
interface LadderTask {
  /** The low-pass of 1 rad/s, greatest magnitude 1. */
  readonly prototype: TransferFunction
  readonly response: ResponseId
  /** rad/s */
  readonly edges: readonly number[]
  /** Level of the ideal response where the ladder is a through-connection, dB. */
  readonly dcDb: number
  /** As in "this Bessel response". */
  readonly name: string
  /** The family whose values have a closed form, with its ripple. */
  readonly closed: { readonly approximation: 'butterworth' | 'chebyshev'; readonly rippleDb: number } | null
  /** Where all the power passes between matched ends, if the family knows that. */
  readonly reflectionZeros: readonly number[] | null
  /** What gives an even order another form at infinity, for messages. */
  readonly evenOrder: string
}

function taskOf(spec: FilterSpec, ideal: Ideal): LadderTask {
  if (isShaped(spec) || !ideal.prototype) return shapedTask(ideal)
  if (spec.response === 'allpass') {
    throw impossible(
      'response',
      'A ladder passes all frequencies alike only as a wire: its zeros lie on the axis, those of an all-pass to the right of it.',
      'Choose another response; an all-pass needs a lattice or an active section.',
    )
  }
  const { approximation: id, evenOrder } = spec
  const { order, rippleDb, prototype } = ideal
  const own = id === 'butterworth' || id === 'chebyshev'
  const request = { order, rippleDb, attenuationDb: shapingAttenuation(spec), parameters: spec }
  return {
    prototype,
    response: spec.response,
    edges: ideal.referenceEdges.map((f) => 2 * Math.PI * f),
    dcDb: magnitudeDb(prototype, 0),
    name: approximation(id).name.toLowerCase(),
    closed: own && !(evenOrder && order % 2 === 0) ? { approximation: id, rippleDb } : null,
    reflectionZeros: familyOf(spec).reflectionZeros?.(request) ?? null,
    evenOrder: `, or the even order’s form ${id === 'elliptic' ? 'c' : 'b'} (evenOrder), which moves the last zero to infinity`,
  }
}

/** A low-pass of its own poles, and zeros on the axis, is a prototype once its frequencies are scaled. */
function shapedTask({ transfer }: Ideal): LadderTask {
  const { poles, zeros } = transfer
  if (poles.length === 0 || zeros.some((z) => z.im === 0 || Math.abs(z.re) > ON_AXIS * Math.abs(z.im)))
    throw impossible(
      'realization.family',
      'A ladder of coils and capacitors has its zeros on the axis or at infinity, and lets DC through; this response does not.',
      'Choose another realization for it.',
    )
  const unit = Math.exp(poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / poles.length)
  const scaled = scaleFrequency(transfer, 1 / unit)
  const onAxis = { ...scaled, zeros: scaled.zeros.map((z) => complex(0, z.im)) }
  const peak = highestOf(onAxis)
  return {
    prototype: { ...onAxis, gain: onAxis.gain / peak },
    response: 'lowpass',
    edges: [unit],
    dcDb: magnitudeDb(transfer, 0),
    name: 'own',
    closed: null,
    reflectionZeros: null,
    evenOrder: '',
  }
}

/** A zero this near to the axis, relative to its size, lies on it. */
const ON_AXIS = 1e-9

/** The low-pass ladder of 1 rad/s, for 1 Ω at its source, or at its load where the source is ideal. */
function prototypeArms(task: LadderTask, { source, load, first }: LadderRealization): readonly Arm[] {
  const { prototype, closed, name } = task
  const order = prototype.poles.length
  refuseZerosAtNoInfinity(task)
  if (source === 0 || load === 'open') {
    const open = source === 0 ? 'source' : 'load'
    const found = singlyTerminated(prototype, open)
    if (!found) throw noPositive(name, order)
    const arms = open === 'source' ? reversed(found.arms) : found.arms
    if (first !== undefined && arms[0].place !== first) throw otherFirst(order, arms[0].place, 'with one termination')
    return arms
  }
  const ratio = load / source
  if (closed) {
    const { first: begins, values } = ladderElements({ ...closed, order, ratio, first })
    return values.map((g, k): Arm => {
      const series = (k % 2 === 0) === (begins === 'series')
      return series ? { place: 'series', l: g, number: k + 1 } : { place: 'shunt', c: g, number: k + 1 }
    })
  }
  const least = leastRatio(magnitudeDb(prototype, 0))
  if (Math.max(ratio, 1 / ratio) < least * (1 - 1e-9)) {
    throw impossible(
      'realization.load',
      `This response lies ${(-magnitudeDb(prototype, 0)).toPrecision(3)} dB down at DC, where the coils are through-connections: it would pass more elsewhere than the resistances allow.`,
      `Make load over source at least ${least.toPrecision(5)} or at most ${(1 / least).toPrecision(5)}.`,
    )
  }
  const zeros = task.reflectionZeros
  const found = doublyTerminated(prototype, ratio, first, zeros)
  if (found) return found.arms
  const other = first && doublyTerminated(prototype, ratio, undefined, zeros)
  throw other
    ? otherFirst(order, other.arms[0].place, `for load over source ${ratio.toPrecision(4)}`)
    : noPositive(name, order)
}

/** The last arm of a ladder without coupled coils must pass nothing at infinity. */
function refuseZerosAtNoInfinity({ prototype, name, evenOrder }: LadderTask): void {
  const order = prototype.poles.length
  if (prototype.zeros.length < order) return
  throw impossible(
    'order',
    `At even orders (${order}) this ${name} response does not fall to nothing at infinity, as every ladder of coils and capacitors does.`,
    `Take order ${Math.max(1, order - 1)} or ${order + 1}${evenOrder}.`,
  )
}

/** From the other end; numbers are given anew. */
const reversed = (arms: readonly Arm[]): Arm[] => arms.toReversed().map((arm, k) => ({ ...arm, number: k + 1 }))

function otherFirst(order: number, place: 'series' | 'shunt', when: string): VoskelError {
  return impossible(
    'realization.first',
    `A ladder of order ${order} ${when} begins with a ${place} part.`,
    `Begin with a ${place} part, or take another order.`,
  )
}

function noPositive(name: string, order: number): VoskelError {
  return impossible(
    'approximation',
    `No ladder of order ${order} with positive values was found for this ${name} response: its stop-band zeros lie too far out for what the shunt arms can spare.`,
    'Take equal resistances, another order, less attenuation, or an elliptic or all-pole response.',
  )
}
