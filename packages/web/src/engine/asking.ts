import type { Failure } from '@voskel/core'
import { type Outcome, sameKey, type Topic } from './Job'
import type { Lane } from './lane'

/** What is known of an answer: the one that belongs to a key, or why there is none. */
export interface Known<A> {
  readonly key: readonly unknown[]
  readonly answer: A | null
  readonly failure: Failure | null
}

/**
 * A topic's newest question and what is known of it. Whether an answer is stale is no state of its own: its key is not
 * that of the question.
 */
export class Asking<Q, A> {
  known: Known<A> | null = null
  /** The last answer there was, whatever came of later questions. */
  last: { readonly key: readonly unknown[]; readonly answer: A } | null = null
  /** Its user has ended the computation that this key was asked for. */
  stopped = false
  private wanted: readonly unknown[] | null = null
  private asked: readonly unknown[] | null = null

  constructor(
    readonly topic: Topic<Q, A>,
    private readonly lane: Pick<Lane, 'ask' | 'supersede'>,
    private readonly changed: () => void,
  ) {}

  /** An answer to the wanted question is on its way. */
  get running(): boolean {
    return this.asked !== null
  }

  /** What is known belongs to the wanted question. */
  get isFresh(): boolean {
    return this.known !== null && sameKey(this.known.key, this.wanted)
  }

  ask(question: Q): void {
    const key = this.topic.key(question)
    this.wanted = key
    if (sameKey(this.asked, key)) return
    this.stopped = false
    if (this.isFresh) {
      // Back to what is known already: what was asked meanwhile is not wanted any more.
      if (this.asked) this.lane.supersede(this.topic.id)
      this.asked = null
      this.changed()
      return
    }
    this.asked = key
    void this.lane.ask(this.topic, question).then((outcome) => this.ended(key, outcome))
    this.changed()
  }

  /** An answer from another time, to fall back on until there is one. */
  recall(answer: A | null): void {
    if (answer !== null) this.last ??= { key: [], answer }
  }

  /** Another design is open: nothing is known of it. */
  forget(): void {
    if (this.asked) this.lane.supersede(this.topic.id)
    this.known = this.last = this.wanted = this.asked = null
    this.stopped = false
  }

  private ended(key: readonly unknown[], outcome: Outcome<A>): void {
    if (!sameKey(this.asked, key)) return
    this.asked = null
    if (outcome.kind === 'done') {
      this.known = { key, answer: outcome.answer, failure: null }
      this.last = { key, answer: outcome.answer }
    } else if (outcome.kind === 'failed') this.known = { key, answer: null, failure: outcome.failure }
    else this.stopped = outcome.kind === 'stopped'
    this.changed()
  }
}
