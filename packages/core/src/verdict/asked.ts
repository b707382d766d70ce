import { AcAnalysis } from '../analysis/ac.js'
import { formulate } from '../analysis/mna.js'
import { inputSource } from '../analysis/outputs.js'
import { leastBetween } from '../numeric/goldenSection.js'
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
    const grid = gridIn(from!, to!)
    const phases = grid.map((f) => (phase(transfer, TAU * f) * 180) / Math.PI)
    // The narrowest strip around a line: its height is convex in the line's slope.
    const height = (slope: number) => {
      let [least, most] = [Infinity, -Infinity]
      for (let k = 0; k < grid.length; k++) {
        const off = phases[k] - slope * grid[k]
        if (off < least) least = off
        if (off > most) most = off
      }
      return (most - least) / 2
    }
    const steepest = Math.max(...phases.slice(1).map((p, k) => Math.abs((p - phases[k]) / (grid[k + 1] - grid[k]))))
    return { value: height(leastBetween(height, -steepest, steepest)) }
  },

  'delay-variation'({ transfer }, { from, to }) {
    const grid = gridIn(from!, to!)
    const delays = grid.map((f) => groupDelay(transfer, TAU * f))
    const highest = delays.indexOf(Math.max(...delays))
    const lowest = delays.indexOf(Math.min(...delays))
    // Between neighbouring points of the grid the summit itself.
    const around = (k: number) => [grid[Math.max(0, k - 1)], grid[Math.min(grid.length - 1, k + 1)]] as const
    const delay = (f: number) => groupDelay(transfer, TAU * f)
    const top = delay(leastBetween((f) => -delay(f), ...around(highest)))
    const bottom = delay(leastBetween(delay, ...around(lowest)))
    return { value: Math.max(top, delays[highest]) - Math.min(bottom, delays[lowest]), at: grid[highest], unit: 'Hz' }
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

  'impedance-least': (evidence, asked) => impedance(evidence, asked, (a, b) => a < b),
  'impedance-most': (evidence, asked) => impedance(evidence, asked, (a, b) => a > b),

  parts: ({ circuit }) => ({ value: circuit && new PartFigures(circuit).bought }),
  'largest-inductor': ({ circuit }) => ({
    value: circuit && Math.max(0, ...new PartFigures(circuit).valuesOf('inductor')),
  }),
  'value-spread': ({ circuit }) => ({ value: circuit && new PartFigures(circuit).spread }),
}

/** The extreme of what the source sees in a band, Ω, and where. */
function impedance(
  { circuit }: Evidence,
  { from, to }: AskedRequirement,
  beyond: (a: number, b: number) => boolean,
): Achieved {
  if (!circuit) return { value: null }
  const grid = Float64Array.from({ length: POINTS }, (_, k) => from! * (to! / from!) ** (k / (POINTS - 1)))
  const mna = formulate(circuit)
  const { re, im } = new AcAnalysis(mna, { output: `z(${inputSource(mna).element.name})` }).sweep(grid)
  let worst = 0
  const size = (k: number) => Math.hypot(re[k], im[k])
  for (let k = 1; k < POINTS; k++) if (beyond(size(k), size(worst))) worst = k
  return { value: size(worst), at: grid[worst], unit: 'Hz' }
}

const TAU = 2 * Math.PI

/** Where one of several requirements of a kind is asked. */
function placeOf({ at, from, to }: AskedRequirement): string {
  if (at !== undefined) return ` at ${formatQuantity(at, 'Hz')}`
  return from !== undefined && to !== undefined ? `, ${formatQuantity(from, 'Hz')} to ${formatQuantity(to, 'Hz')}` : ''
}

/** Points of a band at which phase and delay are looked at: finer than what any order to 20 can ripple. */
const POINTS = 601

const gridIn = (from: number, to: number): number[] =>
  Array.from({ length: POINTS }, (_, k) => from + ((to - from) * k) / (POINTS - 1))

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
