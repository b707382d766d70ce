import { type Failure, toFailure, VoskelError } from '@voskel/core'
import type { Job } from './Job'

/** What a page sends to a worker. */
export interface Order {
  readonly id: number
  /** The topic's id. */
  readonly topic: string
  readonly question: unknown
}

/** What a worker sends back: pieces of an answer, then the answer or why there is none. */
export type Report =
  | { readonly id: number; readonly kind: 'part'; readonly answer: unknown }
  | { readonly id: number; readonly kind: 'done'; readonly answer: unknown }
  | { readonly id: number; readonly kind: 'failed'; readonly failure: Failure }

/** Does one order, reporting as it goes. What nobody foresaw is a failure too, so that a question always ends. */
export function doOrder(
  { id, topic, question }: Order,
  jobs: readonly Job<never, unknown>[],
  report: (r: Report) => void,
): void {
  try {
    const job = jobs.find((j) => j.topic.id === topic)
    if (!job) throw ended(`nothing answers "${topic}"`)
    const work = job.run(question as never)
    for (;;) {
      const step = work.next()
      report({ id, kind: step.done ? 'done' : 'part', answer: step.value })
      if (step.done) return
    }
  } catch (error) {
    report({ id, kind: 'failed', failure: failureOf(error) })
  }
}

/** Any error as data: one of the core's as it is, another one by its message. */
export function failureOf(error: unknown): Failure {
  if (error instanceof VoskelError) return toFailure(error)
  return toFailure(ended(error instanceof Error ? error.message : String(error)))
}

export const ended = (problem: string) => new VoskelError('COMPUTATION_ENDED', { problem })
