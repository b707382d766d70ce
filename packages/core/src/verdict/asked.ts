import { VoskelError } from '../errors/VoskelError.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import type { Achieved } from '../specification/requirements/RequirementKind.js'
import { isLimit, type LimitRequirement, REQUIREMENT_KINDS } from '../specification/requirements/index.js'
import { type Evidence, type Requirement, verdict, type VerdictPlace } from './Requirement.js'

/** Where a requirement is asked. */
function placeOf({ at, from, to }: LimitRequirement): VerdictPlace | null {
  if (at !== undefined) return { frequency: at }
  return from !== undefined && to !== undefined ? { band: [from, to] } : null
}

function placeText(place: VerdictPlace | null): string {
  if (!place || 'side' in place) return ''
  if ('frequency' in place) return ` at ${formatQuantity(place.frequency, 'Hz')}`
  return `, ${place.band.map((f) => formatQuantity(f, 'Hz')).join(' to ')}`
}

/** What cannot be asked is a line of its own where errors are lines. */
function lenient({ isLenient }: Evidence, judge: () => Achieved): { found: Achieved; failure?: string } {
  try {
    return { found: judge() }
  } catch (error) {
    if (!(error instanceof VoskelError) || !isLenient) throw error
    return { found: { value: null }, failure: `${error.message} ${error.remedy}` }
  }
}

/** Everything that is required besides the bands; several of one kind are told apart by their places. */
export const asked: readonly Requirement[] = REQUIREMENT_KINDS.map((kind) => ({
  judge(evidence) {
    const wanted = evidence.requirements.filter(isLimit).filter((r) => r.kind === kind.kind)
    return wanted.map((requirement, count) => {
      const { found, failure } = lenient(evidence, () => kind.judge(evidence, requirement))
      const place = placeOf(requirement)
      const name = wanted.length > 1 ? `${kind.name}${placeText(place)}` : kind.name
      const { unit, sense, decided } = kind
      const line = { kind: kind.kind, count, place, name, unit, sense, decided, limit: requirement.limit }
      const judged = verdict(line, found.value, found.at ?? null, found.unit ?? 'Hz', { known: evidence.known })
      return failure === undefined ? judged : { ...judged, failure }
    })
  },
}))
