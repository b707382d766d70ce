import { type Failure, toFailure, VoskelError } from '@voskel/core'
import type { Job } from './Job'

/** What a page sends to a worker. */
export interface Order {
  readonly id: number
  /** The topic's id. */
  readonly topic: string
  readonly question: unknown
  /** Members of the question that are the very same as when they were last sent, and were left out. */
  readonly same?: readonly string[]
}

/** What a page sends: an order, or that one is not wanted any more. */
export type Message = Order | { readonly callBack: number }

/** What a worker sends back: pieces of an answer, then the answer or why there is none. */
export type Report =
  | { readonly id: number; readonly kind: 'part'; readonly answer: unknown }
  | { readonly id: number; readonly kind: 'done'; readonly answer: unknown }
  | { readonly id: number; readonly kind: 'failed'; readonly failure: Failure }
  /** It was called back before it was begun. */
  | { readonly id: number; readonly kind: 'dropped' }

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** What a page has sent to one worker: of the many orders that follow an edit, the first alone carries the circuit. */
export class Sent {
  private readonly last = new Map<string, unknown>()

  /** The order without what the worker has. */
  packed(order: Order): Order {
    const { question } = order
    if (!isObject(question)) return order
    const same = Object.keys(question).filter(
      (name) => isObject(question[name]) && this.last.get(name) === question[name],
    )
    if (same.length === 0) return order
    return {
      ...order,
      same,
      question: Object.fromEntries(Object.entries(question).filter(([name]) => !same.includes(name))),
    }
  }

  /** It went off. */
  went({ question }: Order): void {
    if (isObject(question)) for (const [name, value] of Object.entries(question)) this.last.set(name, value)
  }
}

/** The other end of `Sent`. */
export class Received {
  private readonly last = new Map<string, unknown>()

  whole({ same, ...order }: Order): Order {
    const { question } = order
    if (!isObject(question)) return order
    for (const [name, value] of Object.entries(question)) this.last.set(name, value)
    if (!same) return order
    return {
      ...order,
      question: { ...question, ...Object.fromEntries(same.map((name) => [name, this.last.get(name)])) },
    }
  }
}

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

/**
 * Orders in the order they came, one at a time; between two of them it is heard whether the next is still wanted.
 *
 * @param later runs something after what has been sent already was heard
 */
export class OrderQueue {
  private readonly orders: Order[] = []
  private isWaiting = false
  private readonly received = new Received()

  constructor(
    private readonly jobs: readonly Job<never, unknown>[],
    private readonly report: (r: Report) => void,
    private readonly later: (step: () => void) => void,
  ) {}

  /** @returns the order as it was meant; null where an older one was called back */
  heard(message: Message): Order | null {
    if ('callBack' in message) {
      const at = this.orders.findIndex((order) => order.id === message.callBack)
      if (at < 0) return null
      this.orders.splice(at, 1)
      this.report({ id: message.callBack, kind: 'dropped' })
      return null
    }
    const order = this.received.whole(message)
    this.orders.push(order)
    this.wait()
    return order
  }

  private wait(): void {
    if (this.isWaiting) return
    this.isWaiting = true
    this.later(() => {
      this.isWaiting = false
      const order = this.orders.shift()
      if (order) doOrder(order, this.jobs, this.report)
      if (this.orders.length > 0) this.wait()
    })
  }
}

/** Any error as data: one of the core's as it is, another one by its message. */
export function failureOf(error: unknown): Failure {
  if (error instanceof VoskelError) return toFailure(error)
  return toFailure(ended(error instanceof Error ? error.message : String(error)))
}

export const ended = (problem: string) => new VoskelError('COMPUTATION_ENDED', { problem })
