import { proxy, type Remote, wrap } from 'comlink'
import type { Candidate, FilterSpec, TransferFunction } from '@voskel/core'

/** A candidate as the page shows it. */
export interface ComparedCandidate extends Omit<Candidate, 'ideal' | 'response'> {
  readonly transfer: TransferFunction
  readonly passbandEdges: readonly number[]
}

interface CompareWorker {
  advise(spec: FilterSpec): Promise<string[]>
  compare(spec: FilterSpec, found: (some: ComparedCandidate[]) => Promise<void>): Promise<void>
}

/**
 * Finds candidates in a worker of its own, so that nothing else waits for them.
 *
 * @param found called with some candidates at a time
 * @returns `done` resolves when all are there; `stop` ends the work at once
 */
export function compareInWorker(
  spec: FilterSpec,
  found: (some: ComparedCandidate[]) => void,
): { done: Promise<void>; stop: () => void } {
  const worker = new Worker(new URL('./compareWorker.ts', import.meta.url), { type: 'module' })
  const remote: Remote<CompareWorker> = wrap<CompareWorker>(worker)
  const take = proxy(async (some: ComparedCandidate[]) => found(some))
  const done = new Promise<void>((resolve, reject) => {
    worker.onerror = (event) => reject(new Error(event.message))
    remote.compare(spec, take).then(resolve, reject)
  })
  return {
    done: done.finally(() => worker.terminate()),
    stop: () => worker.terminate(),
  }
}

/** Ways to meet what the response of a specification misses, looked for in a worker of their own; `stop` gives it up. */
export function adviseInWorker(spec: FilterSpec): { done: Promise<string[]>; stop: () => void } {
  const worker = new Worker(new URL('./compareWorker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<CompareWorker>(worker)
  const done = new Promise<string[]>((resolve, reject) => {
    worker.onerror = (event) => reject(new Error(event.message))
    remote.advise(spec).then(resolve, reject)
  })
  return { done: done.finally(() => worker.terminate()), stop: () => worker.terminate() }
}
