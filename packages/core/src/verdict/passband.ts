import { magnitudeDb } from '../numeric/transferFunction.js'
import { type Requirement, verdict } from './Requirement.js'

/** The magnitude varies by no more than the ripple from DC to the passband edge. */
export const passband: Requirement = {
  id: 'passband',
  name: 'Passband ripple',
  judge({ ideal, transfer, extrema }) {
    const edge = 2 * Math.PI * ideal.passbandEdge
    const points = [...extrema.filter((e) => e.omega < edge), { omega: edge, db: magnitudeDb(transfer, edge) }]
    const highest = Math.max(...points.map((p) => p.db))
    const lowest = points.reduce((a, b) => (b.db < a.db ? b : a))
    const asked = {
      id: 'passband',
      name: 'Passband ripple',
      unit: 'dB',
      sense: 'at most',
      limit: ideal.rippleDb,
    } as const
    return verdict(asked, highest - lowest.db, lowest.omega / (2 * Math.PI), 'Hz')
  },
}
