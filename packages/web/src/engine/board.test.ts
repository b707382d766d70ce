import { designOfSpec, parseSpec } from '@voskel/core'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { Board, GRACE, NOTHING, SLOW_AFTER, resultOf } from './board'
import type { Outcome, Topic } from './Job'

const design = (edge: number) =>
  designOfSpec(
    'T',
    parseSpec({ response: 'lowpass', approximation: 'bessel', order: 2, passband: { edges: [edge] } }),
    'exact',
  )

/** A lane that is answered by hand. */
class LaneStandIn {
  open: { topic: string; edge: number; end: (outcome: Outcome<never>) => void }[] = []
  stops = 0
  ask<Q, A>(topic: Topic<Q, A>, question: Q): Promise<Outcome<A>> {
    this.supersede(topic.id)
    return new Promise((end) => {
      const { specification } = question as ReturnType<typeof design>
      const edge = (specification as { passband: { edges: number[] } }).passband.edges[0]!
      this.open.push({ topic: topic.id, edge, end: end as never })
    })
  }
  supersede(topic: string) {
    this.end((o) => o.topic === topic, { kind: 'superseded' })
  }
  stop() {
    this.stops++
    this.end(() => true, { kind: 'stopped' })
  }
  /** Ends those that are open, each with what it was asked for. */
  end(which: (o: { topic: string }) => boolean, outcome?: Outcome<never>) {
    const ending = this.open.filter(which)
    this.open = this.open.filter((o) => !which(o))
    for (const o of ending) o.end(outcome ?? { kind: 'done', answer: { edge: o.edge } as never })
  }
  async answer(which: (o: { topic: string }) => boolean = () => true, outcome?: Outcome<never>) {
    this.end(which, outcome)
    await vi.advanceTimersByTimeAsync(0)
  }
}

let lane: LaneStandIn
let board: Board
let changes = 0
beforeEach(() => {
  vi.useFakeTimers()
  lane = new LaneStandIn()
  board = new Board(lane, Date.now)
  changes = 0
  board.changed = () => changes++
})
afterEach(() => vi.useRealTimers())

const edges = () => Object.values(board.shown.answers).map((a) => (a as { edge?: number } | null)?.edge)
const ask = (edge: number, subject = 'd1') => board.ask(design(edge), subject)
const failure = {
  kind: 'failed',
  failure: { code: 'SINGULAR', message: 'm', remedy: 'r' },
} as unknown as Outcome<never>

/** What is asked of every edit. */
const PIECES = Object.keys(NOTHING.answers).length

