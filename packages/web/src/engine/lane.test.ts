import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { job, topic } from './Job'
import { Lane, PATIENCE, type WorkerLike } from './lane'
import { doOrder, type Message, type Order, OrderQueue, Received, type Report, Sent } from './protocol'

const SQUARE = topic<number, { n: number }>('square', (n) => [n])
const CUBE = topic<number, { n: number }>('cube', (n) => [n])

/** A worker that answers when it is told to. */
class WorkerStandIn implements WorkerLike {
  static all: WorkerStandIn[] = []
  onmessage: WorkerLike['onmessage'] = null
  onerror: WorkerLike['onerror'] = null
  onmessageerror: WorkerLike['onmessageerror'] = null
  orders: Order[] = []
  calledBack: number[] = []
  /** Orders whose end was not reported yet. */
  open: Order[] = []
  ended = false
  constructor() {
    WorkerStandIn.all.push(this)
  }
  postMessage(message: Message) {
    if ('callBack' in message) {
      this.calledBack.push(message.callBack)
      // The first is being worked on; others are dropped.
      const at = this.open.findIndex((o) => o.id === message.callBack)
      if (at <= 0) return
      this.open.splice(at, 1)
      this.onmessage?.({ data: { id: message.callBack, kind: 'dropped' } } as MessageEvent<Report>)
      return
    }
    const asked = [message.question, ...Object.values(Object(message.question) as object)]
    if (asked.some((q) => typeof q === 'function'))
      throw new DOMException('a function cannot be cloned', 'DataCloneError')
    this.orders.push(message)
    this.open.push(message)
  }
  terminate() {
    this.ended = true
  }
  report(report: Partial<Report>) {
    this.onmessage?.({ data: { id: this.open[0]!.id, ...report } } as MessageEvent<Report>)
  }
  answer(n: number) {
    const data = { id: this.open.shift()!.id, kind: 'done', answer: { n } }
    this.onmessage?.({ data } as MessageEvent<Report>)
  }
}

beforeEach(() => {
  WorkerStandIn.all = []
  vi.useFakeTimers()
})
afterEach(() => vi.useRealTimers())

const lane = () => new Lane(() => new WorkerStandIn(), Date.now)
const workers = () => WorkerStandIn.all
const last = () => workers().at(-1)!

describe('a lane', () => {
  test('answers one question after the other, in one worker', async () => {
    const own = lane()
    expect(workers()).toHaveLength(0)
    const [a, b] = [own.ask(SQUARE, 2), own.ask(CUBE, 2)]
    // Both are there at once: the worker does not wait for a busy page.
    expect(last().orders).toHaveLength(2)
    last().answer(4)
    expect(await a).toEqual({ kind: 'done', answer: { n: 4 } })
    last().answer(8)
    expect(await b).toEqual({ kind: 'done', answer: { n: 8 } })
    expect(workers()).toHaveLength(1)
  })

  test('of one topic only the newest question counts; others wait their turn', async () => {
    const own = lane()
    const asked = [1, 2, 3].map((n) => own.ask(SQUARE, n))
    const other = own.ask(CUBE, 9)
    expect(await asked[0]).toEqual({ kind: 'superseded' })
    expect(await asked[1]).toEqual({ kind: 'superseded' })
    expect(last().open.map((o) => o.question)).toEqual([1, 3, 9])
    last().answer(1)
    last().answer(9)
    expect(await asked[2]).toEqual({ kind: 'done', answer: { n: 9 } })
    last().answer(729)
    expect(await other).toMatchObject({ kind: 'done' })
  })

  test('breaks off what nobody wants any more once it has had its time, and not before', async () => {
    const own = lane()
    const first = own.ask(SQUARE, 1)
    await vi.advanceTimersByTimeAsync(100)
    const second = own.ask(SQUARE, 2)
    expect(await first).toEqual({ kind: 'superseded' })
    await vi.advanceTimersByTimeAsync(PATIENCE - 101)
    expect(workers()).toHaveLength(1)
    await vi.advanceTimersByTimeAsync(2)
    expect([workers().length, workers()[0]!.ended]).toEqual([2, true])
    last().answer(4)
    expect(await second).toEqual({ kind: 'done', answer: { n: 4 } })
  })

  test('lets a long computation be as long as nothing waits for it', async () => {
    const own = lane()
    const long = own.ask(SQUARE, 1)
    await vi.advanceTimersByTimeAsync(60_000)
    own.supersede('square')
    await vi.advanceTimersByTimeAsync(60_000)
    expect(await long).toEqual({ kind: 'superseded' })
    expect(workers()).toHaveLength(1)
    const next = own.ask(CUBE, 2)
    expect(workers()).toHaveLength(2)
    last().answer(8)
    expect(await next).toMatchObject({ kind: 'done' })
  })

  test('is stopped at once, all of it, and takes the next question', async () => {
    const own = lane()
    const [a, b] = [own.ask(SQUARE, 1), own.ask(CUBE, 1)]
    own.stop()
    expect([await a, await b]).toEqual([{ kind: 'stopped' }, { kind: 'stopped' }])
    expect(workers()[0]!.ended).toBe(true)
    const c = own.ask(SQUARE, 3)
    last().answer(9)
    expect(await c).toMatchObject({ kind: 'done' })
  })

  test('hands on pieces of an answer, none of a superseded one', async () => {
    const own = lane()
    const pieces: unknown[] = []
    const first = own.ask(SQUARE, 1, (part) => pieces.push(part))
    last().report({ kind: 'part', answer: { n: 0.5 } } as Report)
    void own.ask(SQUARE, 2)
    last().report({ kind: 'part', answer: { n: 0.7 } } as Report)
    expect(pieces).toEqual([{ n: 0.5 }])
    expect(await first).toEqual({ kind: 'superseded' })
  })

  test('notices a worker that dies: its question fails, the next has another worker', async () => {
    const own = lane()
    const [a, b] = [own.ask(SQUARE, 1), own.ask(CUBE, 2)]
    last().onerror!({ message: 'out of memory' } as ErrorEvent)
    expect(await a).toMatchObject({
      kind: 'failed',
      failure: { code: 'COMPUTATION_ENDED', message: expect.stringContaining('out of memory') },
    })
    expect(workers()).toHaveLength(2)
    last().answer(8)
    expect(await b).toMatchObject({ kind: 'done' })
    const c = own.ask(SQUARE, 3)
    last().onmessageerror!({} as MessageEvent)
    expect(await c).toMatchObject({ kind: 'failed' })
  })

  test('does not start workers for ever where none can be started', async () => {
    const own = lane()
    const asked = ['a', 'b', 'c', 'd', 'e'].map((id) =>
      own.ask(
        topic<number, never>(id, (n) => [n]),
        1,
      ),
    )
    for (let k = 0; k < 10; k++) last().onerror?.({ message: '' } as ErrorEvent)
    for (const one of asked) expect(await one).toMatchObject({ kind: 'failed' })
    expect(workers().length).toBeLessThanOrEqual(5)
  })

  test('a question that cannot be sent fails by itself', async () => {
    const own = lane()
    const odd = own.ask(
      topic<unknown, never>('odd', () => []),
      () => 1,
    )
    const next = own.ask(SQUARE, 2)
    expect(await odd).toMatchObject({ kind: 'failed', failure: { code: 'COMPUTATION_ENDED' } })
    last().answer(4)
    expect(await next).toMatchObject({ kind: 'done' })
  })

  test('a late answer of a worker that was given up is nobody’s', async () => {
    const own = lane()
    void own.ask(SQUARE, 1)
    const before = last()
    own.stop()
    const next = own.ask(SQUARE, 2)
    before.answer(1)
    last().answer(4)
    expect(await next).toEqual({ kind: 'done', answer: { n: 4 } })
  })
})

