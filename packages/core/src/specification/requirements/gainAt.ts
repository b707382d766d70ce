import { magnitudeDb } from '../../numeric/transferFunction.js'
import { requirementKind } from './RequirementKind.js'

/** How near the level at a frequency comes to a wanted one. */
export const gainAt = requirementKind({
  kind: 'gain-at',
  name: 'Gain',
  unit: 'dB',
  sense: 'at most',
  at: 'frequency',
  target: 'dB',
  decided: 'frequency',
  judge: ({ transfer, referenceDb }, { at, target }) => ({
    value: Math.abs(magnitudeDb(transfer, 2 * Math.PI * at!) - referenceDb - target!),
    at,
    unit: 'Hz',
  }),
})
