import { requirementKind } from './RequirementKind.js'

/** When the answer to a step has come within 1 % for good. */
export const settlingTime = requirementKind({
  kind: 'settling-time',
  name: 'Settling to 1 %',
  unit: 's',
  sense: 'at most',
  at: 'none',
  usual: true,
  decided: 'time',
  judge: ({ step }) => ({ value: step.settlingTime, at: step.settlingTime, unit: 's' }),
})
