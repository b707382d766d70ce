import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { plainExpression } from '../format/netlist/expression.js'
import { evaluateExpression } from './expression.js'
import { Parameters } from '../circuit/parameters.js'

const value = (text: string, names: Record<string, number> = {}) =>
  evaluateExpression(text, (name) => {
    if (name in names) return names[name]
    throw new Error(`asked for ${name}`)
  })

describe('expressions', () => {
  test.each([
    ['1+2*3', 7],
    ['-2^2', -4],
    ['2^3^2', 512],
    ['(1+2)*3', 9],
    ['10/4/5', 0.5],
    ['sqrt(16)+abs(-1)', 5],
    ['max(1, 2, 3)-min(4, 5)', -1],
    ['3 > 2 ? 10 : 20', 10],
    ['1e-9*pi', 1e-9 * Math.PI],
    ['ln(e)', 1],
    ['log10(1000)', 3],
    ['SQRT(16) + Abs(-1)', 5],
    ['PI', Math.PI],
    ['5.*2', 10],
    ['2^-1', 0.5],
    ['2*-3', -6],
    ['1 > 2 ? 2 > 1 ? 7 : 8 : 5', 5],
    ['2 > 1 ? 2 > 1 ? 7 : 8 : 5', 7],
    ['1 > 2 ? 3 : 2 > 1 ? 4 : 5', 4],
    ['(1 < 2) < 3', 1],
    ['4k7 + 2.2k', 6900],
  ])('%s = %d', (text, expected) => expect(value(text)).toBeCloseTo(expected, 12))

  test('names are asked for', () => expect(value('r*c', { r: 1e3, c: 1e-9 })).toBeCloseTo(1e-6, 18))

  test.each([
    '1+',
    'f(2)',
    'a.b',
    'a[1]',
    '"text"',
    'x = 3',
    'function f(x) = x',
    '1; 2',
    'constructor()',
    '2 mod 1',
    '[1]',
    '{a: 1}',
    'a x',
    '2 a',
    '(a)(x)',
    '2(3)',
    '0x10',
    'a#x',
    '100%',
    'sqrt(1,2)',
    'sqrt()',
    'pow(2)',
    'sqrt',
    '1 < 2 < 3',
    "a'",
    '1:2',
    '',
    ')',
    '(1',
    'a ? 1',
    '1+'.repeat(501) + '1',
    '('.repeat(200) + '1' + ')'.repeat(200),
    '-'.repeat(200) + '1',
  ])('%s is refused', (text) => expect(() => value(text, { a: 1, x: 1 })).toThrow(/cannot be used/))

  test('whatever is typed ends in a number or a refusal, never in code being run', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), (text) => {
        try {
          expect(Number.isFinite(evaluateExpression(text, () => 1))).toBe(true)
        } catch (error) {
          expect((error as { code?: string }).code).toBe('EXPRESSION_INVALID')
        }
      }),
      { numRuns: 500 },
    )
  })

  test('sums and products are those of doubles', () => {
    const number = fc.double({ min: -1e6, max: 1e6, noNaN: true })
    fc.assert(
      fc.property(number, number, (a, b) => {
        expect(value(`a + b * (a - b)`, { a, b })).toBe(a + b * (a - b))
      }),
    )
  })
})

describe('a netlist’s expression writes its scales out', () => {
  test.each([
    ['2*1k', '2*1000'],
    ['1meg/4m', '1000000/0.004'],
    ['r1+10n', 'r1+1e-8'],
    ['a1k*2', 'a1k*2'],
    ['max(1u,2u)', 'max(0.000001,0.000002)'],
    ['3.3', '3.3'],
  ])('%s', (text, plain) => expect(plainExpression(text)).toBe(plain))
})

describe('parameters', () => {
  test('are worked out when they are asked for, in any order and any case', () => {
    const p = new Parameters({ A: '2*b', B: 'c+1', c: 4 })
    expect(p.value('a')).toBe(10)
    expect(p.evaluate('A+C')).toBe(14)
  })

  test('inner ones rule over outer ones, outer ones are seen', () => {
    const outer = new Parameters({ r: 10, k: 3 })
    const inner = new Parameters({ r: 'k*100' }, outer)
    expect(inner.value('r')).toBe(300)
    expect(outer.value('r')).toBe(10)
  })

  test('a chain may be longer than calls can nest', () => {
    const length = 20_000
    const chain = Object.fromEntries(
      Array.from({ length }, (_, k) => [`p${k}`, k === length - 1 ? 1 : `p${k + 1} + 1`]),
    )
    expect(new Parameters(chain).value('p0')).toBe(length)
    expect(() => new Parameters({ ...chain, [`p${length - 1}`]: 'p7' }).value('p0')).toThrow(/circle/)
  })

  test('a name that stands for something else, or stands twice, is refused', () => {
    expect(() => new Parameters({ Pi: 3 })).toThrow('stands for something else')
    expect(() => new Parameters({ r: 3, R: 4 })).toThrow('given twice')
    expect(() => new Parameters({ 'a b': 3 })).toThrow('cannot be the name')
  })

  test('circles are named', () => {
    expect(() => new Parameters({ a: 'b', b: 'c', c: 'a' }).value('a')).toThrow('a → b → c → a')
    expect(() => new Parameters({ a: 1 }).value('b')).toThrow('no parameter "b"')
  })
})
