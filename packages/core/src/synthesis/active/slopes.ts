import type { TransferFunction } from '../../numeric/transferFunction.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { type FilterSpec, isShaped } from '../../specification/filterSpec.js'
import { impossible } from '../Line.js'
import { type Limit, type Realized, type Topology, topology } from '../Topology.js'
import { amplifierNumbers, type Amplifier } from './amplifier.js'
import { capacitorOf, chained } from './cascade.js'
import { taken } from './factors.js'
import { FIELDS } from './fields.js'
import type { SectionKind } from './SectionKind.js'
import { inverterHighpass } from './sections/inverterHighpass.js'
import { inverterLowpass } from './sections/inverterLowpass.js'

const SLOPE_FIELDS = [
  ...FIELDS.filter((f) => f.id !== 'pairing' && f.id !== 'gains'),
  { id: 'input', name: 'Input, least and most, peak', kind: 'numbers', unit: 'V', least: 0, count: 2, optional: true },
] as const

/** Peak input where none is given, V. */
const USUAL_INPUT = [1, 1] as const

interface Band {
  readonly from: number
  readonly to: number
}

interface Own {
  readonly id: string
  readonly name: string
  readonly response: string
  readonly character: string
  readonly kind: SectionKind
  readonly formulas: readonly string[]
  limits(question: Question): Limit[]
}

interface Question extends Band {
  readonly transfer: TransferFunction
  readonly input: readonly number[]
  readonly amplifier: Readonly<Record<string, number>>
}

const magnitude = ({ transfer: { gain, poles, zeros } }: Question, f: number): number => {
  const w = 2 * Math.PI * f
  return (Math.abs(gain) * (zeros.length > 0 ? w : 1)) / Math.hypot(w, poles[0].re)
}

const limit = (id: string, name: string, value: number, unit: string): Limit => ({ id, name, value, unit })

/** What a sine at both ends of the band and both levels comes out as. */
const sinePeaks = (q: Question): Limit[] =>
  [q.from, q.to].flatMap((f) =>
    q.input.map((v, k) =>
      limit(
        `sine-${f === q.from ? 'from' : 'to'}-${k === 0 ? 'least' : 'most'}`,
        `Output peak, sine of ${formatQuantity(v, 'V', 3)} at ${formatQuantity(f, 'Hz', 3)}`,
        v * magnitude(q, f),
        'V',
      ),
    ),
  )

/** Gain of a loop's amplifier that turns over: 1/A = s/ω_T + 1/A₀, times the noise gain, adds to the ideal denominator. */
function phaseOff(q: Question, f: number, noiseGain: (w: number) => readonly [re: number, im: number]): number {
  const w = 2 * Math.PI * f
  const { bandwidth, gain } = q.amplifier
  const [re, im] = noiseGain(w)
  const [a, b] = [gain ? 1 / gain : 0, bandwidth ? f / bandwidth : 0]
  return -Math.atan2(a * im + b * re, 1 + a * re - b * im)
}

const DEGREES = 180 / Math.PI

const integratorLimits = (q: Question): Limit[] => {
  const { from, to, transfer, input } = q
  const corner = -transfer.poles[0].re
  const rate = Math.abs(transfer.gain)
  const square = (f: number) => (rate / corner) * Math.tanh(corner / (4 * f))
  // Noise gain 1 + Zf/Zi of the integrator: 1 + G/(s + a).
  const noise = (w: number) => {
    const size = w * w + corner * corner
    return [1 + (rate * corner) / size, (-rate * w) / size] as const
  }
  const error = (f: number) => (Math.PI / 2 - Math.atan((2 * Math.PI * f) / corner) + phaseOff(q, f, noise)) * DEGREES
  const half = corner / (2 * from)
  const stays = -Math.expm1(-half)
  // Where the curve between two jumps lies farthest from its chord.
  const at = Math.log(half / stays)
  const bend = (1 - stays / half) / stays - at / half
  const most = Math.max(...input)
  const swing = q.amplifier.swing
  return [
    limit('unity-gain', 'Unity-gain frequency', Math.sqrt(rate * rate - corner * corner) / (2 * Math.PI), 'Hz'),
    limit('corner', 'Corner below which it no longer integrates', corner / (2 * Math.PI), 'Hz'),
    limit('dc-gain', 'Gain at DC', rate / corner, 'V/V'),
    ...sinePeaks(q),
    ...[from, to].flatMap((f) =>
      input.map((v, k) =>
        limit(
          `square-${f === from ? 'from' : 'to'}-${k === 0 ? 'least' : 'most'}`,
          `Output peak, square of ${formatQuantity(v, 'V', 3)} at ${formatQuantity(f, 'Hz', 3)}`,
          v * square(f),
          'V',
        ),
      ),
    ),
    limit('slew', 'Slew rate needed', most * (rate + corner * square(from)), 'V/s'),
    limit('phase-from', `Phase error at ${formatQuantity(from, 'Hz', 3)}`, error(from), '°'),
    limit('phase-to', `Phase error at ${formatQuantity(to, 'Hz', 3)}`, error(to), '°'),
    limit('straightness', 'Triangle off its straight line, of peak to peak', 100 * bend, '%'),
    ...(swing === undefined
      ? []
      : [
          limit(
            'most-input',
            `Most input that stays within ±${swing} V`,
            swing / Math.max(square(from), magnitude(q, from)),
            'V',
          ),
        ]),
  ]
}

