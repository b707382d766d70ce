import { passbands, stopbands } from '../specification/responses.js'
import { pointsIn } from './bands.js'
import { type Requirement, verdict } from './Requirement.js'

/** In the stop bands the magnitude stays below the passband's highest by at least the attenuation. */
export const stopband: Requirement = {
  id: 'stopband',
  name: 'Stop-band attenuation',
  judge({ spec, ideal, transfer, extrema }) {
    if (!spec.stopband || !ideal.stopbandEdges) return []
    const points = pointsIn(stopbands(spec.response, ideal.stopbandEdges ?? []), transfer, extrema)
    if (points.length === 0) return []
    const top = Math.max(...pointsIn(passbands(spec.response, ideal.passbandEdges), transfer, extrema).map((p) => p.db))
    const worst = points.reduce((a, b) => (b.db > a.db ? b : a))
    const asked = {
      id: 'stopband',
      name: 'Stop-band attenuation',
      unit: 'dB',
      sense: 'at least',
      limit: spec.stopband.attenuation,
    } as const
    const at = Number.isFinite(worst.omega) ? worst.omega / (2 * Math.PI) : null
    return [verdict(asked, top - worst.db, at, 'Hz')]
  },
}
