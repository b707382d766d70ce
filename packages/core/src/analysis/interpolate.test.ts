import { describe, expect, test } from 'vitest'
import { interpolate, uniformTimes } from './interpolate.js'

/** A run as if the steps had met a function exactly. */
const run = (times: readonly number[], f: (t: number) => number, stretches: readonly number[] = [0]) => ({
  time: Float64Array.from(times),
  outputs: [Float64Array.from(times, f)],
  stretches,
  inside: 0,
  end: new Float64Array(0),
  swings: new Float64Array(0),
  steps: times.length,
})
const worst = (r: ReturnType<typeof run>, f: (t: number) => number, points: number) => {
  const times = uniformTimes(r.time.at(-1)!, points)
  return interpolate(r, 0, times).reduce((most, v, k) => Math.max(most, Math.abs(v - f(times[k]))), 0)
}

describe('interpolation between steps', () => {
  test('a polynomial of degree 7 is met to rounding, however uneven the steps', () => {
    const f = (t: number) => 1 + t - 3 * t ** 2 + t ** 5 - 0.5 * t ** 7
    const times = Array.from({ length: 12 }, (_, k) => (k / 11) ** 1.3)
    expect(worst(run(times, f), f, 401)).toBeLessThan(1e-13)
  })

  // Remainder of equally spaced interpolation in the middle of eight points: (ωh)⁸·43.07/8! of the amplitude.
  test.each([12, 16, 24])('a sine of %i steps a period is met to the remainder of order 7', (points) => {
    const f = (t: number) => Math.sin(2 * Math.PI * t)
    const times = Array.from({ length: 4 * points + 1 }, (_, k) => k / points)
    const remainder = ((2 * Math.PI) / points) ** 8 * (43.07 / 40320)
    // At the ends the eight points stand on one side.
    const r = run(times, f)
    const inner = Float64Array.from({ length: 500 }, (_, k) => 1 + k / 250)
    const error = interpolate(r, 0, inner).reduce((most, v, k) => Math.max(most, Math.abs(v - f(inner[k]))), 0)
    expect(error).toBeLessThan(1.5 * remainder)
  })

  test('nothing rings beside a knee', () => {
    const f = (t: number) => Math.max(0, t - 1)
    const times = Array.from({ length: 21 }, (_, k) => k / 10)
    expect(worst(run(times, f), f, 997)).toBeLessThan(1e-12)
  })

  test('nothing reaches across a jump', () => {
    const times = [0, 0.25, 0.5, 0.75, 1, 1, 1.25, 1.5, 1.75, 2]
    const values = times.map((t, k) => (k < 5 ? t : 10 - t))
    const r = { ...run(times, () => 0, [0, 5]), outputs: [Float64Array.from(values)] }
    expect([...interpolate(r, 0, Float64Array.of(0.9, 1, 1.1))]).toEqual([0.9, 9, 8.9])
  })
})
