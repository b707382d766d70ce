import { requirementKind } from './RequirementKind.js'

/** How many amplifiers the circuit has. */
export const amplifiers = requirementKind({
  kind: 'amplifiers',
  name: 'Amplifiers',
  unit: '',
  sense: 'at most',
  at: 'none',
  start: 4,
  decided: 'circuit',
  ofCircuit: true,
  judge: ({ parts }) => ({ value: parts && parts.countOf('opamp') }),
})
