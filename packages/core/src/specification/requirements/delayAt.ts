import { groupDelay } from '../../numeric/transferFunction.js'
import { requirementKind } from './RequirementKind.js'

/** The group delay at a frequency. */
export const delayAt = requirementKind({
  kind: 'delay-at',
  name: 'Group delay',
  unit: 's',
  sense: 'at most',
  at: 'frequency',
  start: 1e-3,
  decided: 'frequency',
  judge: ({ transfer }, { at }) => ({ value: groupDelay(transfer, 2 * Math.PI * at!), at, unit: 'Hz' }),
})
