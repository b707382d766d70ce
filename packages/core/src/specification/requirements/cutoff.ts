import { requirementKind } from './RequirementKind.js'

/** How near a cutoff comes to a wanted one. */
export const cutoff = requirementKind({
  kind: 'cutoff',
  name: 'Cutoff',
  unit: '%',
  sense: 'at most',
  at: 'none',
  target: 'Hz',
  decided: 'frequency',
  judge({ cutoffs }, { target }) {
    const off = (f: number) => Math.abs(f - target!)
    const nearest = cutoffs.reduce<number | null>((best, f) => (best === null || off(f) < off(best) ? f : best), null)
    return { value: nearest === null ? null : 100 * Math.abs(nearest / target! - 1), at: nearest, unit: 'Hz' }
  },
})
