import { describe, expect, test } from 'vitest'
import { slopeOf } from './differences.js'

describe('slopes', () => {
  test.each([
    ['a constant', () => 7, 0],
    ['nothing at all', () => 0, 0],
    ['a line', (x: number) => 3 - 5 * x, -5],
    ['an exponential', Math.exp, 1],
    ['its lowest point', (x: number) => x * x, 0],
    ['nothing but rounding', (x: number) => 1e-15 * Math.sin(1e9 * x), 0],
    ['a number with noise', (x: number) => 1000 * (1 + x) + 1e-9 * Math.sin(1e9 * x), 1000],
  ])('of %s', (_, f, slope) => {
    const found = slopeOf(f)
    expect(found).toMatchObject({ side: 'both' })
    // Fourth order at 2⁻⁸: h⁴/30·f⁗ is 8e-12; noise of 1e-12 over a step of 4e-3.
    expect(found.value!).toBeCloseTo(slope, 5)
  })

  const jump = (at: number) => (x: number) => (x > at ? 10 + 2 * x : 3 * x)
  test.each([
    [0.005, 3, 'both'],
    [-0.005, 2, 'both'],
    [0.0009, 3, 'both'],
    [1e-5, 3, 'below'],
    [-1e-5, 2, 'above'],
    [0, 3, 'below'],
  ])('beside a jump at %f', (at, slope, side) => {
    const found = slopeOf(jump(at))
    expect(found).toMatchObject({ side })
    expect(found.value).toBeCloseTo(slope, 6)
  })

  test('where there is none', () => {
    expect(slopeOf(() => null)).toEqual({ value: null, reason: 'not there' })
    expect(slopeOf((x) => 1 / x)).toEqual({ value: null, reason: 'not there' })
    expect(slopeOf((x) => Math.abs(x))).toEqual({ value: null, reason: 'turns' })
    expect(slopeOf((x) => (x === 0 ? 1 : 5 + x))).toEqual({ value: null, reason: 'jumps' })
    expect(slopeOf((x) => (x > 0 ? null : 4 * x))).toMatchObject({ side: 'below' })
  })
})
