import { requirementKind } from './RequirementKind.js'

/** How much the group delay differs inside a band. */
export const delayVariation = requirementKind({
  kind: 'delay-variation',
  name: 'Delay variation',
  unit: 's',
  sense: 'at most',
  at: 'band',
  start: 1e-6,
  decided: 'frequency',
  judge(judged, { from, to }) {
    const { least, greatest } = judged.delays(from!, to!)
    return { value: greatest.value - least.value, at: greatest.at, unit: 'Hz' }
  },
})
