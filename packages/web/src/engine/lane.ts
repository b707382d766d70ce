import type { Outcome, Topic } from './Job'
import { ended, failureOf, type Order, type Report } from './protocol'

/** A worker as far as a lane knows it. */
export interface WorkerLike {
  postMessage(order: Order): void
  terminate(): void
  onmessage: ((event: MessageEvent<Report>) => void) | null
  onerror: ((event: ErrorEvent) => void) | null
  onmessageerror: ((event: MessageEvent) => void) | null
}

interface Task {
  readonly order: Order
  readonly part: (answer: unknown) => void
  /** Ends the question; later calls have no effect. */
  readonly end: (outcome: Outcome<never>) => void
  /** A newer question of the same topic has taken its place. */
  superseded: boolean
}

/** ms after which work that nobody wants any more is broken off: a new worker takes about as long to start. */
export const PATIENCE = 1000

/** Workers that may die in a row without having answered anything, before questions are refused at once. */
const MOST_DEATHS = 3

/**
 * Questions to one worker, one after the other in the order they were asked. Of one topic only the newest question counts:
 * an older one that waits is dropped, one under way is broken off once it has had its time. A worker that dies is renewed.
 */
export class Lane {
  private worker: WorkerLike | null = null
  private current: (Task & { readonly began: number }) | null = null
  private waiting: Task[] = []
  private timer: ReturnType<typeof setTimeout> | undefined
  private count = 0
  private deaths = 0

  /** @param start makes a worker; called when there is something to do */
  constructor(
    private readonly start: () => WorkerLike,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /**
   * Asks a question.
   *
   * @param part is handed pieces of the answer as they come
   * @returns how it ended; never rejects
   */
  ask<Q, A>(topic: Topic<Q, A>, question: Q, part: (answer: Partial<A>) => void = () => {}): Promise<Outcome<A>> {
    this.supersede(topic.id)
    return new Promise((resolve) => {
      const order = { id: ++this.count, topic: topic.id, question }
      const end = resolve as (outcome: Outcome<never>) => void
      this.waiting.push({ order, part: part as (answer: unknown) => void, end, superseded: false })
      this.proceed()
      this.hurry()
    })
  }

  /** Gives up a topic's questions, as if newer ones had been asked. */
  supersede(topic: string): void {
    this.waiting = this.waiting.filter((task) => {
      if (task.order.topic !== topic) return true
      task.end({ kind: 'superseded' })
      return false
    })
    if (this.current?.order.topic !== topic) return
    this.current.superseded = true
    this.current.end({ kind: 'superseded' })
    this.hurry()
  }

  /** Ends everything at once. */
  stop(): void {
    const ending = [...(this.current ? [this.current] : []), ...this.waiting]
    this.waiting = []
    if (this.current) this.renew()
    for (const task of ending) task.end({ kind: 'stopped' })
  }

  /** Starts the worker, so that it is ready when it is asked. */
  warm(): void {
    this.worker ??= this.hire()
  }

  private hire(): WorkerLike {
    const worker = this.start()
    worker.onmessage = ({ data }) => this.heard(data)
    worker.onerror = (event) => {
      event.preventDefault?.()
      this.died(event.message || 'the worker cannot be started')
    }
    worker.onmessageerror = () => this.died('its answer cannot be read')
    return worker
  }

  private renew(): void {
    clearTimeout(this.timer)
    this.worker?.terminate()
    this.worker = null
    this.current = null
  }

  private died(problem: string): void {
    this.deaths++
    const task = this.current
    this.renew()
    task?.end({ kind: 'failed', failure: failureOf(ended(problem)) })
    if (this.deaths >= MOST_DEATHS) {
      for (const next of this.waiting.splice(0)) next.end({ kind: 'failed', failure: failureOf(ended(problem)) })
      this.deaths = 0
    }
    this.proceed()
  }

  private heard(report: Report): void {
    const task = this.current
    if (!task || report.id !== task.order.id) return
    this.deaths = 0
    if (report.kind === 'part') {
      if (!task.superseded) task.part(report.answer)
      return
    }
    this.current = null
    clearTimeout(this.timer)
    task.end(report.kind === 'done' ? { kind: 'done', answer: report.answer as never } : report)
    this.proceed()
  }

  private proceed(): void {
    if (this.current) return
    const task = this.waiting.shift()
    if (!task) return
    this.warm()
    this.current = Object.assign(task, { began: this.now() })
    try {
      this.worker!.postMessage(task.order)
    } catch (error) {
      // What cannot be sent ends here; the next may be sent.
      this.current = null
      task.end({ kind: 'failed', failure: failureOf(error) })
      this.proceed()
    }
  }

  /** Breaks off what nobody wants any more, once it has had its time and others wait. */
  private hurry(): void {
    const { current } = this
    clearTimeout(this.timer)
    if (!current?.superseded || this.waiting.length === 0) return
    const left = current.began + PATIENCE - this.now()
    if (left > 0) {
      this.timer = setTimeout(() => this.hurry(), left)
      return
    }
    this.renew()
    this.proceed()
  }
}
