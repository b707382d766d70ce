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
    ['dB( v(a) )', { op: 'call', called: 'db', args: [v('a')] }],
    ['gain*v(a)', { op: '*', args: [{ op: 'name', name: 'gain' }, v('a')] }],
    ['2mV', { op: 'number', value: 2e-3, unit: 'V' }],
    ['v(a)^2', { op: '^', args: [v('a'), { op: 'number', value: 2 }] }],
    [
      '2^3^2',
      {
        op: '^',
        args: [
          { op: 'number', value: 2 },
          {
            op: '^',
            args: [
              { op: 'number', value: 3 },
              { op: 'number', value: 2 },
            ],
          },
        ],
      },
    ],
    [
      '-v(a)^2',
      {
        op: '*',
        args: [
          { op: 'number', value: -1 },
          { op: '^', args: [v('a'), { op: 'number', value: 2 }] },
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
    ['sqr(v(out))', '"sqr" is none of', 0],
    ['db', 'lacks its brackets', 2],
    ['db(v(a)', 'a bracket is not closed', 7],
    ['v', 'lacks its brackets', 1],
    ['v()', 'a name is missing', 2],
    ['v(a', 'a bracket is not closed', 3],
    ['v(a,b,c)', 'takes one name or two', 8],
    ['i(R1,R2)', 'takes one name', 8],
    ['v(a)+', 'something is missing at its end', 5],
    ['v(a) v(b)', '"v" is not expected there', 5],
    ['2x*v(a)', '"2x" is not a number', 0],
    ['v(a)^', 'something is missing at its end', 5],
    ['2 V*v(a)', '"V" is not expected there', 2],
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
      fc.constantFrom('V', 'A', 'Ω', 's').map((unit): Signal => ({ op: 'number', value: 2.5e-7, unit })),
      fc.constantFrom('gain', 'R_1', 'pi').map((name): Signal => ({ op: 'name', name })),
      fc
        .tuple(fc.constantFrom('db' as const, 'abs' as const, 'mean' as const), tie('signal'))
        .map(([called, of]): Signal => ({ op: 'call', called, args: [of] })),
      fc
        .tuple(
          fc.constantFrom('+' as const, '-' as const, '*' as const, '/' as const, '^' as const),
          tie('signal'),
          tie('signal'),
        )
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
