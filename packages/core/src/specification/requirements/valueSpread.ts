import { requirementKind } from './RequirementKind.js'

/** The largest over the smallest value of one kind of part. */
export const valueSpread = requirementKind({
  kind: 'value-spread',
  name: 'Spread of values',
  unit: '',
  sense: 'at most',
  at: 'none',
  start: 20,
  decided: 'circuit',
  ofCircuit: true,
  judge: ({ parts }) => ({ value: parts && parts.spread }),
})
