import { circuitCandidates, type FilterSpec } from '@voskel/core'
import { type Job, topic } from '../Job'
import type { CandidatesAnswer, ComparedCandidate } from './candidates'

/** Candidates that are handed over at a time. */
const AT_A_TIME = 5

/** Ways to make what is asked, passive and active, some at a time; the answer holds all of them. */
export const circuitCandidatesTopic = topic<FilterSpec, CandidatesAnswer>('circuit-candidates', (spec) => [spec])

export const circuitCandidatesJob: Job<FilterSpec, CandidatesAnswer> = {
  topic: circuitCandidatesTopic,
  *run(spec) {
    const found: ComparedCandidate[] = []
    for (const { ideal, response, ...candidate } of circuitCandidates(spec)) {
      found.push({ ...candidate, transfer: response, passbandEdges: ideal.passbandEdges })
      if (found.length % AT_A_TIME === 0) yield { found: found.slice(-AT_A_TIME) }
    }
    return { found }
  },
}