test('an order always ends: with an answer, or with a failure of any kind', () => {
  const boom = topic<null, never>('boom', () => [])
  const reports: Report[] = []
  const broken = job(boom, () => {
    throw new RangeError('stack')
  })
  doOrder({ id: 7, topic: 'boom', question: null }, [broken], (r) => reports.push(r))
  doOrder({ id: 8, topic: 'none', question: null }, [broken], (r) => reports.push(r))
  expect(reports).toMatchObject([
    { id: 7, kind: 'failed', failure: { code: 'COMPUTATION_ENDED', message: expect.stringContaining('stack') } },
    { id: 8, kind: 'failed' },
  ])
})

test('orders are done in turn; one that is called back before it is begun is dropped, a later one is done', () => {
  const steps: (() => void)[] = []
  const reports: Report[] = []
  const square = job(SQUARE, (n) => ({ n: n * n }))
  const queue = new OrderQueue(
    [square],
    (r) => reports.push(r),
    (step) => void steps.push(step),
  )
  for (const id of [1, 2, 3]) queue.heard({ id, topic: 'square', question: id })
  queue.heard({ callBack: 2 })
  queue.heard({ callBack: 9 })
  while (steps.length > 0) steps.shift()!()
  expect(reports).toEqual([
    { id: 2, kind: 'dropped' },
    { id: 1, kind: 'done', answer: { n: 1 } },
    { id: 3, kind: 'done', answer: { n: 9 } },
  ])
  queue.heard({ callBack: 3 })
  expect(reports).toHaveLength(3)
})

describe('what a worker has already', () => {
  const circuit = { parts: ['R1'] }
  const order = (id: number, question: unknown): Order => ({ id, topic: 'square', question })

  test('is left out, and put in again on the other side', () => {
    const [sent, received] = [new Sent(), new Received()]
    const orders = [
      order(1, { circuit, n: 1, signals: ['a'] }),
      order(2, { circuit, n: 1, signals: ['a'] }),
      order(3, { circuit: { parts: ['R2'] }, n: 2 }),
      order(4, { n: 3 }),
    ]
    const packed = orders.map((o) => {
      const small = sent.packed(o)
      sent.went(o)
      return structuredClone(small)
    })
    // Numbers and lists are sent each time: they are compared by what they are.
    expect(packed[1]).toEqual({ id: 2, topic: 'square', same: ['circuit'], question: { n: 1, signals: ['a'] } })
    expect(packed.map((p) => received.whole(p))).toEqual(orders)
  })

  test('is sent again to another worker, and after an order that could not be sent', async () => {
    const own = lane()
    const OF = topic<object, { n: number }>('of', () => [])
    void own.ask(OF, { circuit, no: () => 0 })
    void own.ask(OF, { circuit })
    expect(last().orders.at(-1)!.question).toEqual({ circuit })
    void own.ask(OF, { circuit })
    expect(last().orders.at(-1)).toMatchObject({ same: ['circuit'], question: {} })
    own.stop()
    void own.ask(OF, { circuit })
    expect(workers()).toHaveLength(2)
    expect(last().orders.at(-1)!.question).toEqual({ circuit })
  })
})
