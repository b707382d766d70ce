import { isShaped } from '../specification/filterSpec.js'
import { pointsIn } from './bands.js'
import { type Requirement, verdict } from './Requirement.js'

/** In the stop bands the magnitude stays below the passband's highest by at least the attenuation. */
export const stopband: Requirement = {
  id: 'stopband',
  name: 'Stop-band attenuation',
  judge({ spec, ideal, transfer, extrema }) {
    if (isShaped(spec) || !spec.stopband) return []
    const points = pointsIn(ideal.stopbands, transfer, extrema)
    if (points.length === 0) return []
    const top = Math.max(...pointsIn(ideal.passbands, transfer, extrema).map((p) => p.db))
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
