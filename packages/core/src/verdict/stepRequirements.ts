import type { StepMeasures } from '../measure/stepMeasures.js'
import type { TimeRequirement } from '../specification/filterSpec.js'
import { type Requirement, verdict } from './Requirement.js'

/** A limit on one number of the step response. */
function stepRequirement(
  kind: TimeRequirement['kind'],
  name: string,
  unit: '%' | 's',
  achieved: (step: StepMeasures) => number | null,
  at: (step: StepMeasures) => number | null,
): Requirement {
  return {
    id: kind,
    name,
    judge({ spec, step }) {
      const wanted = spec.requirements?.find((r) => r.kind === kind)
      if (!wanted) return null
      return verdict({ id: kind, name, unit, sense: 'at most', limit: wanted.limit }, achieved(step), at(step), 's')
    },
  }
}

export const overshoot = stepRequirement(
  'overshoot',
  'Overshoot',
  '%',
  (s) => s.overshootPercent,
  (s) => s.peakTime,
)
export const riseTime = stepRequirement(
  'rise-time',
  'Rise time',
  's',
  (s) => s.riseTime,
  (s) => s.riseTime,
)
export const settlingTime = stepRequirement(
  'settling-time',
  'Settling to 1 %',
  's',
  (s) => s.settlingTime,
  (s) => s.settlingTime,
)
export const stepDelay = stepRequirement(
  'step-delay',
  'Delay to 50 %',
  's',
  (s) => s.delay,
  (s) => s.delay,
)
