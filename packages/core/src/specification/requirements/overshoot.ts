import { requirementKind } from './RequirementKind.js'

/** How far the answer to a step goes beyond its final value. */
export const overshoot = requirementKind({
  kind: 'overshoot',
  name: 'Overshoot',
  unit: '%',
  sense: 'at most',
  at: 'none',
  usual: true,
  decided: 'time',
  judge: ({ step }) => ({ value: step.overshootPercent, at: step.peakTime, unit: 's' }),
})
