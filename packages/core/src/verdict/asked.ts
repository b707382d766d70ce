import { formulate } from '../analysis/mna.js'
import { inputSource } from '../analysis/elements.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { greatest, least, searchGrid, type Turn, turnsOf } from '../measure/overFrequency.js'
import { narrowestStrip } from '../measure/straightness.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { groupDelay, magnitudeDb, phase } from '../numeric/transferFunction.js'
import { type AskedRequirement, REQUIREMENT_KINDS, type RequirementId } from '../specification/requirementKinds.js'
import { pointsIn } from './bands.js'
import { PartFigures } from './partFigures.js'
import { type Evidence, type Requirement, verdict } from './Requirement.js'

/** What was found for a requirement, and where; null where there is no such value. */
interface Achieved {
  readonly value: number | null
  readonly at?: number | null
  readonly unit?: 'Hz' | 's'
}

/** How each kind is judged. */
const judges: Record<RequirementId, (evidence: Evidence, asked: AskedRequirement) => Achieved> = {
  overshoot: ({ step }) => ({ value: step.overshootPercent, at: step.peakTime, unit: 's' }),
  'rise-time': ({ step }) => ({ value: step.riseTime, at: step.riseTime, unit: 's' }),
  'settling-time': ({ step }) => ({ value: step.settlingTime, at: step.settlingTime, unit: 's' }),
  'step-delay': ({ step }) => ({ value: step.delay, at: step.delay, unit: 's' }),

  attenuation({ ideal, transfer, extrema, ac }, { from, to }) {
    const tops = pointsIn(ideal.passbands, transfer, extrema).map((p) => p.db)
    const top = tops.length > 0 ? Math.max(...tops) : (ac.peakDb ?? 0)
    const worst = pointsIn([[from!, to!]], transfer, extrema).reduce((a, b) => (b.db > a.db ? b : a))
    return { value: top - worst.db, at: worst.omega / TAU, unit: 'Hz' }
  },

  'gain-at': ({ transfer, referenceDb }, { at, target }) => ({
    value: Math.abs(magnitudeDb(transfer, TAU * at!) - referenceDb - target!),
    at,
    unit: 'Hz',
  }),

  'phase-at'({ transfer }, { at, target }) {
    const off = (phase(transfer, TAU * at!) * 180) / Math.PI - target!
    return { value: Math.abs(off - 360 * Math.round(off / 360)), at, unit: 'Hz' }
  },

  'phase-linearity'({ transfer }, { from, to }) {
    const grid = searchGrid(transfer, TAU * from!, TAU * to!)
    const { deviation, at } = narrowestStrip((w) => degrees(phase(transfer, w)), grid)
    return { value: deviation, at: at / TAU, unit: 'Hz' }
  },

  'delay-variation'({ transfer }, { from, to }) {
    const turns = turnsOf((w) => groupDelay(transfer, w), searchGrid(transfer, TAU * from!, TAU * to!))
    const [low, high] = [least(turns), greatest(turns)]
    return { value: high.value - low.value, at: high.omega / TAU, unit: 'Hz' }
  },

  'delay-at': ({ transfer }, { at }) => ({ value: groupDelay(transfer, TAU * at!), at, unit: 'Hz' }),

  cutoff({ ac }, { target }) {
    const nearest = ac.cutoffs.reduce<number | null>(
      (best, f) => (best === null || Math.abs(f - target!) < Math.abs(best - target!) ? f : best),
      null,
    )
    return { value: nearest === null ? null : 100 * Math.abs(nearest / target! - 1), at: nearest, unit: 'Hz' }
  },

  ringing: ({ step }) => ({ value: step.ringingPercent }),

  'impedance-least': (evidence, asked) => impedance(evidence, asked, least),
  'impedance-most': (evidence, asked) => impedance(evidence, asked, greatest),

  parts: ({ circuit }) => ({ value: circuit && new PartFigures(circuit).bought }),
  'largest-inductor': ({ circuit }) => ({
    value: circuit && Math.max(0, ...new PartFigures(circuit).valuesOf('inductor')),
  }),
  'value-spread': ({ circuit }) => ({ value: circuit && new PartFigures(circuit).spread }),
}

/** The extreme of what the source sees in a band, Ω, and where: from its own poles and zeros, unbounded at a pole. */
function impedance(
  { circuit }: Evidence,
  { from, to }: AskedRequirement,
  extreme: (turns: readonly Turn[]) => Turn,
): Achieved {
  if (!circuit) return { value: null }
  const mna = smallSignal(formulate(circuit))
  const { transfer } = polesAndZeros(mna, { output: `z(${inputSource(mna).element.name})` })
  const [low, high] = [TAU * from!, TAU * to!]
  const size = (w: number) => 10 ** (magnitudeDb(transfer, w) / 20)
  const onAxis = [...transfer.poles, ...transfer.zeros].filter((r) => r.re === 0 && r.im >= low && r.im <= high)
  // At roots on the axis it is 0 or without bound, and no search comes there.
  const turns = [
    ...turnsOf(size, searchGrid(transfer, low, high)),
    ...onAxis.map(({ im }) => ({ omega: im, value: size(im) })),
  ]
  const { omega, value } = extreme(turns)
  return { value, at: omega / TAU, unit: 'Hz' }
}

const degrees = (radians: number) => (radians * 180) / Math.PI

const TAU = 2 * Math.PI

/** Where one of several requirements of a kind is asked. */
function placeOf({ at, from, to }: AskedRequirement): string {
  if (at !== undefined) return ` at ${formatQuantity(at, 'Hz')}`
  return from !== undefined && to !== undefined ? `, ${formatQuantity(from, 'Hz')} to ${formatQuantity(to, 'Hz')}` : ''
}

/** Everything that a specification asks besides its bands; several of one kind are told apart by a number. */
export const asked: readonly Requirement[] = REQUIREMENT_KINDS.map(({ kind, name, unit, sense }) => ({
  id: kind,
  name,
  judge(evidence) {
    const wanted = evidence.spec.requirements?.filter((r) => r.kind === kind) ?? []
    return wanted.map((requirement, k) => {
      const found = judges[kind](evidence, requirement)
      const id = k === 0 ? kind : `${kind} ${k + 1}`
      const line = { id, name: wanted.length > 1 ? `${name}${placeOf(requirement)}` : name, unit, sense }
      return verdict({ ...line, limit: requirement.limit }, found.value, found.at ?? null, found.unit ?? 'Hz')
    })
  },
}))
