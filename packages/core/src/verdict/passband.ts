import { pointsIn } from './bands.js'
import { type Requirement, verdict } from './Requirement.js'

/** The magnitude varies by no more than the ripple inside the passbands. */
export const passband: Requirement = {
  judge(evidence) {
    const { promised, known } = evidence
    if (!promised) return []
    const { transfer, extrema } = evidence
    const { ideal } = promised
    const points = pointsIn(ideal.passbands, transfer, extrema)
    if (points.length === 0) return []
    const highest = Math.max(...points.map((p) => p.db))
    const lowest = points.reduce((a, b) => (b.db < a.db ? b : a))
    const asked = {
      kind: 'passband',
      place: null,
      name: 'Passband ripple',
      decided: 'frequency',
      unit: 'dB',
      sense: 'at most',
      limit: ideal.rippleDb,
    } as const
    const at = Number.isFinite(lowest.omega) ? lowest.omega / (2 * Math.PI) : null
    return [verdict(asked, highest - lowest.db, at, 'Hz', { known })]
  },
}
