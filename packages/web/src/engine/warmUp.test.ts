import { expect, test } from 'vitest'
import { ladder } from '../testing/standIns'
import { job, topic } from './Job'
import { nudged, warmUp } from './warmUp'

test('what was asked is done again, each time as another question, and what fails stops nothing', () => {
  const seen: number[] = []
  const edge = topic<ReturnType<typeof ladder>, number>('edge', () => [])
  const edgeJob = job(edge, (q) => {
    seen.push((q.specification as { passband: { edges: number[] } }).passband.edges[0]!)
    throw new Error('broken')
  })
  const orders = [
    { id: 1, topic: 'edge', question: ladder('T', 1000) },
    { id: 2, topic: 'none', question: ladder() },
    { id: 3, topic: 'edge', question: {} },
  ]
  const steps = [...warmUp([edgeJob], orders)]
  expect(steps.length).toBe(seen.length)
  expect(new Set(seen).size).toBe(seen.length)
  for (const f of seen) expect(Math.abs(f / 1000 - 1)).toBeLessThan(1e-5)
})

test('only a question with a passband has a neighbour', () => {
  expect(nudged({ circuit: {} }, 2)).toBeNull()
  expect(nudged(ladder('T', 1000), 2)).toMatchObject({ name: 'T', specification: { passband: { edges: [2000] } } })
})
