import { requirementKind } from './RequirementKind.js'

/** How many parts are bought. */
export const parts = requirementKind({
  kind: 'parts',
  name: 'Parts',
  unit: '',
  sense: 'at most',
  at: 'none',
  start: 10,
  decided: 'circuit',
  ofCircuit: true,
  judge: ({ parts }) => ({ value: parts && parts.bought }),
})
