import { type Candidate, candidates, type FilterSpec, type TransferFunction } from '@voskel/core'
import { type Job, topic } from '../Job'

/** A candidate as the page shows it. */
export interface ComparedCandidate extends Omit<Candidate, 'ideal' | 'response'> {
  readonly transfer: TransferFunction
  readonly passbandEdges: readonly number[]
}

export interface CandidatesAnswer {
  readonly found: readonly ComparedCandidate[]
}

/** Candidates that are handed over at a time. */
const AT_A_TIME = 6

/** Every approximation and order for a specification, some at a time; the answer holds all of them. */
export const candidatesTopic = topic<FilterSpec, CandidatesAnswer>('candidates', (spec) => [spec])

export const candidatesJob: Job<FilterSpec, CandidatesAnswer> = {
  topic: candidatesTopic,
  *run(spec) {
    const found: ComparedCandidate[] = []
    for (const { ideal, response, ...candidate } of candidates(spec)) {
      found.push({ ...candidate, transfer: response, passbandEdges: ideal.passbandEdges })
      if (found.length % AT_A_TIME === 0) yield { found: found.slice(-AT_A_TIME) }
    }
    return { found }
  },
}
