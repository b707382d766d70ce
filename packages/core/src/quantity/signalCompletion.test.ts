import { expect, test } from 'vitest'
import { parseSignal } from './signal.js'
import { signalCompletions } from './signalCompletion.js'

const names = { nets: ['in', 'out', 'n1'], parts: ['R1', 'RL', 'C1', 'V1'], sources: ['V1'], parameters: ['gain'] }
const offers = (text: string, caret = text.length) => signalCompletions(text, caret, names)

test('inside V(…) the nets that begin so, inside I(…) the parts, inside Z(…) the sources and nets', () => {
  expect(offers('V(o').map((c) => c.text)).toEqual(['V(out'])
  expect(offers('db(V(in)/v(').map((c) => c.shown)).toEqual(['in', 'out', 'n1'])
  expect(offers('v(in,n').map((c) => c.text)).toEqual(['v(in,n1'])
  expect(offers('I(r').map((c) => c.text)).toEqual(['I(R1)', 'I(RL)'])
  expect(offers('z(').map((c) => c.shown)).toEqual(['V1', 'in', 'out', 'n1'])
})

test('elsewhere quantities, functions and parameters', () => {
  expect(offers('2*d').map((c) => c.shown)).toEqual(['db(…)', 'deg(…)', 'delay(…)', 'derivative(…)'])
  expect(offers('ga').map((c) => c.text)).toEqual(['gain'])
  expect(offers('').length).toBeGreaterThan(15)
  expect(offers('q')).toEqual([])
})

test('what is chosen in the middle keeps what stands behind it', () => {
  const [first] = offers('abs(V(ou))', 8)
  expect(first).toMatchObject({ text: 'abs(V(out))', caret: 9 })
  const [current] = offers('I(C)/2', 3)
  expect(current).toMatchObject({ text: 'I(C1)/2', caret: 4 })
  expect(parseSignal(current!.text)).toMatchObject({ op: '/' })
})
