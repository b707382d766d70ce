import { type ApproximatedSpecInput, OWN_FIELDS, ownsField } from '../specification/filterSpec.js'
import { approximations } from './index.js'

/** Ripple and attenuation of families that need one, where none is given, dB. */
const USUAL_RIPPLE = 0.5
const USUAL_ATTENUATION = 40

/** Another approximation: what it needs is filled in, what only the old one has is left out. */
export function withApproximation<S extends ApproximatedSpecInput>(spec: S, id: string): S {
  const family = approximations.find((a) => a.id === id)
  if (!family || id === spec.approximation) return spec
  const next: S = { ...spec, approximation: id }
  for (const field of Object.keys(OWN_FIELDS) as (keyof typeof OWN_FIELDS)[])
    if (!ownsField(id, field)) delete next[field]
  if (family.defaultRippleDb === null && spec.passband.ripple === undefined)
    next.passband = { ...spec.passband, ripple: USUAL_RIPPLE }
  if (family.shapesStopband && !spec.stopband && spec.response !== 'allpass')
    next.stopband = { attenuation: USUAL_ATTENUATION }
  return next
}
