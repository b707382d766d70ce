import type { Ideal } from '../approximation/approximate.js'
import { attenuations, isShaped } from '../specification/filterSpec.js'
import type { Band } from '../specification/responses.js'
import { pointsIn } from './bands.js'
import { type Requirement, verdict } from './Requirement.js'

const SIDES = ['below', 'above'] as const

/** The lower and the upper stop band; a single one, between two passbands, is parted at its centre. */
function sides({ stopbands, referenceEdges }: Ideal): readonly Band[] {
  if (stopbands.length !== 1 || referenceEdges.length !== 2) return stopbands
  const [[from, to]] = stopbands
  const centre = Math.sqrt(referenceEdges[0] * referenceEdges[1])
  return [
    [from, centre],
    [centre, to],
  ]
}

/** In the stop bands the magnitude stays below the passband's highest by at least the attenuation. */
export const stopband: Requirement = {
  judge(evidence) {
    const { promised, known } = evidence
    if (!promised || isShaped(promised.spec) || !promised.spec.stopband) return []
    const { transfer, extrema } = evidence
    const { ideal } = promised
    const top = Math.max(...pointsIn(ideal.passbands, transfer, extrema).map((p) => p.db))
    const limits = attenuations(promised.spec.stopband)
    // Both sides are one requirement where they ask for the same.
    const parts = limits.length === 1 ? [ideal.stopbands] : sides(ideal).map((band) => [band])
    return parts.flatMap((bands, k) => {
      const points = pointsIn(bands, transfer, extrema)
      if (points.length === 0) return []
      const worst = points.reduce((a, b) => (b.db > a.db ? b : a))
      const asked = {
        kind: 'stopband',
        count: k,
        place: limits.length === 1 ? null : { side: SIDES[k] },
        decided: 'frequency',
        name: limits.length === 1 ? 'Stop-band attenuation' : `Attenuation ${SIDES[k]}`,
        unit: 'dB',
        sense: 'at least',
        limit: limits[k] ?? limits[0],
      } as const
      const at = Number.isFinite(worst.omega) ? worst.omega / (2 * Math.PI) : null
      return [verdict(asked, top - worst.db, at, 'Hz', { known })]
    })
  },
}
