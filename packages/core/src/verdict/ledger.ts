import { requirements } from './index.js'
import type { Evidence, Verdict } from './Requirement.js'

/** The verdict on every requirement, worst margin (relative to its limit) first. */
export function ledger(evidence: Evidence): Verdict[] {
  const relative = (v: Verdict) => (v.margin === null ? -Infinity : v.margin / (Math.abs(v.limit) || 1))
  return requirements
    .flatMap((r) => r.judge(evidence))
    .sort((a, b) => Number(a.met) - Number(b.met) || relative(a) - relative(b))
}
