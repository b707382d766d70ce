import { advise, approximate, candidates, type FilterSpec } from '@voskel/core'
import { expose } from 'comlink'
import type { ComparedCandidate } from './compare'

/** Hands the candidates over as they are found, some at a time. */
const AT_A_TIME = 6

expose({
  advise: (spec: FilterSpec): string[] => advise(spec, approximate(spec)),
  async compare(spec: FilterSpec, found: (some: ComparedCandidate[]) => Promise<void>): Promise<void> {
    let some: ComparedCandidate[] = []
    for (const { ideal, response, ...candidate } of candidates(spec)) {
      some.push({ ...candidate, transfer: response, passbandEdges: ideal.passbandEdges })
      if (some.length < AT_A_TIME) continue
      await found(some)
      some = []
    }
    await found(some)
  },
})
