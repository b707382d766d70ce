import { growing, growthOf } from '../analysis/oscillation.js'
import { requirements } from './index.js'
import type { Evidence, Verdict } from './Requirement.js'

/**
 * The verdict on every requirement, worst margin (relative to its limit) first. A circuit made for a specification that grows
 * by itself keeps nothing of it, whatever its response says.
 */
export function ledger(evidence: Evidence): Verdict[] {
  const relative = (v: Verdict) => (v.margin === null ? -Infinity : v.margin / (Math.abs(v.limit) || 1))
  const verdicts = requirements.flatMap((r) => r.judge(evidence))
  const [fastest] = evidence.promised && verdicts.length > 0 ? growing(evidence.transfer.poles) : []
  const failure = fastest && `The circuit ${growthOf(fastest)}.`
  return verdicts
    .map((v) => (failure ? { ...v, achieved: null, margin: null, at: null, atUnit: null, met: false, failure } : v))
    .sort((a, b) => Number(a.met) - Number(b.met) || relative(a) - relative(b))
}
