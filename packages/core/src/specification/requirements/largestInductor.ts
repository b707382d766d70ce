import { requirementKind } from './RequirementKind.js'

/** The largest coil. */
export const largestInductor = requirementKind({
  kind: 'largest-inductor',
  name: 'Largest inductor',
  unit: 'H',
  sense: 'at most',
  at: 'none',
  start: 1e-2,
  decided: 'circuit',
  ofCircuit: true,
  judge: ({ parts }) => ({ value: parts && Math.max(0, ...parts.valuesOf('inductor')) }),
})
