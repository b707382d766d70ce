import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { VoskelError } from '../errors/VoskelError.js'
import { formatExact, formatQuantity, formatShort } from './formatQuantity.js'
import { parseQuantity } from './parseQuantity.js'
import { nearestPreferred, preferredNeighbours, SERIES_NAMES, seriesValues } from './preferredValues.js'

test.each([
  [0.2, 'V', '200\u00a0mV'],
  [500, 'Hz', '500\u00a0Hz'],
  [100e3, 'Hz', '100\u00a0kHz'],
  [10, 'V', '10\u00a0V'],
  [1.5, 'V', '1.5\u00a0V'],
  [1.05e3, 'V', '1.05\u00a0kV'],
  [-2, 'A', '\u22122\u00a0A'],
  [0, 'V', '0\u00a0V'],
])('%d %s in few letters is %s', (value, unit, text) => {
  expect(formatShort(value, unit)).toBe(text)
})

describe('parseQuantity', () => {
  test.each([
    ['4.7k', 4700],
    ['4k7', 4700], // marking code: IEC 60062:2016
    ['2R2', 2.2],
    ['R47', 0.47],
    ['1u5', 1.5e-6],
    ['1µ5', 1.5e-6],
    ['1μ5', 1.5e-6],
    ['n47', 0.47e-9],
    ['4K7', 4700],
    ['1M', 1e6],
    ['1m', 1e-3],
    ['1Meg', 1e6],
    ['2.2Meg', 2.2e6],
    ['100n', 100e-9],
    ['3.3e-9', 3.3e-9],
    ['1e3k', 1e6],
    ['  10  ', 10],
    ['75R', 75],
    ['.5', 0.5],
    ['-3', -3],
    ['−3', -3],
    ['1p', 1e-12],
    ['5G', 5e9],
  ])('reads %s', (text, value) => expect(parseQuantity(text)).toBe(value))

  test.each([
    ['10 kHz', 'Hz', 10e3],
    ['10k', 'Hz', 10e3],
    ['10 mHz', 'Hz', 10e-3],
    ['4.7 nF', 'F', 4.7e-9],
    ['1f', 'F', 1e-15],
    ['1F', 'F', 1],
    ['75 Ω', 'Ω', 75],
    ['75 ohm', 'Ω', 75],
    ['4.7 kΩ', 'Ω', 4700],
    ['2 ms', 's', 2e-3],
    ['0.5 dB', 'dB', 0.5],
    ['45°', '°', 45],
  ])('reads %s where %s is expected', (text, unit, value) => expect(parseQuantity(text, unit)).toBe(value))

  test('converts an angular frequency where hertz are expected', () => {
    expect(parseQuantity('6.283185307179586 rad/s', 'Hz')).toBeCloseTo(1, 15)
  })

  test.each([
    ['', 'nothing is typed'],
    ['abc', 'a number is expected'],
    ['4,7k', 'the decimal sign is a point'],
    ['10 kV', 'the unit here is Hz, not V'],
    ['10 q', 'neither a prefix nor a unit'],
    ['10 kk', 'not understood after the prefix k'],
    ['1e400', 'too large'],
    ['4k7k', 'not understood after the prefix'],
  ])('refuses %s and says why', (text, why) => {
    expect(() => parseQuantity(text, 'Hz')).toThrow(VoskelError)
    expect(() => parseQuantity(text, 'Hz')).toThrow(why)
  })
})

describe('formatting', () => {
  test.each([
    [4700, 'Ω', '4.700 kΩ'],
    [999.96, 'Hz', '1.000 kHz'],
    [1.59163e-6, 's', '1.592 µs'],
    [-3.0103, 'dB', '−3.010 dB'],
    [0, 'V', '0.000 V'],
    [-252.43, '°', '−252.4°'],
    [Infinity, 'Hz', '∞ Hz'],
  ])('%d %s reads %s', (value, unit, text) => {
    expect(formatQuantity(value, unit).replace('\u00a0', ' ')).toBe(text)
  })

  test('what is written exactly reads back to the same double, whatever the unit', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.constantFrom('', 'Hz', 'F', 'Ω', 's', 'H', 'dB', '%'),
        (value, unit) => {
          expect(parseQuantity(formatExact(value, unit), unit)).toBe(value)
        },
      ),
      { numRuns: 2000 },
    )
  })

  test('everyday values are written as a person would', () => {
    expect(formatExact(4.7e-9, 'F')).toBe('4.7 nF')
    expect(formatExact(20000)).toBe('20k')
    expect(formatExact(0.1, 'dB')).toBe('0.1 dB')
    expect(formatExact(1.5e-6)).toBe('1.5µ')
  })
})

describe('preferred values (IEC 60063:2015)', () => {
  test('each series has as many values a decade as its name says', () => {
    for (const name of SERIES_NAMES) expect(seriesValues(name)).toHaveLength(Number(name.slice(1)))
  })

  test('E12 and the E96 values that rounding makes surprising', () => {
    expect(seriesValues('E12')).toEqual([1, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2])
    expect(seriesValues('E96').slice(-3)).toEqual([9.31, 9.53, 9.76])
    expect(seriesValues('E192')).toContain(9.2)
  })

  test('the nearest value is never farther than a neighbour, and a preferred value is its own', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-13, max: 1e9, noNaN: true }), fc.constantFrom(...SERIES_NAMES), (x, series) => {
        const { below, above } = preferredNeighbours(x, series)
        const nearest = nearestPreferred(x, series)
        expect(below).toBeLessThanOrEqual(x)
        expect(above).toBeGreaterThanOrEqual(x)
        const distance = Math.abs(Math.log(nearest / x))
        expect(distance).toBeLessThanOrEqual(Math.min(Math.log(x / below), Math.log(above / x)) + 1e-12)
        expect(nearestPreferred(nearest, series)).toBe(nearest)
      }),
    )
  })
})
