import { requirementKind } from './RequirementKind.js'

/** How far the answer to a step swings back after its overshoot. */
export const ringing = requirementKind({
  kind: 'ringing',
  name: 'Ringing',
  unit: '%',
  sense: 'at most',
  at: 'none',
  decided: 'time',
  judge: ({ step }) => ({ value: step.ringingPercent }),
})
