import fc from 'fast-check'
import { expect, test } from 'vitest'
import { emptyHistory, type History, MOST_EDITS, recorded, redone, undone, ungrouped } from './history'

const edit = (before: number, after: number, group: string | null = null) => ({
  label: `${after}`,
  group,
  before,
  after,
})

test('edits are undone and redone in order; an edit in between ends what could be redone', () => {
  let history: History<number> = recorded(recorded(emptyHistory, edit(0, 1)), edit(1, 2))
  const back = undone(history)!
  expect(back.document).toBe(1)
  expect(redone(back.history)!.document).toBe(2)
  history = recorded(back.history, edit(1, 3))
  expect(redone(history)).toBeNull()
  expect(undone(undone(history)!.history)!.document).toBe(0)
  expect(undone(emptyHistory)).toBeNull()
})

test('edits of one group that follow each other are one, until the group ends', () => {
  const dragged = [1, 2, 3].reduce<History<number>>((h, v) => recorded(h, edit(v - 1, v, 'edge')), emptyHistory)
  expect(undone(dragged)!.document).toBe(0)
  const again = recorded(ungrouped(dragged), edit(3, 4, 'edge'))
  expect(undone(again)!.document).toBe(3)
})

test(`no more than ${MOST_EDITS} edits are kept`, () => {
  const history = Array.from({ length: MOST_EDITS + 5 }, (_, k) => k).reduce<History<number>>(
    (h, k) => recorded(h, edit(k, k + 1)),
    emptyHistory,
  )
  expect(history.past).toHaveLength(MOST_EDITS)
  expect(history.past[0]!.before).toBe(5)
})

test('whatever is done, all undone gives the beginning and all redone the end', () => {
  const step = fc.record({ to: fc.integer(), group: fc.option(fc.constantFrom('a', 'b')), end: fc.boolean() })
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 40 }), (steps) => {
      let [history, now]: [History<number>, number] = [emptyHistory, -1]
      for (const { to, group, end } of steps) {
        if (end) history = ungrouped(history)
        history = recorded(history, edit(now, to, group))
        now = to
      }
      let document = now
      const edits = history.past.length
      for (let next = undone(history); next; next = undone(history)) ({ history, document } = next)
      expect(document).toBe(-1)
      for (let next = redone(history); next; next = redone(history)) ({ history, document } = next)
      expect(document).toBe(now)
      expect(history.past).toHaveLength(edits)
    }),
  )
})
