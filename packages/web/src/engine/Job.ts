import type { Failure } from '@voskel/core'

/**
 * What can be asked of a worker, as the page knows it: nothing of how it is answered comes along.
 *
 * `Q` is asked and `A` answered, both plain data.
 */
export interface Topic<Q, A> {
  readonly id: string
  /** What the answer depends on: where all of it is the very same, so is the answer. */
  key(question: Q): readonly unknown[]
  /** Tells the type of the answer; never there. */
  readonly answers?: A
}

/**
 * How a topic is answered, in a worker. Each stands with its topic in a file of its own and in the list of jobs/index.ts.
 */
export interface Job<Q, A> {
  readonly topic: Topic<Q, A>
  /** Yields what there is already of an answer that takes long. @throws VoskelError */
  run(question: Q): Generator<Partial<A>, A>
}

export const topic = <Q, A>(id: string, key: Topic<Q, A>['key']): Topic<Q, A> => ({ id, key })

/** How a question ended. */
export type Outcome<A> =
  | { readonly kind: 'done'; readonly answer: A }
  | { readonly kind: 'failed'; readonly failure: Failure }
  /** A newer question on the same topic took its place. */
  | { readonly kind: 'superseded' }
  /** Its user ended it. */
  | { readonly kind: 'stopped' }

export const sameKey = (a: readonly unknown[] | null, b: readonly unknown[] | null): boolean =>
  a === b || (a !== null && b !== null && a.length === b.length && a.every((part, k) => Object.is(part, b[k])))

/** A job that answers in one piece. */
export function job<Q, A>(topic: Topic<Q, A>, answer: (question: Q) => A): Job<Q, A> {
  return {
    topic,
    // eslint-disable-next-line require-yield -- there is nothing to be had before the answer
    *run(question) {
      return answer(question)
    },
  }
}
