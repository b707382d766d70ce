import { requirementKind } from './RequirementKind.js'

/** When the answer to a step has come half-way. */
export const stepDelay = requirementKind({
  kind: 'step-delay',
  name: 'Delay to 50 %',
  unit: 's',
  sense: 'at most',
  at: 'none',
  usual: true,
  decided: 'time',
  judge: ({ step }) => ({ value: step.delay, at: step.delay, unit: 's' }),
})