describe('the board', () => {
  test('changes once for an edit that is answered soon, and is not stale meanwhile', async () => {
    ask(1)
    await lane.answer()
    changes = 0
    ask(2)
    await vi.advanceTimersByTimeAsync(GRACE - 10)
    await lane.answer((o) => o.topic !== 'verdicts')
    expect([changes, board.shown.isStale, board.running, edges()[0]]).toEqual([0, false, true, 1])
    await lane.answer()
    expect([changes, board.shown.isStale, board.running]).toEqual([1, false, false])
    expect(edges()).toEqual(Array.from({ length: PIECES }, () => 2))
  })

  test('shows what there is of what takes longer, marked as stale, then as slow', async () => {
    ask(1)
    await lane.answer()
    ask(2)
    await vi.advanceTimersByTimeAsync(GRACE)
    expect([board.shown.isStale, board.shown.isSlow]).toEqual([true, false])
    await lane.answer((o) => o.topic === 'ideal')
    expect(edges()).toEqual([2, ...Array.from({ length: PIECES - 1 }, () => 1)])
    await vi.advanceTimersByTimeAsync(SLOW_AFTER)
    expect(board.shown.isSlow).toBe(true)
    await lane.answer()
    expect([board.shown.isStale, board.shown.isSlow]).toEqual([false, false])
  })

  test('an edit and its undo in quick succession leave nothing running and nothing stale', async () => {
    const first = design(1)
    board.ask(first, 'd1')
    await lane.answer()
    ask(2)
    board.ask(first, 'd1')
    expect([board.running, board.shown.isStale, edges()[0], lane.open.length]).toEqual([false, false, 1, 0])
    await vi.advanceTimersByTimeAsync(10_000)
    expect([board.running, board.shown.isStale]).toEqual([false, false])
  })

  test('a piece that fails leaves the others; the next question is answered all the same', async () => {
    ask(1)
    await lane.answer((o) => o.topic === 'roots', failure)
    await lane.answer()
    expect(Object.keys(board.shown.failures)).toEqual(['roots'])
    expect([board.shown.answers.roots, edges()[3], board.running]).toEqual([null, 1, false])
    ask(2)
    await lane.answer()
    expect([board.shown.failures, edges()[2]]).toEqual([{}, 2])
  })

  test('a later question that fails altogether does not leave the page running', async () => {
    ask(1)
    ask(2)
    await lane.answer(() => true, failure)
    expect(board.running).toBe(false)
    expect(Object.keys(board.shown.failures)).toHaveLength(PIECES)
  })

  test('stopped, it says so and shows what was there; asked anew it goes on', async () => {
    const first = design(1)
    board.ask(first, 'd1')
    await lane.answer()
    const second = design(2)
    board.ask(second, 'd1')
    board.stop()
    await vi.advanceTimersByTimeAsync(0)
    expect([board.running, board.shown.isStopped, board.shown.isStale, edges()[0]]).toEqual([false, true, true, 1])
    board.ask(second, 'd1')
    await lane.answer()
    expect([board.shown.isStopped, edges()[0]]).toEqual([false, 2])
  })

  test('of another design nothing is known', async () => {
    ask(1)
    await lane.answer()
    ask(1, 'd2')
    expect(board.shown.answers.ideal).toBeNull()
    expect(board.shown.question).toBeNull()
  })

  test('the same question again is none', async () => {
    const one = design(1)
    board.ask(one, 'd1')
    board.ask({ ...one }, 'd1')
    expect(lane.open).toHaveLength(PIECES)
    await lane.answer()
    board.ask({ ...one, name: 'renamed' } as never, 'd1')
    expect(lane.open).toHaveLength(0)
  })

  describe('what was computed another time', () => {
    /** What a board that answered this edge leaves to be kept. */
    async function left(edge: number) {
      const kept: ReturnType<typeof resultOf>[] = []
      board.answered = (_subject, question, answers) => kept.push(resultOf(question, answers))
      ask(edge)
      await lane.answer()
      board = new Board(lane, Date.now)
      return { ...kept.at(-1)!, engine: 'this' }
    }

    test('is shown at once, and is no staleness; the answer takes its place', async () => {
      const last = await left(1)
      ask(1)
      board.recall(last, 'd1')
      expect([board.shown.isRecalled, board.shown.isStale, edges()[0]]).toEqual([true, false, 1])
      await vi.advanceTimersByTimeAsync(GRACE + 1)
      expect([board.shown.isRecalled, board.shown.isStale, edges()[0]]).toEqual([true, false, 1])
      await lane.answer()
      expect([board.shown.isRecalled, board.running, edges()[0]]).toEqual([false, false, 1])
    })

    test('is not shown of another question or design, or once there is an answer', async () => {
      const last = await left(1)
      ask(2)
      board.recall(last, 'd1')
      expect(board.shown.question).toBeNull()
      ask(1, 'd2')
      board.recall(last, 'd1')
      expect(board.shown.question).toBeNull()
      await lane.answer()
      board.recall(last, 'd2')
      expect(board.shown.isRecalled).toBe(false)
    })

    test('is left alone where it holds something else', async () => {
      const last = await left(1)
      ask(1)
      board.recall({ ...last, answers: { ideal: 'rubbish' } }, 'd1')
      expect(board.shown.question).toBeNull()
    })

    test('is stale as soon as something is edited', async () => {
      const last = await left(1)
      ask(1)
      board.recall(last, 'd1')
      ask(3)
      await vi.advanceTimersByTimeAsync(GRACE + 1)
      expect([board.shown.isRecalled, board.shown.isStale, edges()[0]]).toEqual([false, true, 1])
    })

    test('is kept only of what was answered to the end', async () => {
      const kept: string[] = []
      board.answered = (subject) => kept.push(subject)
      ask(1)
      await lane.answer((o) => o.topic === 'ideal')
      board.stop()
      await vi.advanceTimersByTimeAsync(0)
      expect(kept).toEqual([])
      ask(2)
      await lane.answer()
      expect(kept).toEqual(['d1'])
    })
  })
})
