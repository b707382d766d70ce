import { magnitudeDb } from '../numeric/transferFunction.js'
import { type Requirement, verdict } from './Requirement.js'

/** From the stop-band edge on, the magnitude stays below the passband's highest by at least the attenuation. */
export const stopband: Requirement = {
  id: 'stopband',
  name: 'Stop-band attenuation',
  judge({ spec, ideal, transfer, extrema }) {
    if (!spec.stopband || ideal.stopbandEdge === null) return null
    const passEdge = 2 * Math.PI * ideal.passbandEdge
    const edge = 2 * Math.PI * ideal.stopbandEdge
    const top = Math.max(magnitudeDb(transfer, passEdge), ...extrema.filter((e) => e.omega < passEdge).map((e) => e.db))
    const points = [{ omega: edge, db: magnitudeDb(transfer, edge) }, ...extrema.filter((e) => e.omega > edge)]
    const worst = points.reduce((a, b) => (b.db > a.db ? b : a))
    const asked = {
      id: 'stopband',
      name: 'Stop-band attenuation',
      unit: 'dB',
      sense: 'at least',
      limit: spec.stopband.attenuation,
    } as const
    const at = Number.isFinite(worst.omega) ? worst.omega / (2 * Math.PI) : null
    return verdict(asked, top - worst.db, at, 'Hz')
  },
}
