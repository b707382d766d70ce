import type { Job } from './Job'
import type { Order } from './protocol'

/** Rounds after which the machine code of a browser is as quick as it gets. */
const ROUNDS = 12
/** Relative change of the passband from one round to the next: another question, and the same work. */
const STEP = 1e-7

/**
 * Does what was asked once more, slightly changed, so that the first edits find warm code. Yields between two jobs, for
 * whoever drives it to stop when there is something to do.
 *
 * @param orders the last of each topic
 */
export function* warmUp(jobs: readonly Job<never, unknown>[], orders: readonly Order[]): Generator<void> {
  for (let round = 1; round <= ROUNDS; round++) {
    for (const { topic, question } of orders) {
      const job = jobs.find((j) => j.topic.id === topic)
      const other = nudged(question, 1 + round * STEP)
      if (!job || other === null) continue
      try {
        for (const part of job.run(other as never)) void part
      } catch {
        // Whoever asks for it is told what is wrong with it.
      }
      yield
    }
  }
}

/** The question with its passband moved by next to nothing; null where it has none. */
export function nudged(question: unknown, factor: number): unknown {
  const { specification } = question as { specification?: { passband?: { edges: readonly number[] } } }
  if (!specification?.passband) return null
  const edges = specification.passband.edges.map((f) => f * factor)
  return {
    ...(question as object),
    specification: { ...specification, passband: { ...specification.passband, edges } },
  }
}
