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
  judge({ step }) {
    const value = step.overshootPercent
    // Where there is none its place is not looked for: what settles at nothing may ring for long.
    return { value, at: value === null ? null : step.peakTime, unit: 's' }
  },
})
