import type { Outcome, Topic } from './Job'
import { ended, failureOf, type Message, type Order, type Report, Sent } from './protocol'

/** A worker as far as a lane knows it. */
export interface WorkerLike {
  postMessage(message: Message): void
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
  /** Nobody wants its answer any more. */
  superseded: boolean
}

/** ms after which work that nobody wants any more is broken off: a new worker takes about as long to start. */
export const PATIENCE = 1000

/** Workers that may die in a row without having answered anything, before questions are refused at once. */
const MOST_DEATHS = 3

/**
 * Questions to one worker, answered one after the other in the order they were asked. They are sent at once, so that the
 * worker never waits for a busy page. Of one topic only the newest question counts: an older one is called back, or
 * broken off once it has had its time. A worker that dies is renewed.
 */
export class Lane {
  private worker: WorkerLike | null = null
  private sent = new Sent()
  /** What the worker has and has not reported the end of; it works on the first. */
  private tasks: Task[] = []
  /** When the first of them began. */
  private began = 0
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
      this.send({ order, part: part as (answer: unknown) => void, end, superseded: false })
      this.hurry()
    })
  }

  /** Gives up a topic's questions, as if newer ones had been asked. */
  supersede(topic: string): void {
    for (const task of this.tasks) {
      if (task.order.topic !== topic || task.superseded) continue
      task.superseded = true
      task.end({ kind: 'superseded' })
      this.worker?.postMessage({ callBack: task.order.id })
    }
    this.hurry()
  }

  /** Ends everything at once. */
  stop(): void {
    const ending = this.renew()
    for (const task of ending) task.end({ kind: 'stopped' })
  }

  /** Starts the worker, so that it is ready when it is asked. */
  warm(): void {
    this.worker ??= this.hire()
  }

  private send(task: Task): void {
    this.warm()
    try {
      this.worker!.postMessage(this.sent.packed(task.order))
      this.sent.went(task.order)
    } catch (error) {
      // What cannot be sent ends here; the next may be sent.
      task.end({ kind: 'failed', failure: failureOf(error) })
      return
    }
    if (this.tasks.length === 0) this.began = this.now()
    this.tasks.push(task)
  }

  private hire(): WorkerLike {
    const worker = this.start()
    this.sent = new Sent()
    worker.onmessage = ({ data }) => this.heard(data)
    worker.onerror = (event) => {
      event.preventDefault?.()
      this.died(event.message || 'the worker cannot be started')
    }
    worker.onmessageerror = () => this.died('its answer cannot be read')
    return worker
  }

  /** Ends the worker. @returns what it had to do */
  private renew(): Task[] {
    clearTimeout(this.timer)
    this.worker?.terminate()
    this.worker = null
    return this.tasks.splice(0)
  }

  private died(problem: string): void {
    this.deaths++
    const failed = { kind: 'failed', failure: failureOf(ended(problem)) } as const
    const [current, ...rest] = this.renew()
    current?.end(failed)
    const isHopeless = this.deaths >= MOST_DEATHS
    if (isHopeless) this.deaths = 0
    for (const task of rest) {
      if (isHopeless) task.end(failed)
      else if (!task.superseded) this.send(task)
    }
  }

  private heard(report: Report): void {
    const at = this.tasks.findIndex((task) => task.order.id === report.id)
    const task = this.tasks[at]
    if (!task) return
    this.deaths = 0
    if (report.kind === 'part') {
      if (!task.superseded) task.part(report.answer)
      return
    }
    this.tasks.splice(at, 1)
    this.began = this.now()
    if (report.kind === 'done') task.end({ kind: 'done', answer: report.answer as never })
    else if (report.kind === 'failed') task.end(report)
    this.hurry()
  }

  /** Breaks off what nobody wants any more, once it has had its time and others wait. */
  private hurry(): void {
    clearTimeout(this.timer)
    const [current] = this.tasks
    if (!current?.superseded || this.tasks.every((task) => task.superseded)) return
    const left = this.began + PATIENCE - this.now()
    if (left > 0) {
      this.timer = setTimeout(() => this.hurry(), left)
      return
    }
    for (const task of this.renew()) if (!task.superseded) this.send(task)
  }
}
