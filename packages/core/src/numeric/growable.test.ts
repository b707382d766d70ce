import { expect, test } from 'vitest'
import { GrowableArray } from './growable.js'

test('a growable array gives back what was pushed, over many blocks', () => {
  const array = new GrowableArray()
  const n = 3 * 4096 + 17
  for (let k = 0; k < n; k++) array.push(k / 7)
  expect(array.length).toBe(n)
  const all = array.toArray()
  expect(all).toHaveLength(n)
  expect(all.findIndex((v, k) => v !== k / 7)).toBe(-1)
})

test('an empty one gives back nothing', () => {
  expect(new GrowableArray().toArray()).toHaveLength(0)
})
