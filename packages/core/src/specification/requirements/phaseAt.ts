import { phase } from '../../numeric/transferFunction.js'
import { requirementKind } from './RequirementKind.js'

/** How near the phase at a frequency comes to a wanted one, whole turns left out. */
export const phaseAt = requirementKind({
  kind: 'phase-at',
  name: 'Phase',
  unit: '°',
  sense: 'at most',
  at: 'frequency',
  target: '°',
  decided: 'frequency',
  judge({ transfer }, { at, target }) {
    const off = (phase(transfer, 2 * Math.PI * at!) * 180) / Math.PI - target!
    return { value: Math.abs(off - 360 * Math.round(off / 360)), at, unit: 'Hz' }
  },
})
