import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { parseSignal, type Signal, signalText } from './signal.js'

const v = (...of: string[]): Signal => ({ op: 'v', of })
const i = (part: string): Signal => ({ op: 'i', of: [part] })

describe('a signal', () => {
  test.each<[string, Signal]>([
    ['v(out)', v('out')],
    [' V ( a , b ) ', v('a', 'b')],
    ['v("a, (b)")', v('a, (b)')],
    ['v("say ""so""")', v('say "so"')],
    ['i(X1.R2)', i('X1.R2')],
    ['z(V1)', { op: 'z', of: ['V1'] }],
    ['p(R1)', { op: 'p', of: ['R1'] }],
    ['v(n-1)', v('n-1')],
    ['2k*i(R1)', { op: '*', args: [{ op: 'number', value: 2000 }, i('R1')] }],
    ['v(a)-v(b)-v(c)', { op: '-', args: [{ op: '-', args: [v('a'), v('b')] }, v('c')] }],
    ['v(a)-v(b)/2', { op: '-', args: [v('a'), { op: '/', args: [v('b'), { op: 'number', value: 2 }] }] }],
    [
      '(v(a)-v(b))/2',
      {
        op: '/',
        args: [
          { op: '-', args: [v('a'), v('b')] },
          { op: 'number', value: 2 },
        ],
      },
    ],
    ['-v(a)', { op: '*', args: [{ op: 'number', value: -1 }, v('a')] }],
    ['+v(a)', v('a')],
  ])('%s is read', (text, signal) => {
    expect(parseSignal(text)).toEqual(signal)
  })

  test.each([
    ['', 'it is empty', 0],
    ['out', '"out" is none of', 0],
    ['v', 'lacks its brackets', 1],
    ['v()', 'a name is missing', 2],
    ['v(a', 'a bracket is not closed', 3],
    ['v(a,b,c)', 'takes one name or two', 8],
    ['i(R1,R2)', 'takes one name', 8],
    ['v(a)+', 'something is missing at its end', 5],
    ['v(a) v(b)', '"v" is not expected there', 5],
    ['2x*v(a)', '"2x" is not a number', 0],
    ['v(a)^2', '"^" is not expected there', 4],
    ['(v(a)', 'a bracket is not closed', 5],
    ['('.repeat(200), 'nested more than', 100],
    ['v(a)+'.repeat(300), 'more than 1000 characters', 0],
  ])('%j is refused: %s, at %i', (text, problem, at) => {
    expect(() => parseSignal(text)).toThrow(
      expect.objectContaining({
        code: 'SIGNAL_INVALID',
        message: expect.stringContaining(problem),
        facts: expect.objectContaining({ at }),
      }),
    )
  })

  const name = fc.string({ minLength: 1, maxLength: 8 }).filter((n) => n.trim() === n && n !== '')
  const leaf = fc.oneof(
    fc.tuple(fc.constantFrom('v' as const, 'z' as const), fc.array(name, { minLength: 1, maxLength: 2 })),
    fc.tuple(fc.constantFrom('i' as const, 'p' as const), fc.array(name, { minLength: 1, maxLength: 1 })),
  )
  const { signal } = fc.letrec<{ signal: Signal }>((tie) => ({
    signal: fc.oneof(
      { maxDepth: 4 },
      leaf.map(([op, of]): Signal => ({ op, of })),
      fc
        .double({ noNaN: true, noDefaultInfinity: true, min: 0 })
        .map((value): Signal => ({ op: 'number', value: value + 0 })),
      fc
        .tuple(fc.constantFrom('+' as const, '-' as const, '*' as const, '/' as const), tie('signal'), tie('signal'))
        .map(([op, a, b]): Signal => ({ op, args: [a, b] })),
    ),
  }))
  test('whatever it is, its text reads back to the same', () => {
    fc.assert(
      fc.property(signal, (one) => {
        expect(parseSignal(signalText(one))).toEqual(one)
      }),
    )
  })
})
