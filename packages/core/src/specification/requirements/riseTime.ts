import { requirementKind } from './RequirementKind.js'

/** How long the answer to a step takes from 10 to 90 %. */
export const riseTime = requirementKind({
  kind: 'rise-time',
  name: 'Rise time',
  unit: 's',
  sense: 'at most',
  at: 'none',
  usual: true,
  decided: 'time',
  judge: ({ step }) => ({ value: step.riseTime, at: step.riseTime, unit: 's' }),
})
