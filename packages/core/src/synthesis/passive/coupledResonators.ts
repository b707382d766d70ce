import type { End } from '../../circuit/circuit.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { isShaped } from '../../specification/filterSpec.js'
import { plainPlan } from '../Plan.js'
import { HALF, type Sketch } from '../Sketch.js'
import { topology } from '../Topology.js'
import { impossible, resistanceField } from '../Line.js'
import { ladderElements } from './ladderElements.js'

/** Relative bandwidth up to which couplings that do not change with frequency are a fair picture. */
const WIDEST = 0.2

/** Grid units: parts to ground below the line, and from one resonator to the next. */
const DEPTH = 4
const COIL_PITCH = 7

/**
 * A narrow band-pass of equal coils: parallel resonators from the line to ground, coupled by small capacitors or large coils. The
 * couplings hold at the centre, so that the response is that of the specification only as nearly as the band is narrow;
 * the ledger says how nearly.
 */
export const coupledResonators = topology({
  id: 'coupled-resonators',
  name: 'Coupled resonators',
  family: 'passive',
  near: true,
  character: 'Equal coils of a chosen value, coupled by small capacitors: for narrow band-passes.',
  source:
    'S. B. Cohn, Proc. IRE 45, 1957, 187–196; G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, § 8.11 (from memory)',
  formulas: [
    'J₀₁ = √(w·b/(R·g₀·g₁)), Jⱼ,ⱼ₊₁ = w·b/√(gⱼ·gⱼ₊₁), b = ω₀·C, w = B/ω₀',
    'coupling C = J/ω₀ (or L = 1/(J·ω₀)); at the ends C = J/(ω₀·√(1 − (J·R)²))',
  ],
  fields: [
    resistanceField('source', 'Source resistance', 600),
    resistanceField('load', 'Load resistance', 600),
    {
      id: 'inductor',
      name: 'Coils',
      kind: 'quantity',
      unit: 'H',
      default: 1e-5,
      above: 0,
      most: 1e12,
      optional: true,
      empty: 'to suit both ends',
    },
    {
      id: 'coupling',
      name: 'Coupled by',
      kind: 'choice',
      default: 'capacitive',
      choices: [
        { id: 'capacitive', name: 'Capacitors' },
        { id: 'inductive', name: 'Coils' },
      ],
    },
  ],

  plan({ spec, ideal, realization }) {
    const { source, load, coupling } = realization
    if (spec.gain !== 0)
      throw impossible('gain', 'Coupled resonators have no gain of their own.', 'Set the gain to 0 dB.')
    if (isShaped(spec) || spec.response !== 'bandpass')
      throw impossible(
        'response',
        `Coupled resonators make band-passes, not a ${spec.response} response.`,
        'Choose the bandpass response, or the family lc-ladder.',
      )
    const { approximation } = spec
    if (approximation !== 'butterworth' && approximation !== 'chebyshev')
      throw impossible(
        'approximation',
        'Coupled resonators take their couplings from Butterworth or Chebyshev prototypes.',
        'Choose butterworth or chebyshev, or the family lc-ladder.',
      )
    if (ideal.equalizer)
      throw impossible(
        'equalizer',
        'Coupled resonators are made without a delay equaliser.',
        'Leave it out, or choose the family lc-ladder.',
      )
    const [low, high] = ideal.referenceEdges.map((f) => 2 * Math.PI * f)
    const center = Math.sqrt(low * high)
    const width = (high - low) / center
    if (width > WIDEST)
      throw impossible(
        'passband.edges',
        `The band is ${(100 * width).toPrecision(3)} % of its centre; couplings that hold at one frequency suit up to ${100 * WIDEST} %.`,
        'Narrow the band, or choose the family lc-ladder.',
      )
    const g = prototype(approximation, ideal.order, ideal.rippleDb)
    const inductor = realization.inductor ?? fittingCoil({ center, width, g, order: ideal.order, source, load })
    const capacitance = 1 / (center * center * inductor)
    const slope = center * capacitance
    // Admittance inverters between the resonators, and at both ends.
    const inverters = Array.from({ length: ideal.order + 1 }, (_, j) => {
      if (j === 0) return Math.sqrt((width * slope) / (source * g[0] * g[1]))
      if (j === ideal.order) return Math.sqrt((width * slope) / (load * g[j] * g[j + 1]))
      return (width * slope) / Math.sqrt(g[j] * g[j + 1])
    })
    const end = (inverter: number, resistance: number) => {
      const part = inverter * resistance
      if (part >= 1)
        throw impossible(
          'realization.inductor',
          `The end couplings cannot reach what coils of this size ask between these resistances.`,
          `Take coils of at least ${formatQuantity(inductor * part * part * 1.02, 'H', 3)}, or smaller resistances.`,
        )
      const series = inverter / (center * Math.sqrt(1 - part * part))
      return { series, across: series / (1 + (center * series * resistance) ** 2) }
    }
    const [first, last] = [end(inverters[0], source), end(inverters[ideal.order], load)]
    const couplings = inverters.map((inverter, j) =>
      j === 0 ? first.series : j === ideal.order ? last.series : inverter / center,
    )
    // Susceptances at the centre, as the capacitances that have them: what the parts beside a resonator add to it.
    const added = (j: number) => (j === 0 ? first.across : j === ideal.order ? last.across : couplings[j])
    const own = Array.from({ length: ideal.order }, (_, j) => capacitance - added(j) - added(j + 1))
    const negative = own.findIndex((c) => c <= 0)
    if (negative >= 0)
      throw impossible(
        'realization.inductor',
        `Resonator ${negative + 1} would need a negative ${coupling === 'capacitive' ? 'capacitor' : 'coil'} beside its couplings.`,
        'Narrow the band or take smaller coils.',
      )

    return plainPlan((sketch) => {
      // A coil has the susceptance of a capacitor at the centre, turned over.
      const coil = (c: number) => 1 / (center * center * c)
      draw(
        sketch,
        coupling === 'capacitive'
          ? { source, load, coupled: 'C', couplings, capacitors: own, coils: own.map(() => inductor) }
          : {
              source,
              load,
              coupled: 'L',
              couplings: couplings.map(coil),
              capacitors: own.map(() => capacitance),
              coils: own.map(coil),
            },
      )
      return {
        circuit: sketch.circuit(`Coupled resonators, order ${ideal.order}`),
        // The inverters at the ends match the resistances: half the open voltage, transformed.
        referenceDb: 20 * Math.log10(Math.sqrt(load / source) / 2),
        inverting: false,
      }
    })
  },
})

