import { requirementKind } from './RequirementKind.js'

/** The most that the source sees in a band. */
export const impedanceMost = requirementKind({
  kind: 'impedance-most',
  name: 'Impedance',
  unit: 'Ω',
  sense: 'at most',
  at: 'band',
  decided: 'frequency',
  ofCircuit: true,
  judge: (judged, { from, to }) => ({ value: null, ...judged.impedances(from!, to!)?.greatest, unit: 'Hz' }),
})
