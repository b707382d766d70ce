import { requirementKind } from './RequirementKind.js'

/** How far a band stays below the passband's highest level. */
export const attenuation = requirementKind({
  kind: 'attenuation',
  name: 'Attenuation',
  unit: 'dB',
  sense: 'at least',
  at: 'band',
  start: 40,
  decided: 'frequency',
  judge(judged, { from, to }) {
    const { value, at } = judged.highest(from!, to!)
    return { value: judged.topDb - value, at, unit: 'Hz' }
  },
})