/** g₀ … gₙ₊₁ of a ladder that passes everything somewhere; the inverters at the ends match any resistances. */
function prototype(approximation: 'butterworth' | 'chebyshev', order: number, rippleDb: number): number[] {
  if (approximation === 'butterworth' || order % 2 === 1) {
    return [1, ...ladderElements({ approximation, order, rippleDb, ratio: 1 }).values, 1]
  }
  const epsilon = Math.sqrt(Math.expm1((rippleDb * Math.LN10) / 10))
  const ratio = (epsilon + Math.hypot(1, epsilon)) ** 2
  // It begins with a coil and ends with a capacitor: the load counts as a conductance's inverse there.
  return [1, ...ladderElements({ approximation, order, rippleDb, ratio }).values, ratio]
}

interface Drawn {
  readonly source: number
  readonly load: number
  readonly coupled: 'C' | 'L'
  readonly couplings: readonly number[]
  /** Of each resonator. */
  readonly capacitors: readonly number[]
  readonly coils: readonly number[]
}

function draw(sketch: Sketch, { source, load, coupled, couplings, capacitors, coils }: Drawn): void {
  const input = sketch.input(0, DEPTH)
  sketch.label('in', input, 0, 0)
  const rs = sketch.part('RS', 'resistor', { resistance: source }, 3 + HALF, 0)
  sketch.wire(input, { part: rs, pin: 'a' }, [0, 0])
  let end: End = { part: rs, pin: 'b' }
  let x = 3 + 2 * HALF
  const couple = (j: number) => {
    const place: [number, number] = [x + 2 + HALF, 0]
    const id =
      coupled === 'C'
        ? sketch.valued(`CC${j}`, 'capacitor', couplings[j], ...place)
        : sketch.valued(`LC${j}`, 'inductor', couplings[j], ...place)
    sketch.wire(end, { part: id, pin: 'a' })
    end = { part: id, pin: 'b' }
    x += 2 + 2 * HALF
  }
  const tap = (pitch: number): End => {
    x += pitch
    const junction = sketch.junction(x, 0)
    sketch.wire(end, junction)
    end = junction
    return junction
  }
  capacitors.forEach((c, k) => {
    couple(k)
    for (const [pitch, id] of [
      [2, () => sketch.valued(`C${k + 1}`, 'capacitor', c, x, DEPTH, 90)],
      [COIL_PITCH, () => sketch.valued(`L${k + 1}`, 'inductor', coils[k], x, DEPTH, 90)],
    ] as const) {
      const junction = tap(pitch)
      const part = id()
      sketch.wire(junction, { part, pin: 'a' })
      sketch.ground({ part, pin: 'b' }, x, DEPTH + HALF + 1)
    }
  })
  couple(capacitors.length)
  const out = tap(3)
  sketch.wire(out, { part: sketch.part('RL', 'resistor', { resistance: load }, x, DEPTH, 90), pin: 'a' })
  sketch.ground({ part: 'RL', pin: 'b' }, x, DEPTH + HALF + 1)
  sketch.label('out', out, x, 0)
}

/** How much of its resistance's admittance an end coupling takes where the coils are ours to choose: 0 … 1. */
const END_COUPLING = 0.5

/** The size of the coils, H, at which the stronger end coupling has room, to two digits. */
function fittingCoil(of: {
  center: number
  width: number
  g: readonly number[]
  order: number
  source: number
  load: number
}): number {
  const { center, width, g, order, source, load } = of
  // (J·R)² = w·R/(ω₀·L·g·g) at either end.
  const ends = [source / (g[0] * g[1]), load / (g[order] * g[order + 1])]
  return Number(((width * Math.max(...ends)) / (center * END_COUPLING ** 2)).toPrecision(2))
}
