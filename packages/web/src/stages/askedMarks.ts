import {
  type AskedRequirement,
  formatQuantity,
  isLimit,
  type LimitRequirement,
  REQUIREMENT_KINDS,
  type RequirementKind,
} from '@voskel/core'
import type { Mark } from '../diagram/plot'

/** Where marks may be drawn: the diagram's level of 0 dB, its bounds, and whether it shows the phase instead. */
interface Ground {
  readonly gain: number
  readonly bounds: { readonly min: number; readonly max: number }
  readonly phase: boolean
}

/** Height of a bracket's row and width of what stands at one frequency, as parts of the diagram. */
const ROW = 0.055
const BESIDE = 1.03

/**
 * Marks of what is asked besides the bands: attenuation as a part of the mask, gain (or phase) at a frequency as the stretch
 * it may lie in, everything else along the frequencies as a bracket with its limit at the lower edge.
 */
export function askedMarks(
  requirements: readonly AskedRequirement[],
  { gain, bounds: { min, max }, phase }: Ground,
): Mark[] {
  let rows = 0
  return requirements.filter(isLimit).flatMap((asked): Mark[] => {
    const kind: RequirementKind = REQUIREMENT_KINDS.find((r) => r.kind === asked.kind)!
    if (kind.decided !== 'frequency') return []
    // Decibels have no place along degrees.
    if (phase && kind.unit === 'dB') return []
    if (asked.kind === 'attenuation' && !phase)
      return [{ kind: 'area', from: [asked.from!, gain - asked.limit], to: [asked.to!, Infinity], edge: 'dashed' }]
    if (asked.kind === (phase ? 'phase-at' : 'gain-at')) {
      const middle = asked.target! + (phase ? 0 : gain)
      const [from, to] = [middle - asked.limit, middle + asked.limit]
      return [{ kind: 'line', from: [asked.at!, from], to: [asked.at!, to], ink: 'mask', width: 6 }]
    }
    const [from, to] = endsOf(asked)
    if (from === undefined || to === undefined) return []
    const y = min + (rows++ + 0.6) * ROW * (max - min)
    const wanted = asked.target === undefined ? '' : ` ${formatQuantity(asked.target, kind.target ?? '')} ±`
    const sign = asked.target === undefined ? (kind.sense === 'at most' ? ' ≤' : ' ≥') : ''
    const text = `${kind.name}${wanted}${sign} ${formatQuantity(asked.limit, kind.unit)}`
    return [{ kind: 'line', from: [from, y], to: [to, y], ink: 'mask', width: 3, text }]
  })
}

/** The stretch of frequencies that a requirement is about; around its frequency where it has one. */
function endsOf({ kind, at, from, to, target }: LimitRequirement): [number?, number?] {
  const place = at ?? (kind === 'cutoff' ? target : undefined)
  return place === undefined ? [from, to] : [place / BESIDE, place * BESIDE]
}