const differentiatorLimits = (q: Question): Limit[] => {
  const { from, to, transfer, input } = q
  const corner = -transfer.poles[0].re
  const high = Math.abs(transfer.gain)
  const noise = (w: number) => {
    const size = w * w + corner * corner
    return [1 + (high * w * w) / size, (high * corner * w) / size] as const
  }
  const error = (f: number) => (Math.atan((2 * Math.PI * f) / corner) - phaseOff(q, f, noise)) * DEGREES
  const most = Math.max(...input)
  // A triangle's slope changes its sign twice a period: what comes out reaches its level with the corner's time constant.
  const flat = (f: number) => Math.tanh(corner / (4 * f))
  const swing = q.amplifier.swing
  return [
    limit('unity-gain', 'Unity-gain frequency', corner / (2 * Math.PI * Math.sqrt(high * high - 1)), 'Hz'),
    limit('corner', 'Corner above which it no longer differentiates', corner / (2 * Math.PI), 'Hz'),
    limit('high-gain', 'Gain at high frequencies', high, 'V/V'),
    ...sinePeaks(q),
    ...[from, to].flatMap((f) =>
      input.map((v, k) =>
        limit(
          `triangle-${f === from ? 'from' : 'to'}-${k === 0 ? 'least' : 'most'}`,
          `Output peak, triangle of ${formatQuantity(v, 'V', 3)} at ${formatQuantity(f, 'Hz', 3)}`,
          ((4 * f * v * high) / corner) * flat(f),
          'V',
        ),
      ),
    ),
    ...input.map((v, k) =>
      limit(
        `square-${k === 0 ? 'least' : 'most'}`,
        `Output peak at the jumps of a square of ${formatQuantity(v, 'V', 3)}`,
        (2 * v * high) / (1 + Math.exp(-corner / (2 * from))),
        'V',
      ),
    ),
    limit('slew', 'Slew rate needed, sine', 2 * Math.PI * to * most * magnitude(q, to), 'V/s'),
    limit('phase-from', `Phase error at ${formatQuantity(from, 'Hz', 3)}`, error(from), '°'),
    limit('phase-to', `Phase error at ${formatQuantity(to, 'Hz', 3)}`, error(to), '°'),
    ...(swing === undefined
      ? []
      : [limit('most-input', `Most sine that stays within ±${swing} V`, swing / magnitude(q, to), 'V')]),
  ]
}

function slope({ response, kind, limits, ...own }: Own): Topology {
  return topology({
    ...own,
    family: 'active',
    source: kind.source,
    fields: SLOPE_FIELDS,
    plan({ spec, ideal, realization }) {
      const band = bandOf(spec, response, own.name)
      const factors = taken(ideal.transfer)
      const factor = { poles: factors.poles[0], zeros: ideal.transfer.zeros }
      const capacitor = realization.capacitor ?? capacitorFor(band, realization.level)
      const chain = chained(own.name, {
        ideal,
        realization: { ...realization, pairing: 'as-listed', gains: undefined, signal: undefined },
        factors: [factor],
        kinds: [kind],
        capacitor: Number.isFinite(capacitor) ? capacitor : capacitorOf(ideal, realization),
        refusesGain: false,
      })
      const input = realization.input ?? USUAL_INPUT
      const amplifier = amplifierNumbers(realization.amplifier as Amplifier)
      return {
        ...chain,
        draw(values, computed): Realized {
          const found = limits({ ...band, transfer: ideal.transfer, input, amplifier })
          return {
            ...chain.draw(values, computed),
            limits: found,
            steps: [
              {
                title: 'Limits in its band',
                lines: found.map((f) => `${f.name}: ${formatQuantity(f.value, f.unit)}`),
                source: 'common practice, no source',
              },
            ],
          }
        },
      }
    },
  })
}

/** Resistances around a level at the middle of the band. */
const capacitorFor = ({ from, to }: Band, level = 10e3): number => 1 / (2 * Math.PI * Math.sqrt(from * to) * level)

function bandOf(spec: FilterSpec, response: string, name: string): Band {
  if (isShaped(spec) && spec.response === response) return spec.shape as unknown as Band
  throw impossible(
    'response',
    `${name} makes an ${response} response and no other.`,
    `Choose the response ${response}, or a family that makes this one: two-integrator-loop, state-variable.`,
  )
}

export const activeIntegrator = slope({
  id: 'active-integrator',
  name: 'Integrator',
  response: 'integrator',
  character:
    'One amplifier sums up over time; a resistor bounds its gain at DC. Says what comes out at both ends of its band.',
  kind: inverterLowpass,
  formulas: [
    'square of peak A: peak A·(G/a)·tanh(a/4f), G = 1/(R₁·C₁), a = 1/(R₂·C₁)',
    'slew rate needed: A·(G + a·peak/A); phase error: 90° − atan(ω/a)',
  ],
  limits: integratorLimits,
})

export const activeDifferentiator = slope({
  id: 'active-differentiator',
  name: 'Differentiator',
  response: 'differentiator',
  character: 'One amplifier gives the slope of its input; a resistor bounds its gain at high frequencies.',
  kind: inverterHighpass,
  formulas: ['triangle of peak A: 4·f·A·K/b, K = R₂/R₁, b = 1/(R₁·C₁); phase error: atan(ω/b)'],
  limits: differentiatorLimits,
})
