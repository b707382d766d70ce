import { requirementKind } from './RequirementKind.js'

/** How far the phase in a band leaves the straight line that fits it best. */
export const phaseLinearity = requirementKind({
  kind: 'phase-linearity',
  name: 'Phase linearity',
  unit: '°',
  sense: 'at most',
  at: 'band',
  decided: 'frequency',
  judge: (judged, { from, to }) => ({ ...judged.bend(from!, to!), unit: 'Hz' }),
})
