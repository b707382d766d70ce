import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { flatten } from '../../circuit/flatten.js'
import { evaluateExpression } from '../../quantity/expression.js'
import { parseQuantity } from '../../quantity/parseQuantity.js'
import { netlistNumber } from './number.js'
import { readNetlist } from './readNetlist.js'

/** A number as it may be typed, and the value that is meant: the double nearest to the decimal. */
interface Typed {
  readonly text: string
  readonly value: number
}

const digits = (least: number, most: number) =>
  fc.array(fc.constantFrom(...'0123456789'), { minLength: least, maxLength: most }).map((d) => d.join(''))
const mantissa = fc.oneof(
  digits(1, 6),
  digits(1, 4).map((d) => `${d}.`),
  fc.tuple(digits(1, 4), digits(1, 6)).map(([a, b]) => `${a}.${b}`),
  digits(1, 6).map((d) => `.${d}`),
)
const exponent = fc.oneof(
  fc.constant<[string, number]>(['', 0]),
  fc
    .tuple(fc.constantFrom('e', 'E'), fc.constantFrom('', '+', '-'), fc.integer({ min: 0, max: 12 }), fc.boolean())
    .map(([e, sign, n, padded]): [string, number] => [
      `${e}${sign}${padded ? String(n).padStart(2, '0') : n}`,
      sign === '-' ? -n : n,
    ]),
)
const scaled = (scales: Readonly<Record<string, number>>, units: readonly string[]): fc.Arbitrary<Typed> =>
  fc
    .tuple(mantissa, exponent, fc.constantFrom(...Object.keys(scales)), fc.constantFrom(...units))
    .map(([m, [e, power], scale, unit]) => ({
      text: `${m}${e}${scale}${unit}`,
      value: Number(`${m}e${power + scales[scale]!}`),
    }))

// Common practice, no source: the trade's scales in a netlist, in any case of letters.
const NETLIST_SCALES = { '': 0, t: 12, G: 9, MEG: 6, meg: 6, k: 3, K: 3, m: -3, M: -3, u: -6, n: -9, P: -12, f: -15 }
const netlistTyped = scaled(NETLIST_SCALES, ['', 'ohm', 'Hz', 'V', 'A', 's'])
// SI Brochure, 9th edition 2019, table 7: prefixes mean what they mean in their own case.
const SI = { '': 0, T: 12, G: 9, M: 6, Meg: 6, k: 3, m: -3, u: -6, µ: -6, n: -9, p: -12, f: -15, a: -18 }
const screenTyped = scaled(SI, ['', 'Ω', 'Hz', 'V', 's'])
/** IEC 60062: the letter stands where the point would. */
const marked = fc
  .tuple(digits(1, 3), fc.constantFrom('R', 'k', 'M', 'm', 'u', 'n', 'p'), digits(1, 3))
  .map(([a, letter, b]): Typed => ({
    text: `${a}${letter}${b}`,
    value: Number(`${a}.${b}e${letter === 'R' ? 0 : SI[letter as keyof typeof SI]}`),
  }))

const RUNS = { numRuns: 3000 }
const ofNetlist = (word: string): number => {
  const element = flatten(readNetlist(`t\nV1 a 0 ${word}\n`).circuit).elements[0]!
  return element.values.bias!
}

describe('a number is read whole: the value is the one that is meant', () => {
  test('in a netlist, bare and in braces alike', () => {
    fc.assert(
      fc.property(netlistTyped, ({ text, value }) => {
        expect(netlistNumber(text)).toBe(value)
        expect(ofNetlist(text)).toBe(value)
        expect(ofNetlist(`{${text}}`)).toBe(value)
        expect(ofNetlist(`{ 0 + (${text})}`)).toBe(value)
        expect(ofNetlist(`{-${text}}`)).toBe(-value)
      }),
      RUNS,
    )
  })

  test('on screen, as a value and inside an expression alike', () => {
    const none = () => expect.unreachable('a name is asked for')
    fc.assert(
      fc.property(fc.oneof(screenTyped, marked), ({ text, value }) => {
        expect(parseQuantity(text)).toBe(value)
        expect(evaluateExpression(text, none)).toBe(value)
        expect(evaluateExpression(`-(${text})*1`, none)).toBe(-value)
      }),
      RUNS,
    )
  })

  test.each(['1.0e+03', '1e-3', '1E3', '5.', '.5', '1.5e-9', '1e+0'])('%s', (text) => {
    expect(ofNetlist(`{${text}}`)).toBe(Number(text))
    expect(parseQuantity(text)).toBe(Number(text))
  })

  test('a letter that is both: A is the ampere, F alone femto, before a unit a is atto', () => {
    expect(netlistNumber('1A')).toBe(1)
    expect(netlistNumber('1F')).toBe(1e-15)
    expect(netlistNumber('1aF')).toBe(1e-18)
    expect(netlistNumber('1nF')).toBe(1e-9)
  })
})

describe('or it is refused', () => {
  const WORDS = [
    '1.0e+',
    '1e',
    '1..2',
    '1.2.3',
    '0x10',
    '1k5k',
    '4q7',
    '10foo',
    '1e3e3',
    '1kk',
    '100%',
    '1_000',
    '5e1.2',
  ]
  test.each(WORDS)('%s in a netlist, bare and in braces', (word) => {
    expect(() => ofNetlist(word)).toThrow()
    expect(() => ofNetlist(`{${word}}`)).toThrow()
  })
  test.each(WORDS)('%s on screen, alone and in an expression', (word) => {
    expect(() => parseQuantity(word)).toThrow()
    expect(() => evaluateExpression(word, () => 1)).toThrow()
  })

  test('a number with letters put behind it is one whose letters mean something', () => {
    const meaning =
      /^(?:t|g|meg|k|m|u|n|p|f|a)?(?:ohms?|volts?|v|amp(?:ere)?s?|a|farads?|f|h|henr(?:y|ies|ys)|s|sec(?:onds?)?|hz|hertz|w(?:atts?)?|c|deg(?:c|k|rees?)?|rad|m)?$|^mil$/i
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...'aefghkmnoprstuvzAEFHKMRSV'), { maxLength: 5 }), (letters) => {
        const tail = letters.join('')
        fc.pre(!/^e\d/i.test(tail))
        expect(netlistNumber(`7${tail}`) !== undefined, tail).toBe(meaning.test(tail) && tail.toLowerCase() !== 'e')
      }),
      RUNS,
    )
  })
})
