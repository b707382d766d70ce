import { requirementKind } from './RequirementKind.js'

/** The least that the source sees in a band. */
export const impedanceLeast = requirementKind({
  kind: 'impedance-least',
  name: 'Impedance',
  unit: 'Ω',
  sense: 'at least',
  at: 'band',
  decided: 'frequency',
  ofCircuit: true,
  judge: (judged, { from, to }) => ({ value: null, ...judged.impedances(from!, to!)?.least, unit: 'Hz' }),
})
